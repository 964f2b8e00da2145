import { halve, mapChannels, resample, type ColourPicture, type Plane } from '../raster';
import { atOnce, type Steps } from '../steps';
import { NO_STRUCTURE, type FoundPeriod, type FoundStructure } from './found-structure';
import type { Courses } from './lattice/courses';
import { latticeSteps } from './lattice/find';
import { reduced } from './lattice/search';
import { proposedFrame } from './lattice/straightening';
import { phaseOf, stepsAlong } from './lines-across';

/** Longest side of the picture that is searched, px. */
export const STRUCTURE_SIDE_PX = 632;
/** Where the whole frame shows nothing, its middle half is searched at this many times the scale, for fine structures. */
export const FINER_TIMES = 2;
/** There a period is fine when it is shorter. */
const FINE_PX = 24;
/** A larger picture is needed for that. */
const FINER_FROM_PX = 1.3 * STRUCTURE_SIDE_PX;
/** Smaller pictures show no structure that could be told from chance. */
const LEAST_SIDE_PX = 12;

/**
 * Finds the structure that repeats in a sample: a lattice in two dimensions, or lines along one axis, followed over the whole
 * picture; and how the picture would be straightened by it.
 *
 * @param picture the frame as straightened so far, linear light, any size
 * @param keptOut where the sample must not be looked at, same size, 1 = kept out
 */
export const findStructure = (picture: ColourPicture, keptOut?: Plane): FoundStructure =>
  atOnce(structureSteps(picture, keptOut));

/** The same in steps: it takes seconds. */
export function* structureSteps(picture: ColourPicture, keptOut?: Plane): Steps<FoundStructure> {
  const whole = shrunkTo(picture, keptOut, STRUCTURE_SIDE_PX);
  const found = yield* searched(whole.small, whole.kept);
  if (found.across || found.up || Math.max(picture.widthPx, picture.heightPx) < FINER_FROM_PX) return found;
  const { small, kept } = shrunkTo(picture, keptOut, FINER_TIMES * STRUCTURE_SIDE_PX);
  const [left, top] = [small.widthPx >> 2, small.heightPx >> 2];
  const middle = (plane: Plane) =>
    resample(
      plane,
      { leftPx: left, topPx: top, stepX: 1, stepY: 1 },
      small.widthPx >> 1,
      small.heightPx >> 1,
    );
  const fine = yield* searched(mapChannels(small, middle), kept && middle(kept));
  if (!fine.across && !fine.up) return found;
  // A structure that the whole frame shows too seldom looks like courses alone in its middle.
  const shortestPx = Math.min(
    ...[fine.across, fine.up].map((axis) => (axis ? STRUCTURE_SIDE_PX * axis.period : Infinity)),
  );
  if (found.refused?.why === 'few periods' && shortestPx > FINE_PX) return found;
  return inWhole(fine, left / small.widthPx, top / small.heightPx);
}

/** The same search at one size. */
function* searched(picture: ColourPicture, keptOut: Plane | undefined): Steps<FoundStructure> {
  const { widthPx: w, heightPx: h } = picture;
  const found = Math.min(w, h) < LEAST_SIDE_PX ? null : yield* latticeSteps(picture, keptOut);
  if (!found || found.refused) return { ...NO_STRUCTURE, refused: found && found.refused };
  const { lightness } = found.features;
  const { acrossPx, upPx, stagger } = found.courses;
  const period = (axis: 'across' | 'up', px: number | null, side: number): FoundPeriod | null =>
    px === null
      ? null
      : {
          period: px / side,
          count: side / px,
          confidence: found.seen,
          first: phaseOf(stepsAlong(lightness, axis), px) / side,
        };
  return {
    across: period('across', acrossPx, w),
    up: period('up', upPx, h),
    stagger: acrossPx && upPx ? stagger : null,
    lattice: latticeOf(found.courses, w, h),
    straighten: proposedFrame(
      found.rectifier,
      w,
      h,
      acrossPx && upPx ? (w * h) / (acrossPx * upPx) : null,
      found.wander * Math.min(acrossPx ?? Infinity, upPx ?? Infinity),
    ),
    refused: null,
  };
}

/** The two shortest vectors of courses, in shares of the frame. */
function latticeOf({ acrossPx, upPx, stagger }: Courses, w: number, h: number): FoundStructure['lattice'] {
  if (!acrossPx || !upPx) return null;
  const { first, second } = reduced({ first: [acrossPx, 0], second: [stagger * acrossPx, upPx] });
  return [
    [first[0] / w, first[1] / h],
    [second[0] / w, second[1] / h],
  ];
}

/** What was found in the middle half of a frame, in shares of the whole; straightening needs the whole. */
function inWhole(fine: FoundStructure, left: number, top: number): FoundStructure {
  const along = (found: FoundPeriod | null, from: number): FoundPeriod | null =>
    found && {
      ...found,
      period: found.period / 2,
      count: found.count * 2,
      first: (from + found.first / 2) % (found.period / 2),
    };
  const half = ([x, y]: readonly [number, number]) => [x / 2, y / 2] as const;
  return {
    ...fine,
    across: along(fine.across, left),
    up: along(fine.up, top),
    lattice: fine.lattice && [half(fine.lattice[0]), half(fine.lattice[1])],
    straighten: null,
  };
}

/** A picture and its mask so that the longer side is at most so many pixels. */
function shrunkTo(picture: ColourPicture, mask: Plane | undefined, sidePx: number) {
  let [small, kept] = [picture, mask];
  while (Math.max(small.widthPx, small.heightPx) >= 2 * sidePx) {
    small = mapChannels(small, halve);
    kept = kept && halve(kept);
  }
  const long = Math.max(small.widthPx, small.heightPx);
  if (long > sidePx) {
    const [w, h] = [small.widthPx, small.heightPx].map((n) =>
      Math.max(1, Math.round((n * sidePx) / long)),
    ) as [number, number];
    const shrink = (p: Plane) =>
      resample(p, { leftPx: 0, topPx: 0, stepX: p.widthPx / w, stepY: p.heightPx / h }, w, h);
    small = mapChannels(small, shrink);
    kept = kept && shrink(kept);
  }
  return { small, kept };
}
