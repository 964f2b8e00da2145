import { blurWrapped, extremes, makePlane, type Plane } from '../../raster';

/** Vectors by which a picture looks like itself: the lattice of a structure, in pixels, y downwards. */
export type Vector = readonly [number, number];
export interface Lattice {
  first: Vector;
  second: Vector;
}

/** A correlation over shifts, in deviations of what chance gives. */
export interface Correlation {
  reachX: number;
  reachY: number;
  /** Height near a shift: the highest within a radius. */
  near: (dx: number, dy: number, radius: number) => number;
  /** The same with its place. */
  peakNear: (dx: number, dy: number, radius: number) => { x: number; y: number; value: number };
  peaks: readonly { x: number; y: number; value: number }[];
  /** Share of the picture that meets itself at a shift, as its root. */
  weight: (dx: number, dy: number) => number;
}

/** Shifts up to this share of the picture are looked at: a period must show at least about twice. */
export const REACH = 0.61;
/** Shifts nearer than this are the picture itself, px. */
const NOT_ITSELF_PX = 4;
/** Peaks that are tried as vectors of a lattice. */
const TRIED = 44;
/** Correlation by chance is no larger. A cloth of many yarns is like itself at nearly every shift, so that its median is no chance. */
const MOST_CHANCE = 0.05;
/** Least height of a peak, in deviations. */
const LEAST_PEAK = 4;

/** A correlation of one or several features, each brought to deviations of its own. @param acfs as `autocorrelations` gives them */
export function correlationOf(acfs: readonly Plane[], reachX: number, reachY: number): Correlation {
  const { widthPx: w, heightPx: h } = acfs[0]!;
  const sum = new Float32Array(w * h);
  const weight = (dx: number, dy: number) =>
    Math.sqrt((1 - (REACH * Math.abs(dx)) / reachX) * (1 - (REACH * Math.abs(dy)) / reachY));
  for (const acf of acfs) {
    const broad = blurWrapped(acf, reachX / 4, reachY / 4).data;
    const flat = acf.data.map((v, i) => v - broad[i]!);
    const sizes = [...flat.filter((_, i) => i % 7 === 0)].map(Math.abs).sort((a, b) => a - b);
    const deviation = Math.min(MOST_CHANCE, Math.max(1e-6, 1.4826 * sizes[sizes.length >> 1]!));
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        // The farther a shift, the fewer pixels meet, and the more chance there is in it.
        sum[y * w + x]! += (flat[y * w + x]! * weight(x - reachX, y)) / deviation / Math.sqrt(acfs.length);
      }
  }
  const at = (x: number, y: number): number => {
    if (y < 0 || (y === 0 && x < 0)) [x, y] = [-x, -y];
    return Math.abs(x) > reachX || y > reachY ? -Infinity : sum[y * w + reachX + x]!;
  };
  const peakNear: Correlation['peakNear'] = (dx, dy, radius) => {
    const r = Math.max(1, Math.round(radius));
    const [cx, cy] = [Math.round(dx), Math.round(dy)];
    let best = { x: cx, y: cy, value: -Infinity };
    for (let y = cy - r; y <= cy + r; y++)
      for (let x = cx - r; x <= cx + r; x++) {
        const value = at(x, y);
        if (value > best.value) best = { x, y, value };
      }
    const bend = (a: number, b: number, c: number) => {
      const d = a - 2 * b + c;
      return d < 0 && a > -Infinity && c > -Infinity ? Math.min(0.5, Math.max(-0.5, (0.5 * (a - c)) / d)) : 0;
    };
    const { x, y, value } = best;
    return {
      x: x + bend(at(x - 1, y), value, at(x + 1, y)),
      y: y + bend(at(x, y - 1), value, at(x, y + 1)),
      value,
    };
  };
  const within: Float32Array[] = [];
  const peaks: { x: number; y: number; value: number }[] = [];
  for (let y = 0; y <= 0.92 * reachY; y++)
    for (let x = Math.ceil(-0.92 * reachX); x <= 0.92 * reachX; x++) {
      if ((y === 0 && x <= 0) || x * x + y * y < NOT_ITSELF_PX * NOT_ITSELF_PX) continue;
      const v = at(x, y);
      if (v < LEAST_PEAK) continue;
      let highest = true;
      for (let j = -2; j <= 2 && highest; j++)
        for (let i = -2; i <= 2; i++) if (at(x + i, y + j) > v) highest = false;
      if (highest) peaks.push(peakNear(x, y, 1));
    }
  peaks.sort((a, b) => b.value - a.value);
  return {
    reachX,
    reachY,
    peakNear,
    weight,
    near: (dx, dy, radius) => {
      const r = Math.max(1, Math.round(radius));
      const highestWithin = (within[r] ??= highestOf(at, reachX, reachY, r));
      let [x, y] = [Math.round(dx), Math.round(dy)];
      if (y < 0 || (y === 0 && x < 0)) [x, y] = [-x, -y];
      return Math.abs(x) > reachX || y > reachY ? -Infinity : highestWithin[y * w + reachX + x]!;
    },
    peaks: peaks.slice(0, TRIED),
  };
}

