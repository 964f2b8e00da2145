import { hash32, type Plane } from '../../raster';
import type { Courses } from './courses';

/**
 * The mean cell of a structure, folded from a picture, and how much windows of the picture are like it.
 */

/** Windows along the longer side, at most. */
const WINDOWS = 7;
/** A window at least so many pixels wide. */
const LEAST_WINDOW_PX = 28;
/** Pixels of a window that are compared, about. */
const LOOKED_AT = 450;
const LEAST_LOOKED_AT = 60;
/** Fields of the cell per pixel, while there are not too many: with one, small cells would be blurred more than large ones. */
const PER_PX = 2;
const MOST_FIELDS = 12000;

/** The fields into which a cell is divided, row by row. */
function fieldsOfCell({ acrossPx, upPx, stagger }: Courses) {
  const perPx = Math.max(1, Math.min(PER_PX, Math.sqrt(MOST_FIELDS / ((acrossPx ?? 1) * (upPx ?? 1)))));
  const fields = (periodPx: number | null) =>
    periodPx === null ? 1 : Math.max(2, Math.round(perPx * periodPx));
  const [nx, ny] = [fields(acrossPx), fields(upPx)];
  const [perX, perY] = [acrossPx === null ? 0 : 1 / acrossPx, upPx === null ? 0 : 1 / upPx];
  /** The fields in which places lie, shifted by the same. */
  const at = (x: Float32Array, y: Float32Array, dx: number, dy: number, into: Int32Array): Int32Array => {
    for (let k = 0; k < into.length; k++) {
      const row = (y[k]! - dy) * perY;
      const course = Math.floor(row);
      const along = (x[k]! - dx) * perX - stagger * course;
      const bx = Math.min(nx - 1, Math.floor((along - Math.floor(along)) * nx));
      const by = Math.min(ny - 1, Math.floor((row - course) * ny));
      into[k] = by * nx + bx;
    }
    return into;
  };
  return { count: nx * ny, at };
}

interface Window {
  x0: number;
  y0: number;
  w: number;
  h: number;
}

