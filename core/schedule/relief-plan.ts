import { z } from 'zod';
import { squared, wholePower } from '../exact';
import { printNumber } from '../units';
import { leftOutAt, type ReliefDetail } from './relief-detail';

/** What a surface with a relief must be made of, for a camera at a distance: colour, normals or a mesh, and how fine. */

export const reliefViewSchema = z.object({
  objectMm: z
    .object({
      width: z.number().positive('A width must be above 0 mm.').max(1e6),
      height: z.number().positive('A height must be above 0 mm.').max(1e6),
    })
    .describe('Size of the surface'),
  distanceMm: z
    .number()
    .min(1, 'A distance is at least 1 mm.')
    .max(1e7, 'A distance is at most 10 km.')
    .describe('From the camera to the nearest place of the surface'),
  cameraDeg: z
    .number()
    .min(0, 'An angle of view must be between 0° (square on) and 89°.')
    .max(89, 'An angle of view must be between 0° (square on) and 89°.')
    .default(0)
    .describe('Between the line of sight and the normal of the surface'),
  pictureWidthPx: z.number().int().min(16).max(100000).default(3840).describe('Width of the picture'),
  pictureHeightPx: z.number().int().min(16).max(100000).optional().describe('Default: 9/16 of its width'),
  fovDeg: z
    .number()
    .min(1, 'A field of view must be between 1° and 170°.')
    .max(170, 'A field of view must be between 1° and 170°.')
    .default(60)
    .describe('Horizontal field of view'),
  errorPx: z
    .number()
    .min(0.05, 'An error is at least 0.05 px.')
    .max(100)
    .default(0.5)
    .describe('What the surface may be off by in the picture'),
  budgetMb: z
    .number()
    .min(0.001, 'A budget is at least 1 kB.')
    .max(1e6)
    .default(512)
    .describe('Memory that this surface may take, MiB'),
  bytesPerTriangle: z.number().min(4).max(10000).default(80).describe('Of the receiver, with all it keeps'),
  edgeMm: z
    .number()
    .positive()
    .max(1e6)
    .optional()
    .describe('Edges that the object has of its own; default: its longer side'),
});
export type ReliefView = z.infer<typeof reliefViewSchema>;

export interface ReliefToPlan {
  detail: readonly ReliefDetail[];
  /** Lowest and highest place over the level that stays in place. */
  heightMm: { min: number; max: number };
}

/** A mesh that could be: how fine, how many triangles, how far off. */
export interface PlannedMesh {
  spacingMm: number;
  spacingPx: number;
  halvings: number;
  triangles: number;
  memoryMb: number;
  errorPx: number;
}

export interface ReliefPlan extends PlannedMesh {
  need: 'colour' | 'normals' | 'displacement';
  /** What the body must have room for outwards and inwards. */
  depthReserveMm: { out: number; in: number };
  /** Relief of longer waves is the mesh's, of shorter ones the normals'; null: all of it is the normals'. */
  splitMm: number | null;
  /** Size of a pixel of the picture at the surface. */
  pixelMm: number;
  /** Depth as it is seen: at the outline, and as a shift across the face. */
  seenPx: { outline: number; shift: number };
  /** Share of the surface that lies in the picture with its margin; beyond, the mesh is this many times coarser. */
  inPicture: { share: number; coarser: number };
  /** Meshes by octaves, for the chart of error over triangles. */
  choices: PlannedMesh[];
  why: string;
}

/** Below this, px, depth is not seen but by its shading; and not even by that. */
const NORMALS_DO_PX = 1;
const COLOUR_DOES_PX = 0.25;
/** A wave is carried by so many points. */
const POINTS_OF_WAVE = 3;
/** Around the picture, as a share of it: reflections and shadows come from there. */
const MARGIN = 0.1;
/** Beyond it edges are so many times as long. */
const COARSER = 4;
const BYTES_OF_MIB = 1048576;
const RADIANS = Math.PI / 180;

