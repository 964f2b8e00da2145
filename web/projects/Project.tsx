import { Redo2, Undo2 } from 'lucide-react';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import styled from 'styled-components';
import { printSurface } from '@jossel/core/units';
import { api, type Project } from '../app/api';
import { Fault } from '../app/Fault';
import { useHalfTyped } from '../app/half-typed';
import { useAppSelector } from '../app/store';
import { Button, Page, PageHead, Quiet, Row, VisuallyHidden } from '../controls/basics';
import { Choice } from '../controls/choice';
import { TextBox, TextLine } from '../controls/fields';
import { ELEVATION_SCALE } from './Elevation';
import { RoomRows } from './RoomRows';
import { addedStep } from './SurfaceRow';
import { useProjectHistory, type ProjectEdits } from './use-project-history';

const Schedule = styled.table`
  width: 100%;
  min-width: 1040px;
  font-size: 12px;
  table-layout: fixed;
  th {
    text-align: left;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    padding: 4px 12px 4px 0;
    border-bottom: 1px solid ${({ theme }) => theme.ink};
    vertical-align: bottom;
  }
  td {
    padding: 6px 12px 6px 0;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    vertical-align: middle;
  }
  .figure {
    text-align: right;
  }
  tr.room th {
    padding-top: 16px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    vertical-align: middle;
    input {
      max-width: 340px;
      font-weight: 650;
      font-size: 13px;
      color: ${({ theme }) => theme.ink};
      background: none;
      border-color: transparent;
      padding-left: 0;
    }
    input:hover,
    input:focus {
      border-color: ${({ theme }) => theme.line};
    }
  }
  td:nth-child(2) input {
    margin-left: -8px;
    width: calc(100% + 8px);
  }
  td input {
    background: none;
    border-color: transparent;
  }
  td input:hover,
  td input:focus,
  tr:last-child td input {
    background: ${({ theme }) => theme.field};
    border-color: ${({ theme }) => theme.line};
  }
`;
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

/** Width of the page, px. */
function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const element = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(element.current!);
    return () => observer.disconnect();
  }, []);
  return [element, width];
}

/** From this width on, what is left over goes to the drawings. */
const PLAIN_WIDTH_PX = 1180;

/** One project: its finish schedule. */
export function ProjectPage() {
  const { id } = useParams() as { id: string };
  const {
    data: project,
    error,
    refetch,
    isFetching,
  } = api.useProjectQuery(id, {
    refetchOnMountOrArgChange: true,
  });
  const edits = useProjectHistory(id);
  const [element, width] = useWidth();
  useEffect(() => {
    if (project) document.title = `${project.name} · Jossel`;
  }, [project]);
  const here = project?.id === id ? project : null;
  const w = Math.round(Math.min(280, 96 + Math.max(0, width - PLAIN_WIDTH_PX) * 0.4));
  return (
    <Page>
      <div ref={element}>
        {here ? <Head project={here} edits={edits} /> : !error && <Quiet role="status">Opening …</Quiet>}
        <Fault
          error={here ? edits.error : error}
          retry={here ? undefined : () => void refetch()}
          busy={isFetching}
        />
        {here && <FinishSchedule project={here} edits={edits} elevationPx={{ w, h: Math.round(w * 0.55) }} />}
        {here && <NewRoom project={here} edits={edits} />}
      </div>
    </Page>
  );
}

const sumOf = (project: Project) =>
  project.rooms.flatMap((r) => r.surfaces).reduce((sum, s) => sum + (s.widthMm * s.heightMm) / 1e6, 0);

