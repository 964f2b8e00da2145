import { linearToLab } from '../colour';
import {
  blurWrapped,
  distanceSteps,
  extremes,
  halve,
  makePlane,
  maskWhere,
  percentiles,
  type ColourPicture,
  type Plane,
} from '../raster';
import { atOnce, type Steps } from '../steps';
import { growOver, Neighbours } from './neighbours';
import { partingBetween, SQUARE, type Piece, type Pieces } from './pieces-between';
import { median } from './statistics';

/**
 * Pieces of a laid or woven surface, segmented by their joints: bricks, tiles, stones, setts.
 *
 * Joints are what is thinner than a piece and lighter, darker or of another colour than what lies on both sides of it (the
 * top-hat of mathematical morphology). Several widths and all three axes of CIELAB are tried both ways, and the one that parts
 * joint from face most clearly is taken. What lies between them are the pieces: see `pieces-between`.
 */

/** What joints look like: one of L*, a*, b*, lighter or darker there, and no wider than so many pixels. */
export interface JointLook {
  channel: 0 | 1 | 2;
  sign: 1 | -1;
  widthPx: number;
  /** The grain of the faces is smoothed away by so much; none: only the noise from pixel to pixel is. */
  smoothedPx?: number;
}

/** Widths that joints may have at most, as shares of the sample's shorter side: from tiles to rubble. */
export const JOINT_WIDTHS = [0.012, 0.025, 0.05, 0.1];
/** The same in pixels, for a sample whose shorter side is so long. */
export const jointWidthsPx = (shortPx: number): number[] => JOINT_WIDTHS.map((share) => share * shortPx);

/** Joints cover at least and at most this share. */
const LEAST_JOINTS = 0.02;
const MOST_JOINTS = 0.42;
/** Share of its variance that a threshold has to explain: what has no joints comes to about 0.6. */
const LEAST_PARTED = 0.66;
/** Of two looks one may part less clearly by this for each share of the picture by which its joints cover less. */
const THINNER = 0.25;
/** Joints stand out by at least this in L*, a* or b*: what is fainter are the blocks of a compressed picture, or noise. */
const LEAST_OUT = 0.5;
/** What is smaller than this, in the middle, is grain that looks like pieces, px. */
const LEAST_SIDE_PX = 13;

/** Whether what was segmented is grain that looks like pieces. */
export const isGrain = (whole: readonly Piece[]): boolean =>
  (median(whole.map((p) => p.areaPx)) ?? 0) < LEAST_SIDE_PX * LEAST_SIDE_PX;

/** L*, a* and b*. */
export function labPlanes({
  widthPx: w,
  heightPx: h,
  r,
  g,
  b,
}: ColourPicture): readonly [Plane, Plane, Plane] {
  const planes = [makePlane(w, h), makePlane(w, h), makePlane(w, h)] as const;
  const [lightness, redness, yellowness] = planes;
  for (let i = 0; i < r.length; i++) {
    const lab = linearToLab([r[i]!, g[i]!, b[i]!]);
    lightness.data[i] = lab[0];
    redness.data[i] = lab[1];
    yellowness.data[i] = lab[2];
  }
  return planes;
}

/** Noise from pixel to pixel is smoothed away by this, px. */
const NOISE_PX = 0.8;

/** The channel of a look without the noise from pixel to pixel, or without the grain of the faces. */
export function softened(
  lab: readonly Plane[],
  { channel, smoothedPx = NOISE_PX }: Pick<JointLook, 'channel' | 'smoothedPx'>,
): Plane {
  return blurWrapped(lab[channel]!, smoothedPx, smoothedPx);
}

/** Grain is smoothed away by these shares of the width that joints may have at most. */
const GRAIN_SMOOTHED = [0.15, 0.3];

/**
 * How much every pixel stands out of what lies on both sides of it, where joints look so: top-hat of the lighter, or of the
 * darker ones.
 * @param soft the softened plane of the look's channel
 */
