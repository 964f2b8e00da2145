import { z } from 'zod';
import { wholePower } from '../exact';
import { printNumber } from '../units';
import { planRelief, reliefViewSchema, type ReliefPlan, type ReliefToPlan } from './relief-plan';

/**
 * The relief of all surfaces that one camera sees: each is planned by itself, those that run away from the camera in zones by distance,
 * and one budget is shared so that no mesh is off by more pixels than another.
 */

const fields = reliefViewSchema.shape;

/** Where a surface is for the camera. */
export const surfaceCameraSchema = z
  .object({
    nearestMm: fields.distanceMm.describe('From the camera to the nearest place of the surface'),
    farthestMm: fields.distanceMm
      .nullable()
      .default(null)
      .describe('To its farthest place; null: all of it is at the nearest distance'),
    cameraDeg: fields.cameraDeg,
  })
  .refine(({ nearestMm, farthestMm }) => farthestMm === null || farthestMm >= nearestMm, {
    message: 'The farthest place of a surface cannot be nearer than its nearest place.',
    path: ['farthestMm'],
  });
export type SurfaceCamera = z.infer<typeof surfaceCameraSchema>;

/** A camera for all surfaces of a project, and where those are that say nothing of their own. */
export const projectCameraSchema = z.object({
  pictureWidthPx: fields.pictureWidthPx,
  pictureHeightPx: fields.pictureHeightPx,
  fovDeg: fields.fovDeg,
  errorPx: fields.errorPx,
  budgetMb: fields.budgetMb.describe('Memory that the meshes of all surfaces may take together, MiB'),
  bytesPerTriangle: fields.bytesPerTriangle,
  surface: surfaceCameraSchema
    .prefault({ nearestMm: 3000, cameraDeg: 30 })
    .describe('Where surfaces are that have no distance of their own'),
});
export type ProjectCamera = z.infer<typeof projectCameraSchema>;

export interface SurfaceToPlan {
  id: string;
  widthMm: number;
  heightMm: number;
  relief: ReliefToPlan;
  /** null: as the project says. */
  camera: SurfaceCamera | null;
}

/** The part of a surface between two distances from the camera. */
export interface PlannedZone extends ReliefPlan {
  fromMm: number;
  toMm: number;
  /** Of the area of the surface. */
  share: number;
}
export interface PlannedSurface {
  id: string;
  /** From the nearest to the farthest; at least one. */
  zones: PlannedZone[];
  triangles: number;
  memoryMb: number;
}

/** What all surfaces together take where no mesh is off by more than an error. */
export interface ProjectChoice {
  errorPx: number;
  triangles: number;
  memoryMb: number;
}
export interface ProjectPlan extends ProjectChoice {
  surfaces: PlannedSurface[];
  /** Whether the budget is kept. */
  fits: boolean;
  /** By error, for the chart of error over triangles. */
  choices: ProjectChoice[];
  why: string;
}

/** A zone ends where the distance has doubled: within it, the nearest place takes at most so many times the edges it needs. */
const ZONE_RATIO = 2;
/** A last zone shorter than this, as a share of a whole one, is not worth a mesh of its own. */
const LEAST_ZONE = 0.25;

interface Zone {
  fromMm: number;
  toMm: number;
  share: number;
}

/**
 * Cuts a surface where the distance from the camera doubles. Its shares of the area are those of a plane along which the distance grows
 * evenly.
 */
export function zonesOf({ nearestMm, farthestMm }: SurfaceCamera): Zone[] {
  const end = farthestMm ?? nearestMm;
  if (end <= nearestMm) return [{ fromMm: nearestMm, toMm: nearestMm, share: 1 }];
  const out: Zone[] = [];
  for (let fromMm = nearestMm; fromMm < end;) {
    const doubled = fromMm * ZONE_RATIO;
    const toMm = end - doubled < LEAST_ZONE * doubled ? end : doubled;
    out.push({ fromMm, toMm, share: (toMm - fromMm) / (end - nearestMm) });
    fromMm = toMm;
  }
  return out;
}