/** The highest value within a radius of every shift. */
function highestOf(
  at: (x: number, y: number) => number,
  reachX: number,
  reachY: number,
  radius: number,
): Float32Array {
  // Rows above the first are those below it, turned.
  const [w, h] = [2 * reachX + 1, reachY + 1 + radius];
  const turned = makePlane(w, h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) turned.data[y * w + x] = at(x - reachX, y - radius);
  return extremes(turned, radius, 'greatest', false).data.subarray(radius * w);
}

/** A shift of the lattice by whole numbers of its vectors. */
interface Point {
  i: number;
  j: number;
  value: number;
  weight: number;
}
/** Points that are looked at, nearest first. */
const POINTS = 400;

const shift = ({ first, second }: Lattice, i: number, j: number): Vector => [
  i * first[0] + j * second[0],
  i * first[1] + j * second[1],
];
export const areaOf = ({ first, second }: Lattice): number =>
  Math.abs(first[0] * second[1] - first[1] * second[0]);

/** How far from where it is expected a point may lie: the lattice is not known better, and structures are laid by hand. */
const radiusAt = (lattice: Lattice, distance: number) =>
  Math.min(0.09 * Math.sqrt(areaOf(lattice)), 1.2 + 0.012 * distance);

/** Heights of the correlation at the points of a lattice. */
function pointsOf(c: Correlation, lattice: Lattice): Point[] {
  const out: (Point & { distance: number })[] = [];
  for (let j = -20; j <= 20; j++)
    for (let i = -20; i <= 20; i++) {
      const [x, y] = shift(lattice, i, j);
      if (y < 0 || (y === 0 && x <= 0) || Math.abs(x) > 0.92 * c.reachX || y > 0.92 * c.reachY) continue;
      const distance = Math.hypot(x, y);
      if (distance < NOT_ITSELF_PX) continue;
      out.push({ i, j, value: 0, weight: c.weight(x, y), distance });
    }
  out.sort((a, b) => a.distance - b.distance);
  out.length = Math.min(out.length, POINTS);
  for (const p of out) {
    const [x, y] = shift(lattice, p.i, p.j);
    p.value = c.near(x, y, radiusAt(lattice, p.distance));
  }
  return out;
}

const meanOf = (points: readonly Point[]) =>
  points.length ? points.reduce((sum, p) => sum + p.value, 0) / points.length : -Infinity;

/** The two shortest vectors of the same lattice (Gauss). */
export function reduced({ first, second }: Lattice): Lattice {
  let [a, b] = [first, second];
  for (let k = 0; k < 40; k++) {
    if (Math.hypot(...a) > Math.hypot(...b)) [a, b] = [b, a];
    const m = Math.round((a[0] * b[0] + a[1] * b[1]) / (a[0] * a[0] + a[1] * a[1]));
    if (m === 0) break;
    b = [b[0] - m * a[0], b[1] - m * a[1]];
  }
  return { first: a, second: b };
}

