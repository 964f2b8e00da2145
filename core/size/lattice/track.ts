import { solveLinear, squared } from '../../exact';
import type { Plane } from '../../raster';
import type { Courses } from './courses';
import { folded, lookedAt, similarityOf, windowsOf, type Pair } from './fold';
import type { Lean } from './rectify';

/**
 * Follows a structure over the picture: one mean cell is folded from all of it, and window by window it is looked how far
 * the structure lies from where the lattice expects it. What changes evenly over the picture is a lean or another period;
 * what is left is how far the structure wanders.
 */

/** How a window lies against the mean cell of all others. */
interface Sighting {
  /** Middle of the window, in halves of the longer side about the middle of the picture. */
  x: number;
  y: number;
  /** How far its structure lies from where it is expected, px; to the right and downwards. */
  offX: number;
  offY: number;
  /** Correlation with the mean cell there. */
  similarity: number;
}

export interface Tracked {
  /** What has to be taken out so that the structure lies evenly. */
  lean: Lean;
  /** The periods, measured over the whole picture. */
  courses: Courses;
  /** How far windows wander from the even structure, as shares of its periods; the larger of both axes. */
  wander: number;
  /** Share of windows in which the structure is seen where it is expected. */
  seen: number;
  /** Mean similarity of the windows. */
  similarity: number;
}

/** Likeness from which a window is taken to show the structure. */
const SHOWN = 0.12;
/** It is seen where it is expected when it is off by less, as a share of the period. */
const THERE = 0.16;

/** How far the structure of each window lies from where it is expected. */
function sightings(planes: Pair, usable: Plane, courses: Courses, reach: number): Sighting[] {
  const { widthPx: w, heightPx: h } = usable;
  const { fieldsOf, meansWithout } = folded(planes, usable, courses);
  const half = Math.max(w, h) / 2;
  const [reachX, reachY] = [courses.acrossPx, courses.upPx].map((p) =>
    p === null ? 0 : Math.min(18, Math.max(1, reach * p)),
  ) as [number, number];
  const out: Sighting[] = [];
  for (const window of windowsOf(w, h, courses, true)) {
    const looked = lookedAt(planes, usable, window);
    if (!looked) continue;
    const means = meansWithout(window);
    const like = (dx: number, dy: number) => {
      const [light, edges] = similarityOf(looked, fieldsOf(looked, dx, dy), means);
      return (light + edges) / 2;
    };
    const best = highest(like, reachX, reachY);
    out.push({
      x: (window.x0 + window.w / 2 - w / 2) / half,
      y: (window.y0 + window.h / 2 - h / 2) / half,
      offX: best.x,
      offY: best.y,
      similarity: best.value,
    });
  }
  return out;
}

/** Joints and yarns are seen at least so far aside, px. */
const LEAST_STEP_PX = 1;

/** The highest place within a reach, to parts of a pixel: on a grid first, then nearer and nearer. */
function highest(
  at: (dx: number, dy: number) => number,
  reachX: number,
  reachY: number,
): { x: number; y: number; value: number } {
  const grid = (reach: number) => {
    const n = Math.ceil(reach / Math.max(LEAST_STEP_PX, reach / 3));
    return Array.from({ length: 2 * n + 1 }, (_, k) => (reach * (k - n)) / n).filter(Number.isFinite);
  };
  const [xs, ys] = [reachX > 0 ? grid(reachX) : [0], reachY > 0 ? grid(reachY) : [0]];
  let best = { x: 0, y: 0, value: -Infinity };
  for (const y of ys)
    for (const x of xs) {
      const value = at(x, y);
      if (value > best.value) best = { x, y, value };
    }
  let [sx, sy] = [xs.length > 1 ? (xs[1]! - xs[0]!) / 2 : 0, ys.length > 1 ? (ys[1]! - ys[0]!) / 2 : 0];
  for (let round = 0; round < 4; round++) {
    for (const [dx, dy] of [
      [sx, 0],
      [-sx, 0],
      [0, sy],
      [0, -sy],
    ] as const) {
      if (dx === 0 && dy === 0) continue;
      const [x, y] = [best.x + dx, best.y + dy];
      const value = at(x, y);
      if (value > best.value) best = { x, y, value };
    }
    sx /= 2;
    sy /= 2;
  }
  return best;
}