/** Windows, each about one cell large, side by side or overlapping by half. */
export function windowsOf(w: number, h: number, { acrossPx, upPx }: Courses, overlapping: boolean): Window[] {
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

/** Where the pixels of a picture are folded from: each about where it is. */
function scattered(w: number, h: number): { x: Float32Array; y: Float32Array } {
  if (known.w !== w || known.h !== h) {
    known = { w, h, x: new Float32Array(w * h), y: new Float32Array(w * h) };
    for (let i = 0; i < w * h; i++) {
      const hash = hash32(i);
      known.x[i] = (i % w) + ((hash & 0xffff) / 0x8000 - 1) * SCATTER_PX;
      known.y[i] = Math.floor(i / w) + ((hash >>> 16) / 0x8000 - 1) * SCATTER_PX;
    }
  }
  return known;
}
/** Of the last size: the same for all pictures of it. */
let known = { w: 0, h: 0, x: new Float32Array(0), y: new Float32Array(0) };

/**
 * A structure laid over a picture: its cell, folded from all of the picture but a window and what lies in line with it, so that
 * what runs straight through the picture does not vouch for itself.
 */
export function folded(planes: Pair, usable: Plane, courses: Courses) {
  const { widthPx: w, heightPx: h } = usable;
  const { count, at } = fieldsOfCell(courses);
  const { x, y } = scattered(w, h);
  const places = at(x, y, 0, 0, new Int32Array(w * h));
  const made = new Map<string, Folded>();
  const over = (window: Window): Folded => {
    const key = `${window.x0} ${window.y0} ${window.w} ${window.h}`;
    let sums = made.get(key);
    if (!sums) made.set(key, (sums = fold(planes, usable, places, count, window)));
    return sums;
  };
  const all = over({ x0: 0, y0: 0, w, h });
  const [alongRows, alongColumns] = [courses.upPx !== null, courses.acrossPx !== null];
  const nothing = new Float32Array(3 * count);
  const means = new Float32Array(2 * count);
  const fields = new Int32Array(w * h);
  return {
    /** The fields in which the pixels of a window lie, shifted. Overwritten by the next call. */
    fieldsOf: ({ count: n, x, y }: Looked, dx: number, dy: number) => at(x, y, dx, dy, fields.subarray(0, n)),
    /** Means of both planes in the fields of the cell, without a window; only in some of them. Overwritten by the next call. */
    meansWithout: (window: Window, only?: Int32Array): Float32Array => {
      const rows = alongRows ? over({ ...window, x0: 0, w }) : nothing;
      const columns = alongColumns ? over({ ...window, y0: 0, h }) : nothing;
      const own = alongRows && alongColumns ? over(window) : nothing;
      for (let n = 0; n < (only?.length ?? count); n++) {
        const b = only ? only[n]! : n;
        const k = 3 * b;
        const pixels = all[k + 2]! - rows[k + 2]! - columns[k + 2]! + own[k + 2]!;
        const scale = pixels > 0 ? 1 / pixels : 0;
        means[2 * b] = (all[k]! - rows[k]! - columns[k]! + own[k]!) * scale;
        means[2 * b + 1] = (all[k + 1]! - rows[k + 1]! - columns[k + 1]! + own[k + 1]!) * scale;
      }
      return means;
    },
  };
}

/**
 * Compares structures with a picture, window by window.
 * @param windowsAs the windows are about as large as a cell of this structure
 * @returns how much each window is like the mean cell of all others, where it is expected: of every plane a list over the windows
 */
export function comparison(
  planes: Pair,
  usable: Plane,
  windowsAs: Courses,
): (courses: Courses) => [number[], number[]] {
  const windows = windowsOf(usable.widthPx, usable.heightPx, windowsAs, false).map((window) => ({
    window,
    looked: lookedAt(planes, usable, window),
  }));
  return (courses) => {
    const { fieldsOf, meansWithout } = folded(planes, usable, courses);
    const likes = windows.map(({ window, looked }) => {
      if (!looked) return null;
      const fields = fieldsOf(looked, 0, 0);
      return similarityOf(looked, fields, meansWithout(window, fields));
    });
    return [likes.map((l) => l?.[0] ?? 0), likes.map((l) => l?.[1] ?? 0)];
  };
}

/** Pixels of a window that are compared with the cell. */
export interface Looked {
  count: number;
  x: Float32Array;
  y: Float32Array;
  /** What every plane is at them. */
  planes: readonly Valued[];
}

interface Valued {
  values: Float32Array;
  sum: number;
  squares: number;
}

/** @returns null: too little of the window counts */
export function lookedAt(planes: Pair, usable: Plane, { x0, y0, w, h }: Window): Looked | null {
  const stride = Math.max(1, Math.floor(Math.sqrt((w * h) / LOOKED_AT)));
  const most = Math.ceil(w / stride) * Math.ceil(h / stride);
  const [x, y, places] = [new Float32Array(most), new Float32Array(most), new Int32Array(most)];
  let count = 0;
  for (let v = y0; v < y0 + h; v += stride)
    for (let u = x0; u < x0 + w; u += stride) {
      const i = v * usable.widthPx + u;
      if (usable.data[i]! < 1) continue;
      x[count] = u;
      y[count] = v;
      places[count++] = i;
    }
  if (count < LEAST_LOOKED_AT) return null;
  return { count, x, y, planes: planes.map((plane) => valuesAt(plane, places, count)) };
}

function valuesAt({ data }: Plane, places: Int32Array, count: number): Valued {
  const values = new Float32Array(count);
  let [sum, squares] = [0, 0];
  for (let k = 0; k < count; k++) {
    const v = data[places[k]!]!;
    values[k] = v;
    sum += v;
    squares += v * v;
  }
  return { values, sum, squares };
}

/** Correlation of both planes in a window with the means of the cell at the fields in which its pixels lie. */
export function similarityOf(looked: Looked, fields: Int32Array, means: Float32Array): [number, number] {
  const { count: n, planes } = looked;
  const [light, edges] = [planes[0]!, planes[1]!];
  let [lc, lcc, lvc, ec, ecc, evc] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < n; k++) {
    const at = 2 * fields[k]!;
    const l = means[at]!;
    const e = means[at + 1]!;
    lc += l;
    lcc += l * l;
    lvc += light.values[k]! * l;
    ec += e;
    ecc += e * e;
    evc += edges.values[k]! * e;
  }
  const correlation = ({ sum: v, squares: vv }: Valued, c: number, cc: number, vc: number) =>
    (vc - (v * c) / n) / Math.sqrt(Math.max(1e-12, (vv - (v * v) / n) * (cc - (c * c) / n)));
  return [correlation(light, lc, lcc, lvc), correlation(edges, ec, ecc, evc)];
}