/** Vectors fitted to the peaks at their points. */
export function fitted(c: Correlation, lattice: Lattice): Lattice {
  let now = lattice;
  for (let round = 0; round < 3; round++) {
    const points = pointsOf(c, now);
    const least = 0.35 * meanOf(points);
    let [ii, ij, jj, ix, iy, jx, jy] = [0, 0, 0, 0, 0, 0, 0];
    for (const { i, j, value } of points) {
      if (!(value > least)) continue;
      const [x, y] = shift(now, i, j);
      const peak = c.peakNear(x, y, radiusAt(now, Math.hypot(x, y)));
      ii += i * i;
      ij += i * j;
      jj += j * j;
      ix += i * peak.x;
      iy += i * peak.y;
      jx += j * peak.x;
      jy += j * peak.y;
    }
    const det = ii * jj - ij * ij;
    if (!(det > 1e-6)) return now;
    now = {
      first: [(ix * jj - jx * ij) / det, (iy * jj - jy * ij) / det],
      second: [(jx * ii - ix * ij) / det, (jy * ii - iy * ij) / det],
    };
  }
  return now;
}

/** A point of a lattice counts for it when it stands higher than this share of the highest peaks, against it when lower. */
const COUNTS_FROM = 0.45;
/** Peaks that are called the highest. */
const TOP = 8;
/** Least cell, px². */
const LEAST_AREA = 20;

/** Lattices that are handed on. */
const BEST = 12;

/**
 * The lattices by which a correlation stands out: of all that two of its peaks span, those whose points stand highest, and of
 * two alike the one with more of them. They may be a part of the true lattice, or hold more than that.
 * @returns the best first
 */
export function searchLattices(c: Correlation): { lattice: Lattice; height: number }[] {
  const { peaks } = c;
  const heights = peaks.map((p) => p.value / c.weight(p.x, p.y)).slice(0, TOP);
  const countsFrom = COUNTS_FROM * (heights.sort((a, b) => a - b)[heights.length >> 1] ?? 0);
  const found: { lattice: Lattice; height: number; worth: number }[] = [];
  const tried: Lattice[] = [];
  for (let k = 0; k < peaks.length; k++)
    for (let l = k + 1; l < peaks.length; l++) {
      const lattice = reduced({ first: [peaks[k]!.x, peaks[k]!.y], second: [peaks[l]!.x, peaks[l]!.y] });
      const area = areaOf(lattice);
      const sides = Math.hypot(...lattice.first) * Math.hypot(...lattice.second);
      if (area < LEAST_AREA || area < 0.25 * sides || Math.hypot(...lattice.first) < NOT_ITSELF_PX) continue;
      if (tried.some((t) => same(t, lattice))) continue;
      tried.push(lattice);
      const points = pointsOf(c, lattice);
      if (points.length < 3) continue;
      const height = meanOf(points);
      let [sum, weights] = [0, 0];
      for (const { value, weight } of points) {
        sum += weight * (value - countsFrom * weight);
        weights += weight * weight;
      }
      const worth = sum / Math.sqrt(weights);
      if (worth > 0) found.push({ lattice, height, worth });
    }
  found.sort((a, b) => b.worth - a.worth);
  return found.slice(0, BEST).map((f) => ({ ...f, lattice: fitted(c, f.lattice) }));
}

/** Vectors nearer than this are the same, px. */
const SAME_PX = 2;
const alike = (a: Vector, b: Vector) =>
  Math.min(Math.hypot(a[0] - b[0], a[1] - b[1]), Math.hypot(a[0] + b[0], a[1] + b[1])) < SAME_PX;
const same = (a: Lattice, b: Lattice) => alike(a.first, b.first) && alike(a.second, b.second);
