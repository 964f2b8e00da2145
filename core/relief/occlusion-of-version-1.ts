import { makePlane, type Plane } from '../raster';
import type { NormalField } from './normal';

/**
 * Occlusion as version 1 of the relief stage makes it: what was issued with it renders to the same bytes as ever.
 *
 * Horizons are found by sweeping lines over the torus in 16 directions and keeping the upper hull of what was passed
 * (after Timonen, "Line-Sweep Ambient Obscurance", 2013): each point is pushed and popped once, so the cost per pixel
 * does not depend on the radius. The integral within each slice is analytic (Jimenez, Wu, Pesce, Jarabo 2016, eq. 7–10).
 */

/** Lattice steps of eight lines; each is swept both ways. They meet pixel centres, so nothing is interpolated. */
const LINES: readonly (readonly [number, number])[] = [
  [1, 0],
  [2, 1],
  [1, 1],
  [1, 2],
  [0, 1],
  [-1, 2],
  [-1, 1],
  [-2, 1],
];

/** Arc tangent for t ≥ 0 within 1e-5 (Abramowitz, Stegun 4.4.47 with range reduction): the same bits everywhere. */
function arcTangent(t: number): number {
  const swap = t > 1;
  const x = swap ? 1 / t : t;
  const q = x * x;
  const a = x * (0.999866 + q * (-0.3302995 + q * (0.180141 + q * (-0.085133 + q * 0.0208351))));
  return swap ? Math.PI / 2 - a : a;
}

/**
 * Twice the light of one slice: ¼(−cos(2h − γ) + cos γ + 2h·sin γ) for both sides, times the length of the normal in it.
 * With horizon tangents t, angles from the zenith h and q = 1/(1 + t²) = cos² it is
 * ½·cos γ·(qf + qb) + ½·sin γ·(tb·qb − tf·qf + atan tb − atan tf).
 * @param along the normal's part along the line
 * @param up its part upwards
 * @param ahead tangent of the horizon ahead; the surface itself is the least there is
 * @param behind tangent of the horizon behind
 */
function slice(along: number, up: number, ahead: number, behind: number): number {
  const own = -along / up;
  const tf = ahead > own ? ahead : own;
  const tb = behind > -own ? behind : -own;
  const qf = 1 / (1 + tf * tf);
  const qb = 1 / (1 + tb * tb);
  return up * (qf + qb) + along * (tb * qb - tf * qf + arcDifference(tb, tf));
}

/** atan a − atan b. */
function arcDifference(a: number, b: number): number {
  const c = 1 + a * b;
  const d = a - b;
  if (c > 0) return d >= 0 ? arcTangent(d / c) : -arcTangent(-d / c);
  // The difference is a right angle or more.
  return d >= 0 ? Math.PI - arcTangent(-d / c) : arcTangent(d / c) - Math.PI;
}

/**
 * @param height mm, repeating
 * @param normals of that height
 * @param mmPerPx size of a pixel
 * @param radiusMm how far away something may stand and still take light; beyond, it fades out
 */
export function occlusionOfVersion1(
  height: Plane,
  normals: NormalField,
  mmPerPx: { x: number; y: number },
  radiusMm: number,
): Plane {
  const { widthPx: w, heightPx: h, data } = height;
  const out = makePlane(w, h);
  const n = w * h;
  const directions = LINES.map(([a, b]) => {
    const dx = a * mmPerPx.x;
    const dy = -b * mmPerPx.y; // b counts rows downwards
    const stepMm = Math.sqrt(dx * dx + dy * dy);
    return { a, b, stepMm, ux: dx / stepMm, uy: dy / stepMm, angle: Math.atan2(dy, dx) };
  });
  // Each line stands for the wedge up to halfway to its neighbours.
  const angles = directions.map((d) => ((d.angle % Math.PI) + Math.PI) % Math.PI);
  const order = angles.map((_, i) => i).sort((i, j) => angles[i]! - angles[j]!);
  const wedge = new Float64Array(directions.length);
  order.forEach((i, k) => {
    const before = k > 0 ? angles[order[k - 1]!]! : angles[order[order.length - 1]!]! - Math.PI;
    const after = k < order.length - 1 ? angles[order[k + 1]!]! : angles[order[0]!]! + Math.PI;
    wedge[i] = (after - before) / (2 * Math.PI);
  });
  let ahead: Float32Array | undefined;
  let behind: Float32Array | undefined;
  const wide = widened(
    height,
    Math.min(2 * MARCH_STEPS, Math.ceil(radiusMm / Math.min(mmPerPx.x, mmPerPx.y)) + 2),
  );
  directions.forEach((d, k) => {
    const half = wedge[k]! / 2;
    if (radiusMm / d.stepMm <= MARCH_STEPS) {
      // Over a few steps looking at each is cheaper than keeping a hull.
      march(
        wide,
        out.data,
        normals,
        stepsWithin(d.a, d.b, d.stepMm, radiusMm, wide.widthPx),
        d.ux,
        d.uy,
        half,
      );
    } else {
      ahead ??= new Float32Array(n);
      behind ??= new Float32Array(n);
      sweep(data, w, h, d.a, d.b, d.stepMm, radiusMm, behind);
      sweep(data, w, h, -d.a, -d.b, d.stepMm, radiusMm, ahead);
      for (let i = 0; i < n; i++)
        out.data[i]! +=
          half * slice(normals.x[i]! * d.ux + normals.y[i]! * d.uy, normals.z[i]!, ahead[i]!, behind[i]!);
    }
  });
  for (let i = 0; i < n; i++) out.data[i] = Math.min(1, Math.max(0, out.data[i]!));
  return out;
}

const MARCH_STEPS = 32;

