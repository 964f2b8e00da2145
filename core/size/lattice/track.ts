import { squared } from '../../exact';
import { hash32, type Plane } from '../../raster';
import { solveLinear } from '../../straighten';
import type { Courses } from './courses';
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

/** Windows along the longer side, at most. */
const WINDOWS = 7;
/** A window at least so many pixels wide. */
const LEAST_WINDOW_PX = 28;
/** Pixels of a window that are compared, about. */
const LOOKED_AT = 450;
const LEAST_LOOKED_AT = 60;
/** Likeness from which a window is taken to show the structure. */
const SHOWN = 0.12;
/** It is seen where it is expected when it is off by less, as a share of the period. */
const THERE = 0.16;

/** Fields of the cell per pixel, while there are not too many: with one, small cells would be blurred more than large ones. */
const PER_PX = 2;
const MOST_FIELDS = 12000;

/** Where every pixel lies in the cell. */
function cellsOf({ acrossPx, upPx, stagger }: Courses) {
  const perPx = Math.max(1, Math.min(PER_PX, Math.sqrt(MOST_FIELDS / ((acrossPx ?? 1) * (upPx ?? 1)))));
  const fields = (periodPx: number | null) =>
    periodPx === null ? 1 : Math.max(2, Math.round(perPx * periodPx));
  const [nx, ny] = [fields(acrossPx), fields(upPx)];
  const bin = (x: number, y: number): number => {
    const row = upPx === null ? 0 : y / upPx;
    const course = Math.floor(row);
    const along = acrossPx === null ? 0 : x / acrossPx - stagger * course;
    const bx = Math.min(nx - 1, Math.floor((along - Math.floor(along)) * nx));
    const by = Math.min(ny - 1, Math.floor((row - course) * ny));
    return by * nx + bx;
  };
  return { bins: nx * ny, bin };
}

interface Window {
  x0: number;
  y0: number;
  w: number;
  h: number;
}

/** Windows, each about one cell large, side by side or overlapping by half. */
function windowsOf(w: number, h: number, { acrossPx, upPx }: Courses, overlapping: boolean): Window[] {
  const side = (period: number | null, length: number) =>
    Math.round(Math.min(length / 2, Math.max(LEAST_WINDOW_PX, length / 8, period ?? length / 4)));
  const [ww, wh] = [side(acrossPx, w), side(upPx, h)];
  const starts = (length: number, window: number) => {
    const n = overlapping ? Math.round((2 * length) / window) - 1 : Math.floor(length / window);
    const taken = Math.max(2, Math.min(WINDOWS, n));
    return Array.from({ length: taken }, (_, k) => Math.round((k * (length - window)) / (taken - 1)));
  };
  return starts(h, wh).flatMap((y0) => starts(w, ww).map((x0) => ({ x0, y0, w: ww, h: wh })));
}

/**
 * Pixels are folded about so far from where they are. They lie at whole places: a cell of a third of the true one, say, would
 * else gather its three parts in fields of their own, and look as true as the whole.
 */
const SCATTER_PX = 0.9;

/** Lightness and edges of a picture. */
export type Pair = readonly [Plane, Plane];

/** Sums over the cell: of lightness, of edges, and the number of pixels, field by field. */
type Folded = Float32Array<ArrayBuffer>;

/** Folded sums over the cell. */
function fold([light, edges]: Pair, usable: Plane, places: Int32Array, bins: number, at: Window): Folded {
  const sums = new Float32Array(3 * bins);
  for (let y = at.y0; y < at.y0 + at.h; y++)
    for (let x = at.x0; x < at.x0 + at.w; x++) {
      const i = y * light.widthPx + x;
      if (usable.data[i]! < 1) continue;
      const k = 3 * places[i]!;
      sums[k]! += light.data[i]!;
      sums[k + 1]! += edges.data[i]!;
      sums[k + 2]!++;
    }
  return sums;
}

/** The field of the cell in which each pixel that is folded lies. */
function placesOf(w: number, h: number, bin: (x: number, y: number) => number): Int32Array {
  const places = new Int32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const scattered = hash32(i);
      const aside = ((scattered & 0xffff) / 0x8000 - 1) * SCATTER_PX;
      const down = ((scattered >>> 16) / 0x8000 - 1) * SCATTER_PX;
      places[i] = bin(x + aside, y + down);
    }
  return places;
}

/**
 * A structure laid over a picture: its cell, folded from all of the picture but a window and what lies in line with it, so that
 * what runs straight through the picture does not vouch for itself.
 */
