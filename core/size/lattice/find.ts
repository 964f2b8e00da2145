import { sharpened, stepsAlong } from '../lines-across';
import { linesStanding } from './lines-stand';
import { autocorrelations, type ColourPicture, type Plane } from '../../raster';
import { atOnce, type Steps } from '../../steps';
import { compose, type Homography } from '../../straighten';
import { bestComb, confidenceOf, SHORTEST_PX, withoutTrend } from '../comb';
import type { NotAStructure } from '../found-structure';
import { areaOfCourses, judgedBy, meanOf, partOfALarger, rightCell } from './cell';
import { coursesOf, scaledCourses, snappedShift, type Courses } from './courses';
import { apartFromLines, featuresOf, halvedFeatures, lineMeans, type Features } from './features';
import { correlationOf, REACH, reduced, searchLattices } from './search';
import { track, type Tracked } from './track';
import { comparison, type Pair } from './fold';
import { atHalfScale, lineDirection, rectifierOf, warped, type Lean } from './rectify';

/** A structure as it was followed over a picture. */
interface Followed extends Tracked {
  /** Maps the picture to the rectified one, in its pixels. */
  rectifier: Homography;
}

/** The same with the picture rectified by it. */
interface FoundLattice extends Followed {
  rectified: Features;
}

/** What was tried. */
export interface Trial extends FoundLattice {
  /** Of the picture as it was given. */
  features: Features;
  /** Why it is no structure; null: it is seen all over the picture, and does not wander. */
  refused: NotAStructure | null;
}

/** Least height of the points of a lattice, in deviations of chance. */
const LEAST_HEIGHT = 3;
/** A structure that wanders further is none, as a share of its period; beyond what windows are off by in measuring, px. */
const MOST_WANDER = 0.05;
const MEASURING_PX = 0.5;
/** It has to be seen where it is expected in this share of the picture. */
const LEAST_SEEN = 0.6;
/** A period has to show so many times: less than that is chance, unless the periods are so much alike as only a pattern is. */
const LEAST_PERIODS = 2.5;
const LEAST_PERIODS_ALIKE = 1.8;
const PATTERN_ALIKE = 0.5;
/** Lines along one axis have to be more: some period fits any three. */
const LEAST_LINES = 3.8;
/** Lines of a single axis have to stand at this share of their places; at less before the picture is fully rectified. */
const LINES_LIKELY = 0.8;
const LINES_SURE = 0.9;
/** And so much like itself; a lattice also apart from its beds. By chance a lattice is hardly more like a picture than not at all. */
const LEAST_SIMILAR = 0.2;
const BEYOND_CHANCE = 0.08;

/** How far from where it is expected a structure is looked for, round by round, as shares of its periods. */
const REACHES = [0.38, 0.2, 0.12, 0.08];

const LEVEL: Lean = { standing: 0, lying: 0, nearer: [0, 0] };

/** Lines that stand out by less may be those of a twill: they tell how a picture leans when they lean by no more than the tangent. */
const CLEAR_LINES = 8;
const FAINT_LEAN = 0.05;

/** What the straight lines of a picture say of how it leans. A turn is taken for both where only one is seen. */
function leanOfLines({ lightness, usable }: Features): Lean {
  const seen = (lines: 'lying' | 'standing'): number | undefined => {
    const found = lineDirection(lightness, usable, lines);
    const tells = found && (found.strength >= CLEAR_LINES || Math.abs(found.tangent) <= FAINT_LEAN);
    return tells ? found.tangent : undefined;
  };
  const lying = seen('lying');
  const standing = seen('standing');
  return {
    ...LEVEL,
    lying: -(lying ?? (standing === undefined ? 0 : -standing)),
    standing: -(standing ?? (lying === undefined ? 0 : -lying)),
  };
}

/** The period of a profile: of the mean of rows or of columns. */
function periodOf(profile: Float64Array): number | null {
  const n = profile.length;
  const reach = Math.floor(n * REACH);
  const mean = profile.reduce((a, b) => a + b, 0) / n;
  const acf = new Float64Array(reach + 1);
  let square = 0;
  for (const v of profile) square += ((v - mean) * (v - mean)) / n;
  if (square < 1e-9) return null;
  for (let d = 0; d <= reach; d++) {
    let sum = 0;
    for (let i = 0; i + d < n; i++) sum += (profile[i]! - mean) * (profile[i + d]! - mean);
    acf[d] = sum / (n - d) / square;
  }
  const comb = bestComb(withoutTrend(acf, Math.max(8, acf.length >> 2)));
  return comb && confidenceOf(comb) > 0.5 ? comb.periodPx : null;
}