function standingOut(soft: Plane, { sign, widthPx }: JointLook, wraps: boolean): Plane {
  const reach = Math.max(1, Math.ceil(widthPx / 2));
  const [first, then] = sign === 1 ? (['least', 'greatest'] as const) : (['greatest', 'least'] as const);
  const opened = extremes(extremes(soft, reach, first, wraps), reach, then, wraps);
  const out = makePlane(soft.widthPx, soft.heightPx);
  for (let i = 0; i < out.data.length; i++) out.data[i] = sign * (soft.data[i]! - opened.data[i]!);
  return out;
}

/** The threshold that explains most of the variance (Otsu 1979), what share of it that is, and what share of pixels is above. */
function threshold(data: Float32Array): { at: number; parted: number; above: number } {
  const n = data.length;
  const most = percentiles(data, [0.999])[0]!;
  const bins = 128;
  const counts = new Float64Array(bins);
  if (!(most > 1e-6)) return { at: Infinity, parted: 0, above: 0 };
  // Nothing stands out by less than 0.
  for (let i = 0; i < n; i++) counts[Math.min(bins - 1, (bins * data[i]!) / most) | 0]!++;
  let [sum, square] = [0, 0];
  for (let k = 0; k < bins; k++) {
    sum += k * counts[k]!;
    square += k * k * counts[k]!;
  }
  const variance = square / n - (sum / n) * (sum / n);
  let best = { at: Infinity, parted: 0, above: 0 };
  let [below, sumBelow] = [0, 0];
  for (let k = 0; k < bins - 1; k++) {
    below += counts[k]!;
    sumBelow += k * counts[k]!;
    if (below === 0 || below === n) continue;
    const [m0, m1] = [sumBelow / below, (sum - sumBelow) / (n - below)];
    const parted = ((below / n) * (1 - below / n) * (m1 - m0) * (m1 - m0)) / Math.max(1e-9, variance);
    if (parted > best.parted) best = { at: ((k + 1) * most) / bins, parted, above: 1 - below / n };
  }
  return best;
}

/** So many looks are tried, those first that separate joint and face most clearly. */
const TRIED = 5;
/**
 * Pieces of a surface are alike in area within this, as the logarithm of the upper over the lower quartile; where joints part more clearly,
 * as those of rubble do, by so much more for each share of the variance; where grain was smoothed away, by less, as its lumps may look
 * like pieces.
 */
const MOST_SPREAD = 1.3;
const CLEARLY_PARTED = 0.75;
const MORE_SPREAD = 4;
const MOST_SPREAD_THROUGH_GRAIN = 0.7;
const LEAST_PIECES = 6;

/**
 * Segments a picture into pieces by the look of its joints by which they come out most alike: of looks that separate joint
 * from face clearly the grain of the faces may be one, but its pieces are of all sizes.
 * @param widthsPx widths that joints may have at most; all are tried
 * @returns null where there are no joints, or what they part is no pieces
 */
export const segmentedByJoints = (lab: readonly Plane[], widthsPx: readonly number[]): ByJoints | null =>
  atOnce(segmentingSteps(lab, widthsPx));

/** Pieces, and the look of the joints that part them. */
export interface ByJoints {
  look: JointLook;
  pieces: Pieces;
}

/**
 * The same in steps: of a large picture it takes seconds.
 * @param lenient whether pieces may be of all sizes where joints part clearly, and joints may be hidden by the grain of the faces, as in
 * granite; not so before version 7 of the repeat
 */
export function* segmentingSteps(
  lab: readonly Plane[],
  widthsPx: readonly number[],
  lenient = true,
): Steps<ByJoints | null> {
  const plain = widthsPx.map((widthPx) => ({ widthPx }));
  const found = yield* segmentingBy(lab, plain, lenient ? mostSpread : () => MOST_SPREAD);
  const isSure = found && !isGrain(found.pieces.pieces.filter((p) => !p.cutOff));
  if (isSure || !lenient) return found;
  return (yield* segmentingThroughGrain(lab, widthsPx)) ?? found;
}

