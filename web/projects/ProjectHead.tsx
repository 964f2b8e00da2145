import { Redo2, Undo2 } from 'lucide-react';
import styled from 'styled-components';
import { printSurface } from '@jossel/core/units';
import { useAppSelector } from '../app/store';
import { Button, PageHead, Quiet, Row } from '../controls/basics';
import { TextLine } from '../controls/fields';
import { HandOver } from './HandOver';
import type { Project } from './project-api';
import type { ProjectEdits } from './use-project-history';

const Title = styled.span`
  display: inline-grid;
  min-width: 260px;
  input {
    font-size: 18px;
    font-weight: 650;
    background: none;
    border-color: transparent;
    padding-left: 0;
    field-sizing: content;
  }
  input:hover,
  input:focus {
    border-color: ${({ theme }) => theme.line};
  }
`;

const sumOf = (project: Project) =>
  project.rooms.flatMap((r) => r.surfaces).reduce((sum, s) => sum + (s.widthMm * s.heightMm) / 1e6, 0);

/** Name and note, undo, and what is done with the project as a whole. */
export function ProjectHead({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const units = useAppSelector((s) => s.settings.units);
  const rename = (change: { name?: string; note?: string }, before: { name?: string; note?: string }) =>
    void edits.make({
      name: 'name and note of the project',
      redo: [{ call: 'changeProject', args: { id: project.id, ...change } }],
      undo: [{ call: 'changeProject', args: { id: project.id, ...before } }],
    });
  return (
    <>
      <PageHead style={{ marginBottom: 6, alignItems: 'center' }}>
        <h1 style={{ display: 'contents' }}>
          <Title>
            <TextLine
              label="Name of the project"
              value={project.name}
              onChange={(name) => name.trim() && rename({ name: name.trim() }, { name: project.name })}
            />
          </Title>
        </h1>
        <Row $gap={2}>
          <Button
            weight="quiet"
            aria-label={edits.undoName ? `Undo ${edits.undoName}` : 'Undo'}
            isDisabled={!edits.undo}
            onPress={() => edits.undo?.()}
          >
            <Undo2 aria-hidden />
          </Button>
          <Button
            weight="quiet"
            aria-label={edits.redoName ? `Redo ${edits.redoName}` : 'Redo'}
            isDisabled={!edits.redo}
            onPress={() => edits.redo?.()}
          >
            <Redo2 aria-hidden />
          </Button>
          <Quiet role="status">{edits.busy ? 'saving …' : ''}</Quiet>
        </Row>
        <Row style={{ marginLeft: 'auto' }} $gap={16}>
          <TakeNewest project={project} edits={edits} />
          {project.rooms.some((r) => r.surfaces.some((s) => s.finish)) && (
            <HandOver
              main
              what={{ projectId: project.id }}
              name="Hand over this project"
              profileLabel="Profile of the handover"
            />
          )}
        </Row>
      </PageHead>
      <Row style={{ marginBottom: 14 }}>
        <span style={{ flex: 1, maxWidth: 620 }}>
          <TextLine
            label="Note on the project"
            placeholder="note"
            value={project.note}
            onChange={(note) => rename({ note }, { note: project.note })}
          />
        </span>
        <Quiet style={{ marginLeft: 'auto' }}>{printSurface(sumOf(project), units)} in all</Quiet>
      </Row>
    </>
  );
}

/** Newer revisions than those that lie, taken over with one press. */
function TakeNewest({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const stale = project.rooms
    .flatMap((r) => r.surfaces)
    .filter((s) => s.finish && s.finish.latest !== null && s.finish.latest !== s.finish.revision);
  if (stale.length === 0) return null;
  const calls = (revisionOf: (finish: NonNullable<(typeof stale)[number]['finish']>) => string) =>
    stale.map((s) => ({
      call: 'changeSurface' as const,
      args: {
        id: s.id,
        finish: { id: s.finish!.id, revision: revisionOf(s.finish!), way: s.finish!.way?.id ?? null },
      },
    }));
  return (
    <Button
      isDisabled={edits.busy}
      onPress={() =>
        void edits.make({
          name: 'taking over newer revisions',
          redo: calls((f) => f.latest!),
          undo: calls((f) => f.revision),
        })
      }
    >
      Take over {stale.length === 1 ? 'one newer revision' : `${stale.length} newer revisions`}
    </Button>
  );
}
