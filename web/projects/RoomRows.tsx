import { useState } from 'react';
import { printSurface } from '@jossel/core/units';
import type { FinishItem } from '../app/api';
import { Fault } from '../app/Fault';
import { useHalfTyped } from '../app/half-typed';
import { useAppSelector } from '../app/store';
import { Button, Quiet } from '../controls/basics';
import { NumberField, TextBox, TextLine } from '../controls/fields';
import { Actions } from '../controls/menu';
import { addedStep, removedStep, SurfaceRow } from './SurfaceRow';
import { projectApi, type Project } from './project-api';
import type { ProjectEdits } from './use-project-history';

type Room = Project['rooms'][number];

/** A room of the finish schedule with its surfaces, and a row for the next one. */
export function RoomRows({
  room,
  issued,
  edits,
  columns,
  elevationPx,
}: {
  room: Room;
  issued: readonly Pick<FinishItem, 'id' | 'name' | 'revisions' | 'headline'>[];
  edits: ProjectEdits;
  columns: number;
  elevationPx: { w: number; h: number };
}) {
  const units = useAppSelector((s) => s.settings.units);
  const [duplicate, duplicating] = projectApi.useDuplicatePartMutation();
  const areaM2 = room.surfaces.reduce((sum, s) => sum + (s.widthMm * s.heightMm) / 1e6, 0);
  return (
    <tbody>
      <tr className="room">
        <th colSpan={columns - 2} scope="rowgroup">
          <TextLine
            label={`Name of the room ${room.name}`}
            value={room.name}
            onChange={(name) =>
              name.trim() &&
              void edits.make({
                name: `name of ${room.name}`,
                redo: [{ call: 'renameRoom', args: { id: room.id, name: name.trim() } }],
                undo: [{ call: 'renameRoom', args: { id: room.id, name: room.name } }],
              })
            }
          />
        </th>
        <th className="figure">
          <Quiet>{room.surfaces.length > 0 && printSurface(areaM2, units)}</Quiet>
        </th>
        <th>
          <Actions
            label={`Actions for the room ${room.name}`}
            actions={[
              {
                name: 'Duplicate with its surfaces',
                disabled: duplicating.isLoading,
                run: () =>
                  void duplicate({ what: 'rooms', id: room.id })
                    .unwrap()
                    .then(
                      (copy) => edits.made(addedStep('rooms', copy.id, `copy of ${room.name}`)),
                      () => undefined,
                    ),
              },
              { name: 'Remove', run: () => void edits.make(removedStep('rooms', room.id, room.name)) },
            ]}
          />
        </th>
      </tr>
      {room.surfaces.map((s) => (
        <SurfaceRow key={s.id} surface={s} issued={issued} edits={edits} elevationPx={elevationPx} />
      ))}
      <NewSurface roomId={room.id} roomName={room.name} edits={edits} columns={columns} />
    </tbody>
  );
}

function NewSurface({
  roomId,
  roomName,
  edits,
  columns,
}: {
  roomId: string;
  roomName: string;
  edits: ProjectEdits;
  columns: number;
}) {
  const [create, { error, isLoading }] = projectApi.useCreateSurfaceMutation();
  const [name, setName] = useHalfTyped(`new surface ${roomId}`);
  const [widthMm, setWidth] = useState(4000);
  const [heightMm, setHeight] = useState(2500);
  function add() {
    if (isLoading) return;
    void create({ roomId, name, widthMm, heightMm })
      .unwrap()
      .then(
        ({ id }) => {
          edits.made(addedStep('surfaces', id, name));
          setName('');
        },
        () => undefined,
      );
  }
  const side = (label: string, value: number, onChange: (mm: number) => void) => (
    <NumberField
      hideLabel
      hideUnit
      label={`${label} of the new surface in ${roomName}`}
      unit="mm"
      value={value}
      min={1}
      max={1e6}
      digits={0}
      onChange={onChange}
    />
  );
  return (
    <tr aria-label={`New surface in ${roomName}`}>
      <td />
      <td>
        <TextBox
          aria-label={`New surface in ${roomName}`}
          placeholder="new surface"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && add()}
        />
      </td>
      <td>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
          {side('Width', widthMm, setWidth)}
          {side('Height', heightMm, setHeight)}
        </div>
      </td>
      <td colSpan={columns - 3}>
        <Button onPress={add} isDisabled={isLoading}>
          {isLoading ? 'Adding …' : 'Add surface'}
        </Button>
        <Fault error={error} />
      </td>
    </tr>
  );
}