/** Slope to what stands `run` away, fading out towards the radius. */
function faded(slope: number, run: number, radiusMm: number): number {
  const fadeFrom = 0.75 * radiusMm;
  if (slope <= 0 || run <= fadeFrom) return slope;
  return run >= radiusMm ? 0 : (slope * (radiusMm - run)) / (radiusMm - fadeFrom);
}

/** A height with a border of its own other side, so that steps across the edge need no wrapping. */
interface WidePlane extends Plane {
  border: number;
}

function widened(height: Plane, border: number): WidePlane {
  const { widthPx: w, heightPx: h } = height;
  const widthPx = w + 2 * border;
  const heightPx = h + 2 * border;
  const data = new Float32Array(widthPx * heightPx);
  for (let y = 0; y < heightPx; y++) {
    const from = ((((y - border) % h) + h) % h) * w;
    for (let x = 0; x < widthPx; x++)
      data[y * widthPx + x] = height.data[from + ((((x - border) % w) + w) % w)]!;
  }
  return { widthPx, heightPx, data, border };
}

/** Steps along a line: where they lie in the data, and one over their length, which fades towards the radius. */
interface Steps {
  offset: Int32Array;
  inverse: Float64Array;
  near: number;
}

/** Every pixel near by, then ever wider steps: what stands far off and is thin takes little light. */
function stepsWithin(a: number, b: number, stepMm: number, radiusMm: number, widthPx: number): Steps {
  const reach = Math.max(1, Math.ceil(radiusMm / stepMm));
  const taken: number[] = [];
  for (let k = 1; k <= reach; k = k < 4 ? k + 1 : Math.max(k + 2, Math.round(k * 1.3))) taken.push(k);
  return {
    offset: Int32Array.from(taken, (k) => k * (b * widthPx + a)),
    inverse: Float64Array.from(taken, (k) => faded(1 / (k * stepMm), k * stepMm, radiusMm)),
    near: taken.filter((k) => k === 1 || k * stepMm <= 0.75 * radiusMm).length,
  };
}

/** Adds one slice for every point, with horizons found step by step both ways along the line. */
function march(
  wide: WidePlane,
  sum: Float32Array,
  normals: NormalField,
  steps: Steps,
  ux: number,
  uy: number,
  half: number,
): void {
  const { data, widthPx, border } = wide;
  const { offset, inverse, near } = steps;
  const { x: nx, y: ny, z: nz, widthPx: w, heightPx: h } = normals;
  const count = offset.length;
  for (let y = 0, i = 0; y < h; y++) {
    let p = (y + border) * widthPx + border;
    for (let x = 0; x < w; x++, p++, i++) {
      const z = data[p]!;
      let ahead = -1e3;
      let behind = -1e3;
      for (let k = 0; k < near; k++) {
        const a = (data[p + offset[k]!]! - z) * inverse[k]!;
        const b = (data[p - offset[k]!]! - z) * inverse[k]!;
        if (a > ahead) ahead = a;
        if (b > behind) behind = b;
      }
      // In the fading zone only what rises counts.
      for (let k = near; k < count; k++) {
        const a = (data[p + offset[k]!]! - z) * inverse[k]!;
        const b = (data[p - offset[k]!]! - z) * inverse[k]!;
        if (a > 0 && a > ahead) ahead = a;
        if (b > 0 && b > behind) behind = b;
      }
      sum[i]! += half * slice(nx[i]! * ux + ny[i]! * uy, nz[i]!, ahead, behind);
    }
  }
}

/**
 * Steepest rise over run to anything passed before, for every point, walking the torus in steps of (a, b).
 * Each closed orbit is walked once more over the radius before it counts, so that the start knows what lies behind it.
 */
function sweep(
  data: Float32Array,
  w: number,
  h: number,
  a: number,
  b: number,
  stepMm: number,
  radiusMm: number,
  out: Float32Array,
): void {
  const done = new Uint8Array(w * h);
  const reach = Math.max(1, Math.ceil(radiusMm / stepMm));
  const sx = ((a % w) + w) % w;
  const sy = ((b % h) + h) % h;
  let hullHeight = new Float64Array(1024);
  let hullStep = new Int32Array(1024);
  for (let start = 0; start < w * h; start++) {
    if (done[start]) continue;
    let length = 0;
    let x = start % w;
    let y = (start - x) / w;
    const [x0, y0] = [x, y];
    do {
      done[y * w + x] = 1;
      length++;
      x += sx;
      if (x >= w) x -= w;
      y += sy;
      if (y >= h) y -= h;
    } while (x !== x0 || y !== y0);
    const lead = Math.min(length, reach);
    // Step back by the lead.
    x = (((x0 - a * lead) % w) + w) % w;
    y = (((y0 - b * lead) % h) + h) % h;
    if (hullHeight.length < length + lead) {
      hullHeight = new Float64Array(length + lead);
      hullStep = new Int32Array(length + lead);
    }
    let top = -1;
    for (let k = 0; k < length + lead; k++) {
      const i = y * w + x;
      const z = data[i]!;
      // Points that the one behind them overtops, seen from here, are never a horizon again.
      while (
        top > 0 &&
        (hullHeight[top - 1]! - z) * (k - hullStep[top]!) >= (hullHeight[top]! - z) * (k - hullStep[top - 1]!)
      )
        top--;
      if (k >= lead) {
        if (top < 0) out[i] = -1e3;
        else {
          const run = (k - hullStep[top]!) * stepMm;
          out[i] = faded((hullHeight[top]! - z) / run, run, radiusMm);
        }
      }
      top++;
      hullHeight[top] = z;
      hullStep[top] = k;
      x += sx;
      if (x >= w) x -= w;
      y += sy;
      if (y >= h) y -= h;
    }
  }
}
