import { wholePower } from '../exact';
import {
  autocorrelations,
  blurWrapped,
  halve,
  luminancePlane,
  makePlane,
  mapChannels,
  mean,
  type ColourPicture,
} from '../raster';
import { snappedShift, type FoundStructure } from '../size';
import { printNumber } from '../units';
import { seamFigures } from './seam';
import { wholeBonds, type RepeatSettings } from './settings';

/** Which way suits a sample, and why. */
export interface Advice {
  /** The one of the reasons that speaks for the method; null: none does. */
  reason: string | null;
  settings: Pick<RepeatSettings, 'method' | 'across' | 'up' | 'structure' | 'composed' | 'why'>;
}

/** Periods that somebody counted, in shares of the frame; null: not counted. */
export interface CountedPeriods {
  across: number | null;
  up: number | null;
}

/** A counted period and a found one are the same when they differ by less. */
const SAME_PERIOD = 0.02;

/**
 * A structure whose periods are those that were counted, where there are any: what somebody typed is better known than
 * what was detected.
 * @returns the structure, and a sentence for every axis on which the two differ
 */
export function withCounted(
  found: FoundStructure,
  counted: CountedPeriods,
): { structure: FoundStructure; differs: string[] } {
  const structure = { ...found };
  const differs: string[] = [];
  for (const axis of ['across', 'up'] as const) {
    const period = counted[axis];
    if (!period) continue;
    const detected = found[axis];
    const times = detected ? detected.period / period : 1;
    const same = Math.abs(times - 1) <= SAME_PERIOD;
    if (detected && !same)
      differs.push(
        `Counted: ${printNumber(1 / period)} periods ${axis}. Detected: ${printNumber(detected.count)}, each ${printNumber(times, 2)} times as long. The count is used.`,
      );
    const first = detected ? detected.first % period : 0;
    structure[axis] = { period, count: 1 / period, confidence: 1, first };
    // The shift is one in periods across, from one course to the next.
    if (detected && !same && structure.stagger !== null) {
      const one = detected.period / period;
      structure.stagger = (structure.stagger * (axis === 'across' ? one : 1 / one)) % 1;
    }
  }
  return { structure, differs };
}

/** What copies keep to of a structure that was found. */
export function structureToKeep({ across, up, stagger }: FoundStructure): RepeatSettings['structure'] {
  const kept = (found: FoundStructure['across']) => found && { period: found.period, first: found.first };
  return { across: kept(across), up: kept(up), stagger: usualShift(stagger ?? 0) };
}

/** A shift this near to whole periods is none: it was told to a pixel or two. */
const NO_SHIFT = 0.03;
/** A found shift is known so well, as a share: one that a bond has within that is meant. Over many courses the rest would add up. */
const SHIFT_ERROR = 0.015;

function usualShift(share: number): number {
  return Math.min(share, 1 - share) < NO_SHIFT ? 0 : snappedShift(share, SHIFT_ERROR);
}

/** A sample whose edges differ by no more than so many times its inside, also halved and halved again, closes by itself. */
const CLOSES = 1.3;
/** Fine is what has no feature longer than this share of the shorter side. */
const FINE = 1 / 24;
/** Features stand out of grain from this excess kurtosis on. */
const DISTINCT = 1;
/** A side this many times the other makes a sample oblong. */
const OBLONG = 2.2;
/** A structure of fewer whole periods on an axis is composed, so that it does not repeat at once. */
const FEW = 3;
/** Opposite edges that differ by more, in L*, are lit differently. */
const UNEVEN = 1.5;

/** Courses that fall by more step visibly where the repeat meets itself, degrees; so do sides longer by more than this share. */
const LEANS_DEG = 0.2;
const CONVERGES = 0.006;
const leans = ({ slopeDeg, converges }: NonNullable<FoundStructure['straighten']>) =>
  Math.abs(slopeDeg) > LEANS_DEG || Math.max(Math.abs(converges.across), Math.abs(converges.up)) > CONVERGES;