/** Plans the relief of one surface. Far and near surfaces are planned each by itself. */
export function planRelief(relief: ReliefToPlan, view: ReliefView): ReliefPlan {
  const { min, max } = relief.heightMm;
  const depthMm = max - min;
  const pixelMm = (2 * view.distanceMm * Math.tan((view.fovDeg / 2) * RADIANS)) / view.pictureWidthPx;
  const seenPx = {
    outline: depthMm / pixelMm,
    shift: (depthMm * Math.tan(view.cameraDeg * RADIANS)) / pixelMm,
  };
  const inPicture = { share: shareInPicture(view, pixelMm), coarser: COARSER };
  const mesh = (spacingMm: number) => meshOf(relief, view, pixelMm, inPicture.share, spacingMm);
  const finest = relief.detail[0]!.spacingMm;
  const choices = Array.from({ length: MOST_CHOICES }, (_, k) => finest * wholePower(2, k))
    .filter((spacing) => spacing <= Math.max(view.objectMm.width, view.objectMm.height))
    .map(mesh);
  const seen = Math.max(seenPx.outline, seenPx.shift);
  const normalsDo = Math.max(NORMALS_DO_PX, view.errorPx);
  const need = seen < COLOUR_DOES_PX ? 'colour' : seen < normalsDo ? 'normals' : 'displacement';
  const depthReserveMm = { out: Math.max(0, max), in: Math.max(0, -min) };
  const shared = { depthReserveMm, pixelMm, seenPx, inPicture, choices };
  if (need !== 'displacement') {
    const flat = { ...mesh(Math.max(view.objectMm.width, view.objectMm.height)), errorPx: seen };
    const plain = {
      ...flat,
      halvings: 0,
      triangles: 2,
      memoryMb: (2 * view.bytesPerTriangle) / BYTES_OF_MIB,
    };
    return { ...plain, ...shared, need, splitMm: null, why: whyFlat(need, depthMm, seen, view) };
  }
  const asked = coarsestWithin(mesh, finest, view);
  const affordable = asked.memoryMb <= view.budgetMb ? asked : finestWithin(mesh, asked.spacingMm, view);
  return {
    ...affordable,
    ...shared,
    need,
    splitMm: POINTS_OF_WAVE * affordable.spacingMm,
    why: whyDisplaced(affordable, asked, depthMm, seen, view) + asFineAs(affordable, finest),
  };
}

const MOST_CHOICES = 16;

function meshOf(
  { detail }: ReliefToPlan,
  { objectMm, cameraDeg, bytesPerTriangle, edgeMm }: ReliefView,
  pixelMm: number,
  share: number,
  spacingMm: number,
): PlannedMesh {
  const area = objectMm.width * objectMm.height;
  const triangles = Math.max(
    2,
    Math.ceil(((2 * area) / squared(spacingMm)) * (share + (1 - share) / squared(COARSER))),
  );
  const edge = edgeMm ?? Math.max(objectMm.width, objectMm.height);
  return {
    spacingMm,
    spacingPx: spacingMm / pixelMm,
    halvings: Math.max(0, Math.ceil(Math.log2(edge / spacingMm))),
    triangles,
    memoryMb: (triangles * bytesPerTriangle) / BYTES_OF_MIB,
    // At the outline what is left out is seen whole, across the face by the tangent of the angle.
    errorPx: (leftOutAt(detail, spacingMm) * Math.max(1, Math.tan(cameraDeg * RADIANS))) / pixelMm,
  };
}

/** Share of the surface that is in the picture, with a margin, if the camera looks at its middle. */
function shareInPicture(view: ReliefView, pixelMm: number): number {
  const { objectMm, pictureWidthPx, pictureHeightPx, cameraDeg } = view;
  const heightPx = pictureHeightPx ?? (pictureWidthPx * 9) / 16;
  const wide = (pictureWidthPx * pixelMm * (1 + 2 * MARGIN)) / Math.cos(cameraDeg * RADIANS);
  const high = heightPx * pixelMm * (1 + 2 * MARGIN);
  return Math.min(1, wide / objectMm.width) * Math.min(1, high / objectMm.height);
}