/** Unknowns of the even change: shift, period, lean of what stands; shift, period, fall of what lies; nearness right and below. */
const UNKNOWNS = 8;

/** What is known beforehand: leans are small. Weight of one window each. */
const PRIOR = [1e-9, 1e-9, 0.05, 1e-9, 1e-9, 0.05, 0.15, 0.15];

/** The even change that explains what was seen, by least squares that mistrust what lies far off. */
function evenChange(
  seen: readonly Sighting[],
  across: boolean,
  up: boolean,
  half: number,
): { values: Float64Array; left: { x: number; y: number }[] } {
  let values: Float64Array = new Float64Array(UNKNOWNS);
  const predicted = ({ x, y }: Sighting, v: Float64Array) => ({
    x: half * -(v[0]! + v[1]! * x + v[2]! * y - v[6]! * x * x - v[7]! * x * y),
    y: half * -(v[3]! + v[4]! * y + v[5]! * x - v[6]! * x * y - v[7]! * y * y),
  });
  const left = () =>
    seen.map((s) => {
      const p = predicted(s, values);
      return { x: across ? s.offX - p.x : 0, y: up ? s.offY - p.y : 0 };
    });
  for (let round = 0; round < 5; round++) {
    const rest = left();
    const spread = (axis: 'x' | 'y') => Math.max(0.3, 1.4826 * middleOf(rest.map((r) => Math.abs(r[axis]))));
    const [spreadX, spreadY] = [spread('x'), spread('y')];
    const normal = PRIOR.map((p, k) => PRIOR.map((_, l) => (k === l ? p : 0)));
    const right = PRIOR.map(() => 0);
    const add = (row: readonly number[], value: number, weight: number) => {
      for (let a = 0; a < UNKNOWNS; a++) {
        if (row[a] === 0) continue;
        for (let b = 0; b < UNKNOWNS; b++) normal[a]![b]! += weight * row[a]! * row[b]!;
        right[a]! += weight * row[a]! * value;
      }
    };
    seen.forEach((s, k) => {
      const { x, y } = s;
      const weight = squared(Math.max(0, s.similarity));
      const trust = (off: number, scatter: number) => 1 / squared(1 + squared(off / (2 * scatter)));
      const first = round === 0;
      if (across)
        add(
          [1, x, y, 0, 0, 0, -x * x, -x * y],
          -s.offX / half,
          weight * (first ? 1 : trust(rest[k]!.x, spreadX)),
        );
      if (up)
        add(
          [0, 0, 0, 1, y, x, -x * y, -y * y],
          -s.offY / half,
          weight * (first ? 1 : trust(rest[k]!.y, spreadY)),
        );
    });
    values = Float64Array.from(solveLinear(normal, right));
  }
  return { values, left: left() };
}

const middleOf = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;

/**
 * Follows a structure over a picture.
 * @param planes features of the picture, rectified as far as that is known
 * @param courses the structure as expected
 * @param reach how far it may lie from there, as a share of its periods
 */
export function track(planes: Pair, usable: Plane, courses: Courses, reach: number): Tracked | null {
  const { acrossPx, upPx, stagger } = courses;
  const half = Math.max(usable.widthPx, usable.heightPx) / 2;
  const found = sightings(planes, usable, courses, reach);
  const good = found.filter((s) => s.similarity > SHOWN);
  if (good.length < 4) return null;
  const { values, left } = evenChange(good, acrossPx !== null, upPx !== null, half);
  const shareOf = (off: { x: number; y: number }) =>
    Math.max(acrossPx === null ? 0 : Math.abs(off.x) / acrossPx, upPx === null ? 0 : Math.abs(off.y) / upPx);
  const wandering = left.map(shareOf);
  return {
    lean: { standing: values[2]!, lying: values[5]!, nearer: [values[6]!, values[7]!] },
    courses: {
      acrossPx: acrossPx && acrossPx / (1 + values[1]!),
      upPx: upPx && upPx / (1 + values[4]!),
      stagger,
    },
    wander: 1.4826 * middleOf(wandering),
    seen: wandering.filter((s) => s < THERE).length / Math.max(1, found.length),
    similarity: found.reduce((sum, s) => sum + Math.max(0, s.similarity), 0) / Math.max(1, found.length),
  };
}
