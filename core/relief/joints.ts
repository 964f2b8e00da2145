import { labPlanes, tracingSteps, type JointLook, type Pieces } from '../pieces';
import { halve, mapChannels, sampleGridSteps, type ColourPicture, type Plane } from '../raster';
import { atOnce, spans, type Steps } from '../steps';
import type { JointsContribution } from './settings';

/** Joints between the pieces of a picture, as relief. */

const LOOKS = {
  lighter: { channel: 0, sign: 1 },
  darker: { channel: 0, sign: -1 },
  redder: { channel: 1, sign: 1 },
  greener: { channel: 1, sign: -1 },
  yellower: { channel: 2, sign: 1 },
  bluer: { channel: 2, sign: -1 },
} as const;

/** How joints of a look are called. */
export const nameOfLook = ({
  channel,
  sign,
}: Pick<JointLook, 'channel' | 'sign'>): JointsContribution['look'] =>
  (Object.keys(LOOKS) as (keyof typeof LOOKS)[]).find(
    (name) => LOOKS[name].channel === channel && LOOKS[name].sign === sign,
  )!;

/** Pieces are segmented at most at this size: their outlines are smooth. */
const SEGMENTED_PX = 1024;

/** Pieces of a repeat, at a scale of its own. */
export interface PiecesOfRepeat {
  pieces: Pieces;
  /** Distance of every pixel to the outline of its piece, mm; negative in joints. */
  within: Plane;
}

/**
 * Segments a repeat into pieces by the look of its joints.
 * @param picture one repeat, linear light; it closes on itself
 * @param mmPerPx size of a pixel
 */
export function* piecesOfRepeatSteps(
  picture: ColourPicture,
  mmPerPx: { x: number; y: number },
  { look, widestMm, smoothShare }: Pick<JointsContribution, 'look' | 'widestMm' | 'smoothShare'>,
): Steps<PiecesOfRepeat> {
  let small = picture;
  while (Math.max(small.widthPx, small.heightPx) > SEGMENTED_PX) small = mapChannels(small, halve);
  const { widthPx: w, heightPx: h } = small;
  const mm = { x: (mmPerPx.x * picture.widthPx) / w, y: (mmPerPx.y * picture.heightPx) / h };
  const widthPx = Math.max(1, widestMm / Math.min(mm.x, mm.y));
  const smoothed = smoothShare ? { smoothedPx: smoothShare * widthPx } : {};
  yield;
  const { pieces, within } = yield* tracingSteps(
    labPlanes(small),
    { ...LOOKS[look], widthPx, ...smoothed },
    true,
  );
  const mmPerPxOfBoth = Math.sqrt(mm.x * mm.y);
  return { pieces, within: { ...within, data: within.data.map((px) => px * mmPerPxOfBoth) } };
}

/** A plane at one scale of a repeat, at another. */
export const atScaleOf = (plane: Plane, widthPx: number, heightPx: number): Plane =>
  atOnce(scaleSteps(plane, widthPx, heightPx));

/** As `atScaleOf`, left between rows. */
export function* scaleSteps(plane: Plane, widthPx: number, heightPx: number): Steps<Plane> {
  if (plane.widthPx === widthPx && plane.heightPx === heightPx) return plane;
  const places = (length: number, step: number) =>
    Float64Array.from({ length }, (_, i) => (i + 0.5) * step - 0.5);
  return yield* sampleGridSteps(
    plane,
    places(widthPx, plane.widthPx / widthPx),
    places(heightPx, plane.heightPx / heightPx),
  );
}

/**
 * Height of joints: faces at half the depth above the middle, joints at half of it below; a smooth step between them, centred
 * on the outline of the piece.
 * @returns mm
 */
export function* reliefOfJointsSteps(
  { within }: PiecesOfRepeat,
  { widthPx, heightPx }: { widthPx: number; heightPx: number },
  { edgeMm, depthMm }: { edgeMm: number; depthMm: number },
): Steps<Plane> {
  const { data: inMm } = yield* scaleSteps(within, widthPx, heightPx);
  const perMm = 1 / Math.max(1e-6, edgeMm);
  const data = new Float32Array(inMm.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const t = Math.min(1, Math.max(0, inMm[i]! * perMm + 0.5));
      data[i] = depthMm * (t * t * (3 - 2 * t) - 0.5);
    }
  }
  return { widthPx, heightPx, data };
}