const BISECTIONS = 40;

/** The coarsest mesh that is off by no more than is asked. */
function coarsestWithin(mesh: (mm: number) => PlannedMesh, finestMm: number, view: ReliefView): PlannedMesh {
  let [fine, coarse] = [finestMm, Math.max(view.objectMm.width, view.objectMm.height)];
  if (mesh(coarse).errorPx <= view.errorPx) return mesh(coarse);
  for (let k = 0; k < BISECTIONS; k++) {
    const middle = Math.sqrt(fine * coarse);
    if (mesh(middle).errorPx <= view.errorPx) fine = middle;
    else coarse = middle;
  }
  return mesh(fine);
}

/** The finest mesh that the budget allows, coarser than one that it does not. */
function finestWithin(mesh: (mm: number) => PlannedMesh, fromMm: number, view: ReliefView): PlannedMesh {
  let [fine, coarse] = [fromMm, Math.max(view.objectMm.width, view.objectMm.height)];
  for (let k = 0; k < BISECTIONS; k++) {
    const middle = Math.sqrt(fine * coarse);
    if (mesh(middle).memoryMb <= view.budgetMb) coarse = middle;
    else fine = middle;
  }
  return mesh(coarse);
}

const mm = (value: number) => `${printNumber(value, value < 1 ? 2 : 1)}\u2009mm`;
const px = (value: number) => `${printNumber(value, value < 1 ? 2 : 1)}\u2009px`;
const metres = (value: number) => `${printNumber(value / 1000, 1)}\u2009m`;
const MILLION = 1e6;
const count = (n: number) =>
  n >= MILLION ? `${printNumber(n / MILLION, 1)} million triangles` : `${printNumber(n, 0)} triangles`;

/** Said where a mesh is about as fine as the heights that it was planned from: steep edges may be finer than both. */
const asFineAs = ({ spacingMm }: PlannedMesh, finestMm: number): string =>
  spacingMm < 2 * finestMm
    ? ` That is about as fine as its heights are known here, every ${mm(finestMm)}: steep edges between are not judged.`
    : '';

function whyFlat(need: 'colour' | 'normals', depthMm: number, seenPx: number, view: ReliefView): string {
  const says = `The relief of ${mm(depthMm)} is ${px(seenPx)} deep in the picture from ${metres(view.distanceMm)}`;
  return need === 'colour'
    ? `${says}: less than a quarter of a pixel. Colour alone does.`
    : seenPx < NORMALS_DO_PX
      ? `${says}: less than a pixel, so its outline is not seen, but its shading is. Normals do.`
      : `${says}: less than the ${px(view.errorPx)} that a mesh may be off by. Normals do.`;
}

function whyDisplaced(
  { spacingMm, triangles, memoryMb, errorPx }: PlannedMesh,
  asked: PlannedMesh,
  depthMm: number,
  seenPx: number,
  view: ReliefView,
): string {
  const says = `The relief of ${mm(depthMm)} is ${px(seenPx)} deep in the picture from ${metres(view.distanceMm)}, so it must be displaced. Edges of ${mm(spacingMm)} make ${count(triangles)} and ${printNumber(memoryMb, 1)}\u2009MiB, and leave it off by ${px(errorPx)}.`;
  if (asked.memoryMb <= view.budgetMb) return says;
  return `${says} Within ${px(view.errorPx)} it would take edges of ${mm(asked.spacingMm)}, ${count(asked.triangles)} and ${printNumber(asked.memoryMb, 0)}\u2009MiB, beyond the budget of ${printNumber(view.budgetMb, 1)}\u2009MiB. What the mesh leaves out goes into the normals.`;
}