/** Plans one surface for an error, zone by zone. Zones are strips across its longer side, which runs away from the camera. */
function planSurface(surface: SurfaceToPlan, camera: ProjectCamera, errorPx: number): PlannedSurface {
  const { id, widthMm, heightMm, relief } = surface;
  const { nearestMm, farthestMm, cameraDeg } = surface.camera ?? camera.surface;
  const longer = Math.max(widthMm, heightMm);
  const zones = zonesOf({ nearestMm, farthestMm, cameraDeg }).map(({ fromMm, toMm, share }): PlannedZone => {
    const objectMm = {
      width: widthMm === longer ? widthMm * share : widthMm,
      height: widthMm === longer ? heightMm : heightMm * share,
    };
    const view = { ...camera, objectMm, distanceMm: fromMm, cameraDeg, errorPx, edgeMm: longer };
    return { ...planRelief(relief, { ...view, budgetMb: Infinity }), fromMm, toMm, share };
  });
  return { id, zones, ...totalOf(zones) };
}

const totalOf = (of: readonly { triangles: number; memoryMb: number }[]) => ({
  triangles: of.reduce((sum, z) => sum + z.triangles, 0),
  memoryMb: of.reduce((sum, z) => sum + z.memoryMb, 0),
});

const BISECTIONS = 24;
const MOST_CHOICES = 14;

/**
 * Plans the relief of all surfaces that a camera sees. Where the budget does not allow the error that is asked, the smallest error is
 * found at which all meshes together keep it: the worst mesh is as good as it can be.
 * @param surfaces those that have a relief; at least one
 */
export function planProject(surfaces: readonly SurfaceToPlan[], camera: ProjectCamera): ProjectPlan {
  const at = (errorPx: number) => {
    const planned = surfaces.map((s) => planSurface(s, camera, errorPx));
    return { surfaces: planned, errorPx, ...totalOf(planned) };
  };
  const asked = at(camera.errorPx);
  // Beyond this every surface is flat.
  const seenPx = asked.surfaces.flatMap((s) =>
    s.zones.map((z) => Math.max(z.seenPx.outline, z.seenPx.shift)),
  );
  const flatPx = Math.max(camera.errorPx, ...seenPx) * 1.001;
  let planned = asked;
  if (asked.memoryMb > camera.budgetMb) {
    let [fine, coarse] = [camera.errorPx, flatPx];
    for (let k = 0; k < BISECTIONS; k++) {
      const middle = Math.sqrt(fine * coarse);
      if (at(middle).memoryMb <= camera.budgetMb) coarse = middle;
      else fine = middle;
    }
    planned = at(coarse);
  }
  const fits = planned.memoryMb <= camera.budgetMb;
  const errors = Array.from({ length: MOST_CHOICES }, (_, k) => (camera.errorPx * wholePower(2, k)) / 8);
  const choices = [...errors.filter((errorPx) => errorPx < flatPx), flatPx].map((errorPx): ProjectChoice => {
    const { triangles, memoryMb } = at(errorPx);
    return { errorPx, triangles, memoryMb };
  });
  return { ...planned, fits, choices, why: reason(planned, asked, fits, camera) };
}

const px = (value: number) => `${printNumber(value, value < 10 ? 2 : 0)}\u2009px`;
const mib = (value: number) => `${printNumber(value, value < 10 ? 1 : 0)}\u2009MiB`;
const counted = (n: number, one: string) => `${n === 1 ? 'one' : n} ${one}${n === 1 ? '' : 's'}`;

function reason(
  { surfaces, errorPx, memoryMb }: ProjectChoice & Pick<ProjectPlan, 'surfaces'>,
  asked: ProjectChoice,
  fits: boolean,
  { budgetMb }: ProjectCamera,
): string {
  // Nowhere is more needed than where a surface is nearest.
  const of = (need: ReliefPlan['need']) => surfaces.filter((s) => s.zones[0]!.need === need).length;
  const parts = [
    [of('displacement'), 'displaced'],
    [of('normals'), 'by normals'],
    [of('colour'), 'by colour alone'],
  ] as const;
  const shares = parts.flatMap(([n, how]) => (n > 0 ? [`${n} ${how}`] : [])).join(', ');
  const says = `${counted(surfaces.length, 'surface')}: ${shares}.`;
  if (asked.memoryMb <= budgetMb)
    return `${says} Their meshes take ${mib(memoryMb)} of ${mib(budgetMb)} and are off by no more than ${px(errorPx)}.`;
  if (!fits)
    return `${says} Even flat they take ${mib(memoryMb)}, beyond the budget of ${mib(budgetMb)}: raise the budget.`;
  return `${says} Within ${px(asked.errorPx)} their meshes would take ${mib(asked.memoryMb)}, beyond the budget of ${mib(budgetMb)}. It allows ${px(errorPx)}, the same for all; what the meshes leave out goes into the normals.`;
}