/** Name and note, undo, and what is done with the project as a whole. */
function Head({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const units = useAppSelector((s) => s.settings.units);
  const rename = (change: { name?: string; note?: string }, before: { name?: string; note?: string }) =>
    void edits.make({
      name: 'name and note of the project',
      redo: [{ call: 'renameProject', args: { id: project.id, ...change } }],
      undo: [{ call: 'renameProject', args: { id: project.id, ...before } }],
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
          <HandOver project={project} />
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
        <Quiet style={{ marginLeft: 'auto' }}>
          {printSurface(sumOf(project), units)} in all; surfaces drawn at 1:{ELEVATION_SCALE}
        </Quiet>
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

function HandOver({ project }: { project: Project }) {
  const { data } = api.useHandoversQuery();
  const [order, { error, isLoading }] = api.useOrderHandoverMutation();
  const [profile, setProfile] = useState('general-2048');
  const navigate = useNavigate();
  const anything = project.rooms.some((r) => r.surfaces.some((s) => s.finish));
  if (!anything) return null;
  return (
    <Row $gap={6}>
      <Choice
        hideLabel
        inline
        label="Profile of the handover"
        value={profile}
        options={(data?.profiles ?? []).map((p) => ({ value: p.id, name: p.name }))}
        onChange={setProfile}
      />
      <Button
        weight="main"
        isDisabled={isLoading}
        onPress={() =>
          void order({ projectId: project.id, profile })
            .unwrap()
            .then(
              () => navigate('/handovers'),
              () => undefined,
            )
        }
      >
        Hand over this project
      </Button>
      <Fault error={error} />
    </Row>
  );
}

const COLUMNS = 11;

function FinishSchedule({
  project,
  edits,
  elevationPx,
}: {
  project: Project;
  edits: ProjectEdits;
  elevationPx: { w: number; h: number };
}) {
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const imperial = useAppSelector((s) => s.settings.units) === 'imperial';
  const issued = (finishes?.items ?? []).filter((f) => f.revisions.length > 0 && f.state !== 'withdrawn');
  return (
    <div style={{ overflowX: 'auto' }}>
      <Schedule>
        <caption style={{ textAlign: 'left', fontWeight: 650, fontSize: 13, paddingBottom: 4 }}>
          Finish schedule
        </caption>
        <thead>
          <tr>
            <th style={{ width: elevationPx.w + 14 }}>
              <VisuallyHidden>Drawing</VisuallyHidden>
            </th>
            <th style={{ width: 140 }}>Surface</th>
            <th style={{ width: imperial ? 190 : 150 }}>Width × height, {imperial ? 'ft in' : 'mm'}</th>
            <th>Finish</th>
            <th style={{ width: 118 }}>Colourway</th>
            <th style={{ width: 76 }}>Revision</th>
            <th style={{ width: 76 }}>Direction</th>
            <th style={{ width: 122 }} className="figure">
              Repeats along × up
            </th>
            <th style={{ width: 78 }} className="figure">
              LRV
            </th>
            <th style={{ width: 78 }} className="figure">
              Area
            </th>
            <th style={{ width: 38 }}>
              <VisuallyHidden>Actions</VisuallyHidden>
            </th>
          </tr>
        </thead>
        {project.rooms.map((r) => (
          <RoomRows
            key={r.id}
            room={r}
            issued={issued}
            edits={edits}
            columns={COLUMNS}
            elevationPx={elevationPx}
          />
        ))}
      </Schedule>
      {finishes && issued.length === 0 && (
        <p style={{ marginTop: 8 }}>
          No finish is issued yet; a surface takes a finish at a revision. <Link to="/rack">To the rack</Link>
        </p>
      )}
    </div>
  );
}

function NewRoom({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const [create, { error, isLoading }] = api.useCreateRoomMutation();
  const [room, setRoom] = useHalfTyped(`new room ${project.id}`);
  return (
    <form
      style={{ marginTop: 18 }}
      onSubmit={(e) => {
        e.preventDefault();
        // A slow server must not make one press into several rooms.
        if (isLoading) return;
        void create({ projectId: project.id, name: room })
          .unwrap()
          .then(
            ({ id }) => {
              edits.made(addedStep('rooms', id, room));
              setRoom('');
            },
            () => undefined,
          );
      }}
    >
      <Row>
        <TextBox
          aria-label="Name of the new room"
          placeholder="name of the new room"
          value={room}
          onChange={(e) => setRoom(e.target.value)}
          style={{ width: 220 }}
        />
        <Button type="submit" isDisabled={isLoading}>
          {isLoading ? 'Adding …' : 'Add room'}
        </Button>
      </Row>
      <Fault error={error} />
    </form>
  );
}
