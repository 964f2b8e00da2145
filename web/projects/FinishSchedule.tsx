import { useLayoutEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { api } from '../app/api';
import { Fault } from '../app/Fault';
import { useHalfTyped } from '../app/half-typed';
import { useAppSelector } from '../app/store';
import { Button, Row, VisuallyHidden } from '../controls/basics';
import { TextBox } from '../controls/fields';
import { ELEVATION_SCALE } from './Elevation';
import { FiguresTable } from './FiguresTable';
import { projectApi, type Project } from './project-api';
import { RoomRows } from './RoomRows';
import { addedStep } from './SurfaceRow';
import type { ProjectEdits } from './use-project-history';

const Schedule = styled(FiguresTable)`
  min-width: 1040px;
  td {
    padding: 6px 12px 6px 0;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    vertical-align: middle;
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

const COLUMNS = 11;

/** Rooms, surfaces and what lies on them. */
export function FinishSchedule({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const [element, width] = useWidth();
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const imperial = useAppSelector((s) => s.settings.units) === 'imperial';
  const issued = (finishes?.items ?? []).filter((f) => f.revisions.length > 0 && f.state !== 'withdrawn');
  const w = Math.round(Math.min(280, 96 + Math.max(0, width - PLAIN_WIDTH_PX) * 0.4));
  const elevationPx = { w, h: Math.round(w * 0.55) };
  return (
    <div ref={element} style={{ overflowX: 'auto' }}>
      <Schedule>
        <caption>
          <VisuallyHidden>Finish schedule</VisuallyHidden>
        </caption>
        <thead>
          <tr>
            <th style={{ width: elevationPx.w + 14 }}>Drawn at 1:{ELEVATION_SCALE}</th>
            <th style={{ width: 'clamp(112px, 11vw, 200px)' }}>Surface</th>
            <th style={{ width: imperial ? 190 : 136 }}>Width × height, {imperial ? 'ft in' : 'mm'}</th>
            <th>Finish</th>
            <th style={{ width: 'clamp(84px, 9vw, 150px)' }}>Colourway</th>
            <th style={{ width: 76 }}>Revision</th>
            <th style={{ width: 76 }}>Direction</th>
            <th style={{ width: 120 }} className="figure">
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
      <NewRoom project={project} edits={edits} />
    </div>
  );
}

function NewRoom({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const [create, { error, isLoading }] = projectApi.useCreateRoomMutation();
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
