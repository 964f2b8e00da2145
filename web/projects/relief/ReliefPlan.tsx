import { lazy, Suspense, useMemo } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import {
  planProject,
  projectCameraSchema,
  type ProjectCamera,
  type ProjectPlan,
  type SurfaceToPlan,
} from '@jossel/core/schedule';
import { printNumber } from '@jossel/core/units';
import { Fault } from '../../app/Fault';
import { Progress, Quiet } from '../../controls/basics';
import { CAMERA_FIGURES, CameraField, type CameraFigure } from '../../controls/camera-fields';
import type { Project } from '../project-api';
import type { ProjectEdits } from '../use-project-history';
import { HandOver } from '../HandOver';
import { itemsOf } from './mesh-items';
import { PlanTable } from './PlanTable';
import { reliefKey, useReliefDetails, type KnownRelief } from './use-relief-details';

const MeshChart = lazy(async () => ({ default: (await import('../../bench/ledger/charts')).MeshChart }));

const Camera = styled.section`
  display: grid;
  grid-template-columns: repeat(6, minmax(96px, 132px));
  gap: 8px 14px;
  margin: 6px 0 14px;
`;
const Outcome = styled.section`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(260px, 380px);
  gap: 24px;
  align-items: start;
  margin-bottom: 10px;
  strong {
    display: block;
    font-size: 18px;
    margin-bottom: 4px;
  }
`;

/** What the reliefs of all surfaces of a project need for one camera, near and far, within one budget. */
export function ReliefPlan({ project, edits }: { project: Project; edits: ProjectEdits }) {
  const camera = useMemo(() => projectCameraSchema.parse(project.camera ?? {}), [project.camera]);
  const { known, count, retry } = useReliefDetails(project);
  const plan = useMemo(() => planOf(project, camera, known), [project, camera, known]);
  const failed = [...known.values()].find((k) => 'error' in k) as { error: unknown } | undefined;
  if (count === 0)
    return (
      <p>
        No surface has a finish yet.{' '}
        <Link to={`/projects/${project.id}`}>Lay finishes in the finish schedule first.</Link>
      </p>
    );
  return (
    <>
      <CameraOfProject project={project} camera={camera} edits={edits} />
      {known.size < count && (
        <Progress label={`Reading the relief of ${count} finishes`} value={known.size / count} />
      )}
      <Fault error={failed?.error} retry={retry} />
      {plan && (
        <Outcome aria-label="Plan of all surfaces">
          <div>
            <strong>{totals(plan, camera)}</strong>
            <p style={{ maxWidth: '72ch', marginBottom: 10 }}>{plan.why}</p>
            {known.size === count && (
              <HandOver
                what={{ items: itemsOf(project, plan) }}
                name="Hand over for these meshes"
                profileLabel="Profile of the package for these meshes"
              />
            )}
          </div>
          <Suspense fallback={<Quiet>Drawing the chart …</Quiet>}>
            <MeshChart choices={plan.choices} planned={plan} errorPx={camera.errorPx} />
          </Suspense>
        </Outcome>
      )}
      <PlanTable project={project} camera={camera} plan={plan} known={known} edits={edits} />
    </>
  );
}

const totals = ({ triangles, memoryMb, errorPx }: ProjectPlan, { budgetMb }: ProjectCamera) =>
  `${printNumber(triangles / 1e6, triangles < 1e5 ? 3 : 1)} million triangles, ${printNumber(memoryMb, 0)} of ${printNumber(budgetMb, 0)}\u2009MiB, within ${printNumber(errorPx, 2)}\u2009px`;

/** The plan of all surfaces whose relief is known; null: there is none. */
function planOf(
  project: Project,
  camera: ProjectCamera,
  known: ReadonlyMap<string, KnownRelief>,
): ProjectPlan | null {
  const surfaces = project.rooms
    .flatMap((room) => room.surfaces)
    .flatMap((surface): SurfaceToPlan[] => {
      const found = surface.finish && known.get(reliefKey(surface.finish));
      return found && 'relief' in found ? [{ ...surface, relief: found.relief }] : [];
    });
  return surfaces.length > 0 ? planProject(surfaces, camera) : null;
}

/** Distance and angle are where surfaces are that have none of their own. */
function CameraOfProject({
  project,
  camera,
  edits,
}: {
  project: Project;
  camera: ProjectCamera;
  edits: ProjectEdits;
}) {
  const { surface } = camera;
  const read: Record<CameraFigure, number> = { ...camera, distanceMm: surface.nearestMm, ...surface };
  const put = (figure: CameraFigure, value: number): ProjectCamera => {
    if (figure === 'cameraDeg') return { ...camera, surface: { ...surface, cameraDeg: value } };
    if (figure !== 'distanceMm') return { ...camera, [figure]: value };
    return { ...camera, surface: { ...surface, nearestMm: value, farthestMm: null } };
  };
  const set = (figure: CameraFigure, value: number) =>
    void edits.make({
      name: 'camera of the project',
      redo: [{ call: 'changeProject', args: { id: project.id, camera: put(figure, value) } }],
      undo: [{ call: 'changeProject', args: { id: project.id, camera: project.camera } }],
    });
  return (
    <Camera aria-label="Camera of the project">
      {CAMERA_FIGURES.map((figure) => (
        <CameraField
          key={figure}
          figure={figure}
          value={read[figure]}
          onChange={(value) => set(figure, value)}
        />
      ))}
    </Camera>
  );
}
