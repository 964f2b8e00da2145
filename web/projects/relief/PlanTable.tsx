import { Link } from 'react-router';
import styled from 'styled-components';
import type {
  PlannedSurface,
  PlannedZone,
  ProjectCamera,
  ProjectPlan,
  SurfaceCamera,
} from '@jossel/core/schedule';
import { printLength, printNumber } from '@jossel/core/units';
import { sentenceOf } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { Button, Quiet, VisuallyHidden } from '../../controls/basics';
import { CameraField } from '../../controls/camera-fields';
import { NumberField } from '../../controls/fields';
import { FiguresTable } from '../FiguresTable';
import type { Project, Surface } from '../project-api';
import type { ProjectEdits } from '../use-project-history';
import { reliefKey, type KnownRelief } from './use-relief-details';

const Table = styled(FiguresTable)`
  min-width: 1090px;
  td {
    padding: 4px 12px 4px 0;
    vertical-align: top;
    line-height: 26px;
  }
  tr.first td {
    border-top: 1px solid ${({ theme }) => theme.line};
  }
  tr.room th {
    padding-top: 14px;
    color: ${({ theme }) => theme.ink};
    font-weight: 650;
    font-size: 13px;
    border-bottom: 0;
  }
  .follows input:not(:focus):not([data-typing='yes']) {
    color: ${({ theme }) => theme.quiet};
  }
  p {
    line-height: 1.4;
    margin-bottom: 4px;
  }
`;
const Share = styled.div<{ $share: number }>`
  height: 3px;
  width: ${({ $share }) => Math.max(1, 100 * $share)}%;
  margin-left: auto;
  background: ${({ theme }) => theme.ink};
`;

const COLUMNS = 10;

/** Every surface with where it is for the camera, and what each of its zones needs. */
export function PlanTable({
  project,
  camera,
  plan,
  known,
  edits,
}: {
  project: Project;
  camera: ProjectCamera;
  plan: ProjectPlan | null;
  known: ReadonlyMap<string, KnownRelief>;
  edits: ProjectEdits;
}) {
  const unit = useAppSelector((s) => s.settings.units) === 'imperial' ? 'ft in' : 'mm';
  return (
    <div style={{ overflowX: 'auto' }}>
      <Table aria-label="Relief of every surface">
        <thead>
          <tr>
            <th>Surface</th>
            <th style={{ width: 90 }} className="figure">
              Nearest, {unit}
            </th>
            <th style={{ width: 90 }} className="figure">
              Farthest, {unit}
            </th>
            <th style={{ width: 72 }} className="figure">
              View angle
            </th>
            <th style={{ width: 76 }}>
              <VisuallyHidden>Follow the project</VisuallyHidden>
            </th>
            <th style={{ width: 172 }}>Zone</th>
            <th style={{ width: 104 }}>Needs</th>
            <th style={{ width: 118 }} className="figure">
              Edges of the mesh
            </th>
            <th style={{ width: 76 }} className="figure">
              Normals below
            </th>
            <th style={{ width: 150 }} className="figure">
              Triangles, memory
            </th>
          </tr>
        </thead>
        {project.rooms
          .filter((room) => room.surfaces.length > 0)
          .map((room) => (
            <tbody key={room.id}>
              <tr className="room">
                <th colSpan={COLUMNS} scope="rowgroup">
                  {room.name}
                </th>
              </tr>
              {room.surfaces.map((surface) => (
                <SurfacePlan
                  key={surface.id}
                  surface={surface}
                  camera={camera}
                  planned={plan?.surfaces.find((p) => p.id === surface.id) ?? null}
                  known={surface.finish ? known.get(reliefKey(surface.finish)) : undefined}
                  memoryMb={plan?.memoryMb ?? 0}
                  edits={edits}
                />
              ))}
            </tbody>
          ))}
      </Table>
    </div>
  );
}

function SurfacePlan({
  surface,
  camera,
  planned,
  known,
  memoryMb,
  edits,
}: {
  surface: Surface;
  camera: ProjectCamera;
  planned: PlannedSurface | null;
  known: KnownRelief | undefined;
  /** Of all surfaces. */
  memoryMb: number;
  edits: ProjectEdits;
}) {
  const zones: (PlannedZone | null)[] = planned?.zones ?? [null];
  return zones.map((zone, k) => (
    <tr key={k} className={k === 0 ? 'first' : ''} aria-label={k === 0 ? surface.name : undefined}>
      {k === 0 && <Place surface={surface} camera={camera} rows={zones.length} edits={edits} />}
      {zone ? (
        <ZoneCells zone={zone} whole={zones.length === 1} memoryMb={memoryMb} />
      ) : (
        <td colSpan={5}>
          <Quiet>{whyNot(surface, known)}</Quiet>
        </td>
      )}
    </tr>
  ));
}