/** A structure that may be there, and the tangent by which it falls to the right. */
interface Candidate {
  courses: Courses;
  falls: number;
}

/** Lattices of what is the same neither all along rows nor all along columns. */
function latticesOf({ lightness, edges, usable }: Features): Candidate[] {
  const { widthPx: w, heightPx: h } = usable;
  const [reachX, reachY] = [Math.floor(w * REACH), Math.floor(h * REACH)];
  const [light, edge] = [lightness, edges].map((p) => apartFromLines(p, usable)) as [Plane, Plane];
  const acfs = autocorrelations(light, edge, usable, reachX, reachY);
  return searchLattices(correlationOf(acfs, reachX, reachY))
    .filter(({ height }) => height > LEAST_HEIGHT)
    .flatMap(({ lattice }) => coursesOf(lattice) ?? [])
    .filter((one, k, all) => all.findIndex((other) => alike(one.courses, other.courses)) === k)
    .slice(0, FOLLOWED);
}

/** Candidates that are followed over the picture. */
const FOLLOWED = 3;
const alike = (a: Courses, b: Courses) =>
  Math.abs(a.acrossPx! / b.acrossPx! - 1) < 0.02 &&
  Math.abs(a.upPx! / b.upPx! - 1) < 0.02 &&
  Math.abs(a.stagger - b.stagger) < 0.02;

/** Parts and multiples of a period that are compared: a correlation may show a third of the boards, or every second one. */
const PARTS_AND_MULTIPLES = [1 / 3, 1 / 2, 1, 2, 3];

/** The period of one axis by itself: the shortest one at every multiple of which a line stands. */
function axisOf(
  { lightness, edges, usable }: Features,
  axis: 'rows' | 'columns',
  least = LEAST_LINES,
): Candidate[] {
  const length = axis === 'rows' ? usable.heightPx : usable.widthPx;
  const periods = [lightness, edges]
    .flatMap((plane) => periodOf(lineMeans(plane, usable, axis)) ?? [])
    .flatMap((period) => PARTS_AND_MULTIPLES.map((times) => period * times))
    .filter((period) => period >= 2 * SHORTEST_PX && length / period >= least)
    .filter((period) => linesStanding(lightness, usable, axis, period) > LINES_LIKELY)
    .sort((a, b) => a - b);
  const none = { acrossPx: null, upPx: null, stagger: 0 };
  return periods
    .slice(0, 1)
    .map((period) => ({ courses: { ...none, [axis === 'rows' ? 'upPx' : 'acrossPx']: period }, falls: 0 }));
}

/** Features of one picture at its own scale, at half of it, and so on. */
type Scales = readonly Features[];
/** Periods of so many pixels are followed as surely as larger ones. */
const ENOUGH_PX = 16;
const MOST_HALVINGS = 2;

const scalesOf = (features: Features): Scales => {
  const half = halvedFeatures(features);
  return [features, half, halvedFeatures(half)];
};

/** The smallest scale that shows a structure. */
const halvingsFor = ({ acrossPx, upPx }: Courses): number => {
  const shortest = Math.min(acrossPx ?? Infinity, upPx ?? Infinity);
  return Math.max(0, Math.min(MOST_HALVINGS, Math.floor(Math.log2(shortest / ENOUGH_PX))));
};
/** Features at one of their scales as a map of the whole picture takes them. */
function warpedAt(scales: Scales, halvings: number, map: Homography): Features {
  let scaled = map;
  for (let k = 0; k < halvings; k++) scaled = atHalfScale(scaled);
  return warped(scales[halvings]!, scaled);
}

/**
 * Follows a structure round by round, each time in a picture rectified by what the last one found.
 * @param last 'finely': the last round is at full scale, whatever scale shows the structure
 */