function folded(planes: Pair, usable: Plane, courses: Courses) {
  const { widthPx: w, heightPx: h } = usable;
  const { bins, bin } = cellsOf(courses);
  const places = placesOf(w, h, bin);
  const known = new Map<string, Folded>();
  const over = (window: Window): Folded => {
    const key = `${window.x0} ${window.y0} ${window.w} ${window.h}`;
    let made = known.get(key);
    if (!made) known.set(key, (made = fold(planes, usable, places, bins, window)));
    return made;
  };
  const all = over({ x0: 0, y0: 0, w, h });
  const [alongRows, alongColumns] = [courses.upPx !== null, courses.acrossPx !== null];
  const nothing = new Float32Array(3 * bins);
  /** Means of both planes in a field of the cell, without a window; made for all fields where it is asked for often. */
  const cellWithout = (window: Window, often: boolean): Cell => {
    const rows = alongRows ? over({ ...window, x0: 0, w }) : nothing;
    const columns = alongColumns ? over({ ...window, y0: 0, h }) : nothing;
    const own = alongRows && alongColumns ? over(window) : nothing;
    const cell: Cell = (b, into) => {
      const k = 3 * b;
      const n = all[k + 2]! - rows[k + 2]! - columns[k + 2]! + own[k + 2]!;
      const scale = n > 0 ? 1 / n : 0;
      into[0] = (all[k]! - rows[k]! - columns[k]! + own[k]!) * scale;
      into[1] = (all[k + 1]! - rows[k + 1]! - columns[k + 1]! + own[k + 1]!) * scale;
    };
    if (!often) return cell;
    const made = new Float32Array(2 * bins);
    const one = new Float64Array(2);
    for (let b = 0; b < bins; b++) {
      cell(b, one);
      made[2 * b] = one[0]!;
      made[2 * b + 1] = one[1]!;
    }
    return (b, into) => {
      into[0] = made[2 * b]!;
      into[1] = made[2 * b + 1]!;
    };
  };
  return { bin, cellWithout };
}

/** Writes what both planes are on average in a field of the cell. */
type Cell = (field: number, into: Float64Array) => void;

/** How much each window is like the mean cell of all others, where it is expected: of every plane a list over the windows. */
export function similarities(
  planes: Pair,
  usable: Plane,
  courses: Courses,
  windowsAs = courses,
): [number[], number[]] {
  const { bin, cellWithout } = folded(planes, usable, courses);
  const windows = windowsOf(usable.widthPx, usable.heightPx, windowsAs, false).map((window) =>
    similarityAt(planes, usable, cellWithout(window, false), bin, window, 0, 0),
  );
  return [windows.map((likes) => likes?.[0] ?? 0), windows.map((likes) => likes?.[1] ?? 0)];
}

/** How far the structure of each window lies from where it is expected. */
function sightings(planes: Pair, usable: Plane, courses: Courses, reach: number): Sighting[] {
  const { widthPx: w, heightPx: h } = usable;
  const { bin, cellWithout } = folded(planes, usable, courses);
  const half = Math.max(w, h) / 2;
  const [reachX, reachY] = [courses.acrossPx, courses.upPx].map((p) =>
    p === null ? 0 : Math.min(18, Math.max(1, reach * p)),
  ) as [number, number];
  const out: Sighting[] = [];
  for (const window of windowsOf(w, h, courses, true)) {
    const cell = cellWithout(window, true);
    const like = (dx: number, dy: number) => {
      const likes = similarityAt(planes, usable, cell, bin, window, dx, dy);
      return likes ? (likes[0] + likes[1]) / 2 : -Infinity;
    };
    const best = highest(like, reachX, reachY);
    if (best)
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

/** Correlation of both planes in a window with their cell, shifted; null: too little of the window counts. */
function similarityAt(
  planes: Pair,
  usable: Plane,
  cell: Cell,
  bin: (x: number, y: number) => number,
  { x0, y0, w, h }: Window,
  dx: number,
  dy: number,
): [number, number] | null {
  const stride = Math.max(1, Math.floor(Math.sqrt((w * h) / LOOKED_AT)));
  let n = 0;
  const sums = new Float64Array(2 * 5);
  const means = new Float64Array(2);
  const [light, edges] = [planes[0].data, planes[1].data];
  for (let y = y0; y < y0 + h; y += stride)
    for (let x = x0; x < x0 + w; x += stride) {
      const i = y * usable.widthPx + x;
      if (usable.data[i]! < 1) continue;
      n++;
      cell(bin(x - dx, y - dy), means);
      for (let k = 0; k < 2; k++) {
        const v = k === 0 ? light[i]! : edges[i]!;
        const c = means[k]!;
        sums[5 * k]! += v * c;
        sums[5 * k + 1]! += v * v;
        sums[5 * k + 2]! += c * c;
        sums[5 * k + 3]! += v;
        sums[5 * k + 4]! += c;
      }
    }
  if (n < LEAST_LOOKED_AT) return null;
  const correlation = (k: number) => {
    const [vc, vv, cc, v, c] = [0, 1, 2, 3, 4].map((j) => sums[5 * k + j]!) as [
      number,
      number,
      number,
      number,
      number,
    ];
    return (vc - (v * c) / n) / Math.sqrt(Math.max(1e-12, (vv - (v * v) / n) * (cc - (c * c) / n)));
  };
  return [correlation(0), correlation(1)];
}

/** The highest place within a reach, to parts of a pixel: on a grid first, then nearer and nearer. */
function highest(
  at: (dx: number, dy: number) => number,
  reachX: number,
  reachY: number,
): { x: number; y: number; value: number } | null {
  const grid = (reach: number) => {
    const n = Math.ceil(reach / Math.max(1, reach / 3));
    return Array.from({ length: 2 * n + 1 }, (_, k) => (reach * (k - n)) / n).filter(Number.isFinite);
  };
  const [xs, ys] = [reachX > 0 ? grid(reachX) : [0], reachY > 0 ? grid(reachY) : [0]];
  let best = { x: 0, y: 0, value: -Infinity };
  for (const y of ys)
    for (const x of xs) {
      const value = at(x, y);
      if (value > best.value) best = { x, y, value };
    }
  if (best.value === -Infinity) return null;
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