function whyNot({ finish }: Surface, known: KnownRelief | undefined): string {
  if (!finish) return 'No finish lies on it.';
  if (!known) return 'Its relief is being read …';
  return 'error' in known ? sentenceOf(known.error) : '';
}

/** Name, finish and where a surface is for the camera. */
function Place({
  surface,
  camera,
  rows,
  edits,
}: {
  surface: Surface;
  camera: ProjectCamera;
  rows: number;
  edits: ProjectEdits;
}) {
  const { id, name, finish } = surface;
  const place = surface.camera ?? camera.surface;
  const put = (next: SurfaceCamera | null) =>
    void edits.make({
      name: `camera of ${name}`,
      redo: [{ call: 'changeSurface', args: { id, camera: next } }],
      undo: [{ call: 'changeSurface', args: { id, camera: surface.camera } }],
    });
  const follows = surface.camera ? undefined : 'follows';
  return (
    <>
      <td rowSpan={rows}>
        {name}
        {finish && (
          <p>
            <Link to={`/bench/${finish.id}?section=relief`}>{finish.name}</Link> {finish.revision}
          </p>
        )}
      </td>
      <td rowSpan={rows} className={follows}>
        <CameraField
          figure="distanceMm"
          hideLabel
          hideUnit
          label={`Nearest place of ${name}`}
          value={place.nearestMm}
          digits={0}
          onChange={(nearestMm) =>
            put({
              ...place,
              nearestMm,
              farthestMm: place.farthestMm === null ? null : Math.max(nearestMm, place.farthestMm),
            })
          }
        />
      </td>
      <td rowSpan={rows} className={follows}>
        <NumberField
          hideLabel
          hideUnit
          label={`Farthest place of ${name}`}
          unit="mm"
          min={place.nearestMm}
          max={1e7}
          digits={0}
          value={place.farthestMm}
          onChange={(farthestMm) => put({ ...place, farthestMm })}
          onClear={() => put({ ...place, farthestMm: null })}
        />
      </td>
      <td rowSpan={rows} className={follows}>
        <CameraField
          figure="cameraDeg"
          hideLabel
          label={`View angle of ${name}`}
          value={place.cameraDeg}
          digits={0}
          onChange={(cameraDeg) => put({ ...place, cameraDeg })}
        />
      </td>
      <td rowSpan={rows}>
        {surface.camera && (
          <Button weight="quiet" aria-label={`Place ${name} as the project`} onPress={() => put(null)}>
            as project
          </Button>
        )}
      </td>
    </>
  );
}

const NEEDS = { colour: 'colour alone', normals: 'normals', displacement: 'displaced mesh' } as const;
const mm = (value: number) => `${printNumber(value, value < 10 ? 2 : 0)}\u2009mm`;

const count = (n: number) =>
  n >= 1e6 ? `${printNumber(n / 1e6, 1)} million` : n >= 1e4 ? `${printNumber(n / 1000, 0)} 000` : `${n}`;

function ZoneCells({ zone, whole, memoryMb }: { zone: PlannedZone; whole: boolean; memoryMb: number }) {
  const units = useAppSelector((s) => s.settings.units);
  const displaced = zone.need === 'displacement';
  return (
    <>
      <td>
        {whole
          ? 'all of it'
          : `${printLength(zone.fromMm, units)} to ${printLength(zone.toMm, units)}, ${printNumber(100 * zone.share, 0)}\u2009%`}
      </td>
      <td title={zone.why}>{NEEDS[zone.need]}</td>
      <td className="figure">
        {displaced ? `${mm(zone.spacingMm)}, ${printNumber(zone.spacingPx, 1)}\u2009px` : ''}
      </td>
      <td className="figure">{zone.splitMm === null ? '' : mm(zone.splitMm)}</td>
      <td className="figure">
        {displaced && (
          <>
            {count(zone.triangles)}, {printNumber(zone.memoryMb, zone.memoryMb < 10 ? 1 : 0)}
            {'\u2009'}MiB
            <Share $share={zone.memoryMb / memoryMb} />
          </>
        )}
      </td>
    </>
  );
}