function followed(
  scales: Scales,
  start: Homography,
  { courses, falls }: Candidate,
  reaches: readonly number[],
  last: 'finely' | 'coarsely',
): Followed | null {
  const { widthPx: w, heightPx: h } = scales[0]!.usable;
  let map =
    falls === 0 ? start : compose(rectifierOf({ ...LEVEL, lying: -falls, standing: falls }, w, h), start);
  let now = courses;
  let found: Tracked | null = null;
  for (const [k, reach] of reaches.entries()) {
    const halvings = last === 'finely' && k === reaches.length - 1 ? 0 : halvingsFor(now);
    const { lightness, edges, usable } = warpedAt(scales, halvings, map);
    found = track([lightness, edges], usable, scaledCourses(now, 1 / (1 << halvings)), reach);
    if (!found) return null;
    now = scaledCourses(found.courses, 1 << halvings);
    map = compose(rectifierOf(found.lean, w, h), map);
  }
  return { ...found!, courses: now, rectifier: map };
}

/** A shift that was followed over the picture is known so well, as a share of the way along. */
const SHIFT_ERROR = 0.015;

/** A lean of what stands may have been taken for a shift of the courses: where straight lines stand, they tell. */
function shiftByLines(found: FoundLattice): { courses: Courses; rectifier: Homography } {
  const { courses, rectified, rectifier } = found;
  const { acrossPx, upPx } = courses;
  if (acrossPx === null || upPx === null) return found;
  const { widthPx: w, heightPx: h } = rectified.usable;
  const leans = lineDirection(rectified.lightness, rectified.usable, 'standing')?.tangent ?? 0;
  const shift = courses.stagger - (leans * upPx) / acrossPx;
  return {
    courses: { ...courses, stagger: snappedShift(shift - Math.floor(shift), SHIFT_ERROR) },
    rectifier: compose(rectifierOf({ ...LEVEL, standing: -leans }, w, h), rectifier),
  };
}

/** Lines of a picture as it is, whose steps add up to this share of what they do in the rectified one, stand as straight. */
const AS_STRAIGHT = 0.98;

/**
 * A structure of one axis in the picture as it was given, where its lines stand as straight there: windows along boards see the same
 * boards, so that a lean that is followed over them may be chance.
 */
function straightAsGiven(found: FoundLattice, given: Features): FoundLattice {
  const { acrossPx, upPx } = found.courses;
  if (acrossPx !== null && upPx !== null) return found;
  const axis = acrossPx === null ? 'up' : 'across';
  const energy = (steps: Float64Array) => steps.reduce((sum, v) => sum + v * v, 0);
  const steps = stepsAlong(given.lightness, axis);
  if (energy(steps) < AS_STRAIGHT * energy(stepsAlong(found.rectified.lightness, axis))) return found;
  const { widthPx: w, heightPx: h } = given.usable;
  const period = (acrossPx ?? upPx)!;
  const courses = {
    ...found.courses,
    [axis === 'up' ? 'upPx' : 'acrossPx']: sharpened(steps, period) ?? period,
  };
  return { ...found, courses, rectifier: rectifierOf(LEVEL, w, h), rectified: given };
}

/**
 * The period of a single axis: the shortest part of it whose lines stand in the picture, now that it is rectified, sharpened on
 * all of them. They are few, and windows beside each other see the same.
 */
function sharpenedByLines(found: FoundLattice): FoundLattice {
  const { acrossPx, upPx } = found.courses;
  if (acrossPx !== null && upPx !== null) return found;
  const { lightness, usable } = found.rectified;
  const up = acrossPx === null;
  const steps = stepsAlong(lightness, up ? 'up' : 'across');
  for (const parts of [3, 2, 1]) {
    const part = (up ? upPx! : acrossPx!) / parts;
    const sharp = sharpened(steps, part);
    const period = sharp !== null && Math.abs(sharp / part - 1) < SAME_PERIOD ? sharp : part;
    if (parts > 1 && linesStanding(lightness, usable, up ? 'rows' : 'columns', period) < LINES_SURE) continue;
    return { ...found, courses: { ...found.courses, [up ? 'upPx' : 'acrossPx']: period } };
  }
  return found;
}

/** Periods that differ by less are two readings of one, as a share. */
const SAME_PERIOD = 0.012;

/** A lattice is so much more similar to the picture than its courses alone, and than its columns alone; boards are not. */
const BEYOND_ONE_AXIS = 0.03;