const percent = (share: number) => `${printNumber(100 * share, 0)} %`;

/**
 * Chooses how a sample is made a repeat: by the structure found, by whether it closes as it is, by how long its features are,
 * by its proportions and evenness.
 *
 * @param picture the used part of the sample, straightened, a few hundred pixels
 * @param detected its structure
 * @param usedMm its size
 * @param now the settings as they are: lengths and arrangements that were set stay
 * @param counted periods that somebody counted; they count more than those that were found
 */
export function adviseRepeat(
  picture: ColourPicture,
  detected: FoundStructure,
  usedMm: { width: number; height: number },
  now: RepeatSettings,
  counted: CountedPeriods = { across: null, up: null },
): Advice {
  const { widthPx: w, heightPx: h } = picture;
  const overlap = (mm: number) => Math.max(0.1, Number((mm / 6).toPrecision(3)));
  const edges = (closing: 'blend' | 'cut' | 'abut') => ({
    across: { closing, overlapMm: overlap(usedMm.width) },
    up: { closing, overlapMm: overlap(usedMm.height) },
  });
  const none = { across: null, up: null, stagger: 0 };
  const { structure: found, differs } = withCounted(detected, counted);
  const why: string[] = [...differs];
  const uneven = edgeDifference(picture);
  const end = (settings: Partial<Advice['settings']>): Advice => {
    const reason = why[why.length - 1] ?? null;
    if (detected.straighten && leans(detected.straighten))
      why.push(
        'The structure is seen at an angle in this frame, so that it steps at the edges of the repeat: straighten it by the structure under Sample first.',
      );
    if (uneven > UNEVEN)
      why.push(
        `Opposite edges differ by ${printNumber(uneven)} L*: if that is light and not the finish, level it under Light and colour first.`,
      );
    return {
      reason,
      settings: {
        method: 'edges',
        ...edges('cut'),
        structure: none,
        composed: now.composed,
        why,
        ...settings,
      },
    };
  };

  const regular = (['across', 'up'] as const).filter((axis) => found[axis]);
  if (regular.length > 0) {
    const periods = (axis: 'across' | 'up') => 1 / found[axis]!.period;
    why.push(
      `${regular.every((axis) => counted[axis]) ? 'Its periods were counted' : 'A regular structure was found'}: ${regular
        .map(
          (axis) =>
            `${printNumber(periods(axis))} periods ${axis}${counted[axis] ? '' : `, seen in ${percent(found[axis]!.confidence)} of the picture`}`,
        )
        .join('; ')}. The repeat keeps to whole ones.`,
    );
    const both = regular.length === 2;
    const few = regular.some((axis) => periods(axis) < FEW);
    if (both && !few) {
      why.push('Enough periods lie in the sample, so it is kept as it is and cut where that shows least.');
      return end({ structure: wholeBonds(structureToKeep(found)) });
    }
    why.push(
      both
        ? 'Few periods lie in the sample, so it is composed anew in step with them: pieces come in another order.'
        : 'On the other axis there is no structure, so it is composed anew in step with the one that is there: where boards with joints are seen, of whole boards, each ending in a joint.',
    );
    return end({ method: 'composed', structure: structureToKeep(found) });
  }

  const abutting = seamFigures(picture);
  if (closesItself(picture) && uneven <= UNEVEN) {
    why.push(
      `Laid edge to edge it closes by itself: seams ${printNumber(abutting.acrossWidth, 2)} and ${printNumber(abutting.acrossHeight, 2)}.`,
    );
    return end(edges('abut'));
  }
  const oblong = Math.max(usedMm.width / usedMm.height, usedMm.height / usedMm.width);
  if (oblong > OBLONG) {
    const side = Number(Math.max(usedMm.width, usedMm.height).toPrecision(4));
    why.push(
      `The sample is ${printNumber(oblong)} times as long as it is wide, and would repeat at once across its short side: it is composed to a square of its length.`,
    );
    return end({ method: 'composed', composed: { ...now.composed, widthMm: side, heightMm: side } });
  }
  const { lengthPx, distinct } = featuresOf(picture);
  const feature = lengthPx / Math.min(w, h);
  if (feature <= FINE && distinct < DISTINCT) {
    why.push(
      `No regular structure was found, and nothing in it is longer than ${percent(feature)} of the sample: a blend does not show in anything so fine.`,
    );
    return end(edges('blend'));
  }
  if (feature <= FINE)
    why.push(
      'No regular structure was found, but shells, veins, chips or the like stand out in it: it is composed anew, so that none is cut off or shines through another.',
    );
  else
    why.push(
      `No regular structure was found, and its features are as long as ${percent(feature)} of the sample: it is composed anew, so that none is cut off or mixed.`,
    );
  return end({ method: 'composed' });
}

