import { autocorrelations, halve, mapChannels, resample, type ColourPicture, type Plane } from '../raster';
import { bestComb, confidenceOf, LEAST_BY_EDGES, LEAST_BY_LIGHT, SHORTEST_PX, withoutTrend } from './comb';
import { phaseOf, sharpened, stepsAlong } from './lines-across';
import { wholePeriods } from './whole-period';
import type { FoundPeriod, FoundStructure } from './found-structure';
import { featuresOf } from './lattice/features';

/** What a search at one size finds. */
type Found = Omit<FoundStructure, 'whole'>;

/** Confidence from which a candidate is taken for a structure. */
export const CONFIDENT = 0.5;
/** Longest side of the picture that is searched, px: first the small one, and where nothing is found, the large one. */
export const STRUCTURE_SIDES_PX = [632, 1264] as const;
/** Shifts up to this share of the frame are looked at: a period must show at least about twice. */
const REACH = 0.61;

/** Correlation along one axis, the best of a few pixels beside it: a frame may be a little out of true. */
function profile(acf: Plane, reachX: number, reachY: number, axis: 'across' | 'up'): Float64Array {
  const length = axis === 'across' ? reachX : reachY;
  const out = new Float64Array(length + 1);
  for (let d = 0; d <= length; d++) {
    const aside = Math.min(axis === 'across' ? reachY : reachX, 1 + Math.floor(d / 100));
    let best = -1;
    for (let s = axis === 'across' ? 0 : -aside; s <= aside; s++) {
      if (axis === 'across') {
        best = Math.max(
          best,
          acf.data[s * acf.widthPx + reachX + d]!,
          acf.data[s * acf.widthPx + reachX - d]!,
        );
      } else best = Math.max(best, acf.data[d * acf.widthPx + reachX + s]!);
    }
    out[d] = best;
  }
  return out;
}

/**
 * The period on which several readings agree: light, edges, and the straight lines across the axis. Of three readings
 * the middle one; of two by correlation the sharper, unless straight lines close to it say more.
 */
function agreedPeriod(
  light: number | null,
  edge: number | null,
  sharper: number,
  lines: number | null,
): number {
  if (lines === null) return sharper;
  // One may have the period of the yarn, the other that of its draft: then they are no two readings of one thing.
  if (light !== null && edge !== null && Math.abs(light / edge - 1) < 0.06)
    return [light, edge, lines].sort((a, b) => a - b)[1]!;
  return Math.abs(lines / sharper - 1) < 0.005 ? lines : sharper;
}

/** The same search at one size. */
function searchAt(picture: ColourPicture, keptOut: Plane | undefined): Found {
  const { widthPx: w, heightPx: h } = picture;
  const none: Found = { across: null, up: null, confidence: { across: 0, up: 0 }, stagger: null };
  if (Math.min(w, h) < 3 * SHORTEST_PX) return none;
  const { lightness, edges, usable } = featuresOf(picture, keptOut);
  const [reachX, reachY] = [Math.floor(w * REACH), Math.floor(h * REACH)];
  const [byLight, byEdges] = autocorrelations(lightness, edges, keptOut ? usable : null, reachX, reachY);
  const axis = (
    name: 'across' | 'up',
    lengthPx: number,
  ): { found: FoundPeriod | null; confidence: number } => {
    const comb = (acf: Plane) => {
      const p = profile(acf, reachX, reachY, name);
      return bestComb(withoutTrend(p, Math.max(8, p.length >> 2)));
    };
    const [light, edge] = [comb(byLight), comb(byEdges)];
    const [cLight, cEdge] = [confidenceOf(light, LEAST_BY_LIGHT), confidenceOf(edge, LEAST_BY_EDGES)];
    // Edges are narrow, light wanders: edges are believed, unless theirs is a fraction of light's period (both sides of
    // a yarn, a course of a pair).
    const fraction = light && edge ? light.periodPx / edge.periodPx : 0;
    const whole = Math.round(fraction);
    const within = whole >= 2 && Math.abs(fraction / whole - 1) < 0.03 && cLight >= CONFIDENT;
    const best = cEdge >= CONFIDENT && !within ? edge : cLight >= cEdge ? light : edge;
    const confidence = Math.max(cLight, cEdge);
    if (!best || confidence < CONFIDENT) return { found: null, confidence };
    const steps = stepsAlong(lightness, name);
    const agreed = agreedPeriod(
      cLight >= CONFIDENT ? light!.periodPx : null,
      // A fraction of the period shows more often, so it tells the whole the more sharply.
      cEdge >= CONFIDENT ? edge!.periodPx * (within ? whole : 1) : null,
      within ? edge!.periodPx * whole : best.periodPx,
      sharpened(steps, best.periodPx),
    );
    const firstPx = phaseOf(steps, agreed);
    const periodPx = agreed;
    return {
      found: {
        period: periodPx / lengthPx,
        count: lengthPx / periodPx,
        confidence,
        first: firstPx / lengthPx,
      },
      confidence,
    };
  };
  const [across, up] = [axis('across', w), axis('up', h)];
  if (across.found && up.found) {
    // A lattice with a point in its middle: courses that are shifted by half. The axis with the stronger straight lines
    // is the one across the courses, and its period is the course.
    const [px, py] = [across.found.period * w, up.found.period * h];
    const there = (dx: number, dy: number) => correlationNear([byLight, byEdges], reachX, dx, dy);
    if (there(px / 2, py / 2) > 0.75 * Math.max(there(px, 0), there(0, py))) {
      const strength = (name: 'across' | 'up') =>
        Math.max(...stepsAlong(lightness, name)) / (name === 'across' ? h : w);
      const [half, periodPx, lengthPx] =
        strength('up') >= strength('across') ? ([up, py / 2, h] as const) : ([across, px / 2, w] as const);
      half.found = {
        ...half.found!,
        period: periodPx / lengthPx,
        count: lengthPx / periodPx,
        first: half.found!.first % (periodPx / lengthPx),
      };
    }
  }
  return {
    across: across.found,
    up: up.found,
    confidence: { across: across.confidence, up: up.confidence },
    stagger:
      across.found && up.found
        ? staggerOf(byLight, byEdges, across.found.period * w, up.found.period * h, reachX)
        : null,
  };
}