/** How many times a structure shows: along the vector of its lattice that fits least often into the picture, of the two shortest. */
function timesShown({ acrossPx, upPx, stagger }: Courses, { widthPx: w, heightPx: h }: Plane): number {
  if (acrossPx === null || upPx === null) return Math.min(w / (acrossPx ?? 1), h / (upPx ?? 1));
  const { first, second } = reduced({ first: [acrossPx, 0], second: [stagger * acrossPx, upPx] });
  return Math.min(...[first, second].map(([x, y]) => Math.min(w / Math.abs(x), h / Math.abs(y))));
}

/** Why a structure does not hold all over the picture; null: it does. */
function refusal({ wander, seen, rectified, courses }: FoundLattice): NotAStructure | null {
  const { acrossPx, upPx } = courses;
  const { lightness, edges, usable } = rectified;
  const seldom: NotAStructure = { why: 'seldom seen', amount: seen };
  const like = (planes: Pair, as: Courses) => meanOf(comparison(planes, usable, courses)(as).flat());
  const similar = like(judgedBy(rectified, courses), courses);
  const shows = timesShown(courses, usable);
  const least = similar >= PATTERN_ALIKE ? LEAST_PERIODS_ALIKE : LEAST_PERIODS;
  if (shows < least && similar >= BEYOND_CHANCE) return { why: 'few periods', amount: shows };
  if (similar < LEAST_SIMILAR) return seldom;
  const shortest = Math.min(acrossPx ?? Infinity, upPx ?? Infinity);
  if (wander > MOST_WANDER + MEASURING_PX / shortest) return { why: 'wanders', amount: wander };
  if (seen < LEAST_SEEN) return seldom;
  if (acrossPx === null || upPx === null) {
    if (shows < LEAST_LINES) return { why: 'few periods', amount: shows };
    const lines = linesStanding(lightness, usable, upPx ? 'rows' : 'columns', (upPx ?? acrossPx)!);
    return lines > LINES_SURE ? null : { why: 'seldom seen', amount: lines };
  }
  const larger = partOfALarger(rectified, courses);
  if (larger !== null) return { why: 'few periods', amount: larger };
  const planes: Pair = [lightness, edges];
  const alone = ([{ acrossPx: null }, { upPx: null }] as const).map((axis) =>
    like(planes, { ...courses, ...axis, stagger: 0 }),
  );
  return like(planes, courses) > Math.max(...alone) + BEYOND_ONE_AXIS ? null : seldom;
}

/** A candidate that is so much like the picture is right, or a part of what is right. */
const CLEARLY_SIMILAR = 0.7;

/** The candidate that is most similar to the picture, once each was followed for a round. */
function* mostSimilar(
  scales: Scales,
  start: Homography,
  candidates: readonly Candidate[],
): Steps<Followed | null> {
  let best: { found: Followed; like: number } | null = null;
  for (const candidate of candidates) {
    yield;
    const halvings = halvingsFor(candidate.courses);
    const found = followed(scales, start, candidate, REACHES.slice(0, 1), 'coarsely');
    if (!found) continue;
    const rectified = warpedAt(scales, halvings, found.rectifier);
    const courses = scaledCourses(found.courses, 1 / (1 << halvings));
    const like = meanOf(comparison(judgedBy(rectified, courses), rectified.usable, courses)(courses).flat());
    if (like > (best?.like ?? 0)) best = { found, like };
    if (like >= CLEARLY_SIMILAR) break;
  }
  return best && best.found;
}

/** Cell and lean in turn, until the cell stays: one is judged the better the truer the other is. */
function* settled(scales: Scales, found: Followed): Steps<FoundLattice> {
  const whole = (of: Followed): FoundLattice => ({ ...of, rectified: warped(scales[0]!, of.rectifier) });
  let now = whole(found);
  for (let round = 0; round < 2; round++) {
    yield;
    const halvings = halvingsFor(now.courses);
    const coarse = halvings > 0 ? warpedAt(scales, halvings, now.rectifier) : null;
    const cell = rightCell(
      now.rectified,
      now.courses,
      coarse && { features: coarse, scale: 1 / (1 << halvings) },
    );
    yield;
    const { courses, rectifier } = shiftByLines({ ...now, courses: cell });
    const next = followed(scales, rectifier, { courses, falls: 0 }, REACHES.slice(2), 'finely');
    if (next) now = whole(next);
    if (!next || cell === now.courses || areaOfCourses(cell) === areaOfCourses(found.courses)) break;
  }
  return now;
}