/**
 * Whether a picture closes as it is. What is cut off at an edge differs the more from what meets it there the coarser it is
 * looked at, while its inside differs less and less from line to line.
 */
function closesItself(picture: ColourPicture): boolean {
  const half = mapChannels(picture, halve);
  return [picture, half, mapChannels(half, halve)].every((p) => {
    const { acrossWidth, acrossHeight } = seamFigures(p);
    return Math.max(acrossWidth, acrossHeight) <= CLOSES;
  });
}

/** Difference in L* between the quarter along one edge and that along the opposite one; the larger of both axes. */
function edgeDifference(picture: ColourPicture): number {
  const light = luminancePlane(picture);
  const { widthPx: w, heightPx: h, data } = light;
  const over = (x0: number, x1: number, y0: number, y1: number) => {
    let [sum, n] = [0, 0];
    for (let y = y0; y < y1; y++)
      for (let x = x0; x < x1; x++) {
        sum += data[y * w + x]!;
        n++;
      }
    return 116 * Math.cbrt(Math.max(1e-6, sum / n));
  };
  const [qx, qy] = [Math.max(1, w >> 2), Math.max(1, h >> 2)];
  return Math.max(
    Math.abs(over(0, qx, 0, h) - over(w - qx, w, 0, h)),
    Math.abs(over(0, w, 0, qy) - over(0, w, h - qy, h)),
  );
}

/**
 * How long the features of a picture are, px: the shift after which it does not look like itself any more (correlation below
 * 0.2), the longer of both axes. Changes broader than a fifth of the picture are not features. And how distinct they are:
 * excess kurtosis, 0 for grain without any.
 */
function featuresOf(picture: ColourPicture): { lengthPx: number; distinct: number } {
  const light = luminancePlane(picture);
  for (let i = 0; i < light.data.length; i++) light.data[i] = Math.cbrt(Math.max(0, light.data[i]!));
  const { widthPx: w, heightPx: h } = light;
  const short = Math.min(w, h);
  const broad = blurWrapped(light, short / 5, short / 5);
  const plane = makePlane(w, h);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = light.data[i]! - broad.data[i]!;
  const off = mean(plane.data);
  for (let i = 0; i < plane.data.length; i++) plane.data[i]! -= off;
  const reach = Math.floor(short / 3);
  const [acf] = autocorrelations(plane, plane, null, reach, reach);
  const along = (at: (d: number) => number) => {
    for (let d = 1; d <= reach; d++) if (at(d) < 0.2) return d;
    return reach;
  };
  // Softened a little: noise is not a feature.
  const soft = blurWrapped(plane, 1.2, 1.2).data;
  let [squares, fourths] = [0, 0];
  for (const v of soft) {
    squares += v * v;
    fourths += wholePower(v, 4);
  }
  return {
    lengthPx: Math.max(
      along((d) => acf.data[reach + d]!),
      along((d) => acf.data[d * acf.widthPx + reach]!),
    ),
    distinct: squares > 0 ? (fourths * soft.length) / (squares * squares) - 3 : 0,
  };
}