/** Sum of two correlations at a shift, the best of a few pixels about it. */
function correlationNear(acfs: readonly Plane[], reachX: number, dx: number, dy: number): number {
  let best = -1;
  for (let j = -2; j <= 2; j++)
    for (let i = -2; i <= 2; i++) {
      const [x, y] = [Math.round(dx) + i, Math.round(dy) + j];
      if (y < 0 || y >= acfs[0]!.heightPx || Math.abs(x) > reachX) continue;
      const at = y * acfs[0]!.widthPx + reachX + x;
      best = Math.max(
        best,
        acfs.reduce((sum, acf) => sum + acf.data[at]!, 0),
      );
    }
  return best;
}

/** Shift from one course to the next that correlates best, in shares of the period across. */
function staggerOf(light: Plane, edges: Plane, px: number, py: number, reachX: number): number {
  const row = Math.min(light.heightPx - 1, Math.round(py)) * light.widthPx + reachX;
  let best = 0;
  let bestValue = -Infinity;
  for (let dx = 0; dx < px; dx++) {
    let value = 0;
    for (let k = -1; k <= 1; k++) {
      const x = Math.round(dx + k * px);
      if (Math.abs(x) <= reachX) value = Math.max(value, light.data[row + x]! + edges.data[row + x]!);
    }
    if (value > bestValue) [best, bestValue] = [dx, value];
  }
  return (best / px) % 1;
}

const shrunkTo = (picture: ColourPicture, mask: Plane | undefined, sidePx: number) => {
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
};

/**
 * Finds the structure that repeats in a straightened sample: period along each axis, count, and how sure it is.
 *
 * Correlation with itself (FFT) of lightness without broad changes, and of edges; on each axis the shortest period whose
 * peaks, followed from one to the next, stand about as high as those of any longer one. The period is sharpened on the
 * harmonics of the edges along the axis. An axis on which nothing is found is searched again at twice the size, for
 * fine structures.
 *
 * @param picture the straightened frame, linear light, any size
 * @param keptOut where the sample must not be looked at, same size, 1 = kept out
 */
export function findStructure(picture: ColourPicture, keptOut?: Plane): FoundStructure {
  const [side, finer] = STRUCTURE_SIDES_PX;
  const { small, kept } = shrunkTo(picture, keptOut, side);
  const found = searchAt(small, kept);
  if ((found.across && found.up) || Math.max(picture.widthPx, picture.heightPx) < 1.3 * side)
    return { ...found, whole: wholePeriods(small, found, kept) };
  const again = shrunkTo(picture, keptOut, finer);
  const fine = searchAt(again.small, again.kept);
  const both: Found = {
    across: found.across ?? fine.across,
    up: found.up ?? fine.up,
    confidence: {
      across: found.across ? found.confidence.across : fine.confidence.across,
      up: found.up ? found.confidence.up : fine.confidence.up,
    },
    stagger: found.stagger ?? fine.stagger,
  };
  return { ...both, whole: wholePeriods(again.small, both, again.kept) };
}