/**
 * Finds the lattice of a picture that may be seen askew: candidates are followed over the whole picture, and what wanders, or
 * is not seen all over it, is none.
 * @param picture linear light, a few hundred pixels
 * @param keptOut 1 where it must not be looked at
 * @returns the structure, or the best candidate that does not hold; null: nothing repeats
 */
export const findLattice = (picture: ColourPicture, keptOut?: Plane): Trial | null =>
  atOnce(latticeSteps(picture, keptOut));

/** The same in steps: it takes a second or two. */
export function* latticeSteps(picture: ColourPicture, keptOut?: Plane): Steps<Trial | null> {
  const { widthPx: w, heightPx: h } = picture;
  const features = featuresOf(picture, keptOut);
  const start = rectifierOf(leanOfLines(features), w, h);
  const level = warped(features, start);
  const scales = scalesOf(features);
  let best: Trial | null = null;
  function* tried(candidates: readonly Candidate[]): Steps<Trial | null> {
    const likely = yield* mostSimilar(scales, start, candidates);
    yield;
    const found =
      likely &&
      followed(scales, likely.rectifier, { courses: likely.courses, falls: 0 }, REACHES.slice(1), 'finely');
    if (!found) return null;
    const again = sharpenedByLines(yield* settled(scales, found));
    yield;
    const refused = refusal(again);
    const trial = { ...(refused ? again : straightAsGiven(again, features)), features, refused };
    best ??= trial;
    return trial.refused ? null : trial;
  }
  yield;
  const candidates = latticesOf(level);
  const lattice = yield* tried(candidates);
  if (lattice && wholeLikeness(lattice) >= CLEARLY_SIMILAR) return lattice;
  // Courses alone would be right, but pieces laid by them would break the bond that is seen too seldom to be known.
  const seen = best as Trial | null;
  if (!lattice && seen?.refused?.why === 'few periods') return seen;
  const rows = yield* tried(axisOf(level, 'rows'));
  const columns = yield* tried(axisOf(level, 'columns'));
  const crossed = crossing(scales, level, rows, columns, lattice ? null : latticeOnly(seen));
  if (lattice) {
    // Lines along both axes are no part of what lattices are sought in: joints of a stack bond tell more than tones of its pieces.
    const more = crossed && wholeLikeness(crossed) > wholeLikeness(lattice) + BEYOND_ONE_AXIS;
    return more ? crossed : lattice;
  }
  return crossed ?? rows ?? columns ?? best;
}

const latticeOnly = (trial: Trial | null): Trial | null =>
  trial?.courses.acrossPx && trial.courses.upPx ? trial : null;

/** How much a picture is like itself a period on, apart from the lines along its axes. */
const likenessApart = ({ rectified, courses }: FoundLattice): number =>
  meanOf(comparison(judgedBy(rectified, courses), rectified.usable, courses)(courses).flat());

/** How much a picture is like itself a period on, with the lines along its axes. */
function wholeLikeness({ rectified: { lightness, edges, usable }, courses }: FoundLattice): number {
  return meanOf(comparison([lightness, edges], usable, courses)(courses).flat());
}

/**
 * The lattice of lines that stand along both axes; null: there is none. Where lines were found along one axis, fewer along the
 * other are enough, if it then holds as a lattice.
 * @param refused a lattice that was found before, but does not hold
 */
function crossing(
  scales: Scales,
  level: Features,
  rows: Trial | null,
  columns: Trial | null,
  refused: Trial | null,
): Trial | null {
  const one = rows ?? columns;
  if (!one) return null;
  const fewer = (axis: 'rows' | 'columns') => axisOf(level, axis, LEAST_PERIODS)[0]?.courses;
  const { acrossPx = null } = columns?.courses ?? fewer('columns') ?? {};
  const { upPx = null } = rows?.courses ?? fewer('rows') ?? {};
  if (acrossPx === null || upPx === null) return null;
  const courses = { acrossPx, upPx, stagger: 0 };
  const both = followed(scales, one.rectifier, { courses, falls: 0 }, REACHES.slice(1), 'finely');
  if (!both) return null;
  const found = { ...both, rectified: warped(scales[0]!, both.rectifier) };
  const holds = (rows && columns) || refusal(found) === null;
  // Lines along both axes cross in a herringbone too, whose own lattice is another one.
  const isPartOf = refused !== null && likenessApart(refused) > likenessApart(found) + BEYOND_CHANCE;
  return holds && !isPartOf ? { ...found, features: one.features, refused: null } : null;
}