/** By joints that the grain of the faces hides: it is smoothed away, which half the pixels are enough for. */
function* segmentingThroughGrain(lab: readonly Plane[], widthsPx: readonly number[]): Steps<ByJoints | null> {
  const half = lab.map(halve);
  for (const share of GRAIN_SMOOTHED) {
    const widths = widthsPx
      .map((px) => ({ widthPx: px / 2, smoothedPx: (share * px) / 2 }))
      .filter(({ smoothedPx }) => smoothedPx > NOISE_PX);
    const found = yield* segmentingBy(half, widths, () => MOST_SPREAD_THROUGH_GRAIN);
    if (!found) continue;
    const { widthPx, smoothedPx, ...look } = found.look;
    const whole = { ...look, widthPx: 2 * widthPx, smoothedPx: 2 * smoothedPx! };
    yield;
    return { look: whole, pieces: (yield* partingAt(lab, whole, false)).pieces };
  }
  return null;
}

/** @param most spread of pieces by how clearly joint and face are parted */
function* segmentingBy(
  lab: readonly Plane[],
  widths: readonly Pick<JointLook, 'widthPx' | 'smoothedPx'>[],
  most: (worth: number) => number,
): Steps<ByJoints | null> {
  const looks: { look: JointLook; worth: number }[] = [];
  for (const channel of [0, 1, 2] as const)
    for (const width of widths) {
      const soft = softened(lab, { channel, ...width });
      for (const sign of [1, -1] as const) {
        yield;
        const look = { channel, sign, ...width };
        const out = standingOut(soft, look, false).data;
        yield;
        const { at, parted, above } = threshold(out);
        if (at < LEAST_OUT) continue;
        if (above < LEAST_JOINTS || above > MOST_JOINTS || parted < LEAST_PARTED) continue;
        looks.push({ look, worth: parted - THINNER * above });
      }
    }
  let best: { look: JointLook; pieces: Pieces; spread: number } | null = null;
  for (const { look, worth } of looks.sort((a, b) => b.worth - a.worth).slice(0, TRIED)) {
    yield;
    const { pieces } = yield* partingAt(lab, look, false);
    const areas = pieces.pieces.filter((p) => !p.cutOff).map((p) => p.areaPx);
    if (areas.length < LEAST_PIECES) continue;
    areas.sort((p, q) => p - q);
    const spread = Math.log(
      areas[Math.floor(0.75 * areas.length)]! / areas[Math.floor(0.25 * areas.length)]!,
    );
    if (spread < Math.min(most(worth), best?.spread ?? Infinity)) best = { look, pieces, spread };
  }
  return best;
}

const mostSpread = (worth: number): number => MOST_SPREAD + MORE_SPREAD * Math.max(0, worth - CLEARLY_PARTED);

/** A joint goes on where it stands out by this share of the threshold: where it is thin or slanting it is blurred. */
const GOES_ON = 0.5;

/** Pixels above a threshold, and weaker ones that hang together with them. */
function jointsOf(out: Float32Array, at: number, around: Neighbours): Uint8Array {
  const joints = maskWhere(out, (v) => v > at);
  growOver(joints, around, (i) => out[i]! > GOES_ON * at);
  return joints;
}

/**
 * Segments a picture into pieces.
 * @param look what its joints look like
 * @param wraps its edges meet
 */
export const segmented = (lab: readonly Plane[], look: JointLook, wraps: boolean): Pieces =>
  atOnce(partingAt(lab, look, wraps)).pieces;

/** Pieces, and how far every pixel lies within the outline of its piece, px; negative in joints. */
export interface TracedPieces {
  pieces: Pieces;
  within: Plane;
}

/**
 * Segments a picture into pieces and traces their outlines to parts of a pixel: where the joint's standing out crosses
 * the threshold, along its gradient.
 */
export function* tracingSteps(lab: readonly Plane[], look: JointLook, wraps: boolean): Steps<TracedPieces> {
  const { pieces, out, at } = yield* partingAt(lab, look, wraps);
  return { pieces, within: yield* tracedWithin(pieces, out.data, at, wraps) };
}

/** Pieces in steps, and by how much what has to stand out that is a joint. */
function* partingAt(
  lab: readonly Plane[],
  look: JointLook,
  wraps: boolean,
): Steps<{ pieces: Pieces; out: Plane; at: number }> {
  const soft = softened(lab, look);
  const { widthPx: w, heightPx: h } = soft;
  yield;
  const out = standingOut(soft, look, wraps);
  yield;
  const { at } = threshold(out.data);
  const around = new Neighbours(w, h, wraps);
  const wide = jointsOf(out.data, at, around);
  yield;
  const joints = look.smoothedPx ? yield* narrowed(wide, lab, look, wraps) : wide;
  yield;
  return { pieces: yield* partingBetween(joints, w, h, wraps), out, at };
}

/** Where the joints are is seen in a picture that is smoothed by this share of what parts joint from face. */
const SHARPER = 0.4;
/** What is so far inside the joints, or inside the pieces, as a quantile of distances, has the tone of them. */
const DEEP = 0.7;

/** Joints that smoothing has widened, as wide as they are: where the tone is nearer to theirs than to that of the faces. */
function* narrowed(
  wide: Uint8Array,
  lab: readonly Plane[],
  { channel, sign, smoothedPx }: JointLook,
  wraps: boolean,
): Steps<Uint8Array> {
  const sharper = softened(lab, { channel, smoothedPx: SHARPER * smoothedPx! });
  const { widthPx: w, heightPx: h, data } = sharper;
  function* toneWhere(inJoints: 0 | 1): Steps<number> {
    const others = maskWhere(wide, (v) => v !== inJoints);
    const deep = (yield* distanceSteps(others, w, h, SQUARE, wraps)).data;
    const far = percentiles(
      deep.filter((v) => v > 0),
      [DEEP],
    )[0]!;
    const tones = data.filter((_, i) => deep[i]! >= far);
    return percentiles(tones, [0.5])[0]!;
  }
  if (!wide.includes(0) || !wide.includes(1)) return wide;
  const middle = ((yield* toneWhere(1)) + (yield* toneWhere(0))) / 2;
  return wide.map((joint, i) => (joint && sign * (data[i]! - middle) > 0 ? 1 : 0));
}

/** Outlines are traced so far from the border between pixels, px. */
const TRACED_PX = 1.5;
/** Outlines are smoothed by so much, px. */
const SMOOTHED_PX = 0.8;

function* tracedWithin(
  { label, widthPx: w, heightPx: h }: Pieces,
  out: Float32Array,
  at: number,
  wraps: boolean,
): Steps<Plane> {
  const joints = maskWhere(label, (k) => k < 0);
  const toJoint = (yield* distanceSteps(joints, w, h, SQUARE, wraps)).data;
  const faces = maskWhere(joints, (v) => v === 0);
  const toFace = (yield* distanceSteps(faces, w, h, SQUARE, wraps)).data;
  const within = makePlane(w, h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      // The border runs half way between pixels.
      const far = joints[i] ? 0.5 - toFace[i]! : Math.min(toJoint[i]!, w + h) - 0.5;
      within.data[i] = far;
      if (Math.abs(far) > TRACED_PX) continue;
      const [left, right] = [
        x > 0 ? i - 1 : wraps ? i + w - 1 : i,
        x < w - 1 ? i + 1 : wraps ? i - w + 1 : i,
      ];
      const up = y > 0 ? i - w : wraps ? i + (h - 1) * w : i;
      const down = y < h - 1 ? i + w : wraps ? i - (h - 1) * w : i;
      const steep = Math.hypot(out[right]! - out[left]!, out[down]! - out[up]!) / 2;
      const traced = (at - out[i]!) / Math.max(1e-6, steep);
      // Joints that are thin or slanting go on below the threshold.
      if (joints[i] && traced > 0) continue;
      within.data[i] = Math.min(TRACED_PX, Math.max(-TRACED_PX, traced));
    }
  return wraps ? blurWrapped(within, SMOOTHED_PX, SMOOTHED_PX) : within;
}
