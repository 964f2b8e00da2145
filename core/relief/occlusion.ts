import { makePlane, type Plane } from '../raster';
import type { NormalField } from './normal';

/**
 * How much of the sky each point of a relief sees, cosine-weighted about its own normal: 1 in the open, 0 enclosed.
 *
 * Horizons are found by sweeping lines over the torus in 16 directions and keeping the upper hull of what was passed
 * (after Timonen, "Line-Sweep Ambient Obscurance", 2013): each point is pushed and popped once, so the cost per pixel
 * does not depend on the radius. The integral within each slice is analytic (Jimenez, Wu, Pesce, Jarabo 2016, eq. 7–10).
 */

/** Lattice steps of eight lines; each is swept both ways. They meet pixel centres, so nothing is interpolated. */
const LINES: readonly (readonly [number, number])[] = [[1, 0], [2, 1], [1, 1], [1, 2], [0, 1], [-1, 2], [-1, 1], [-2, 1]];

/** Arc tangent for t ≥ 0 within 1e-5 (Abramowitz, Stegun 4.4.47 with range reduction): the same bits everywhere. */
function arcTangent(t: number): number {
  const swap = t > 1;
  const x = swap ? 1 / t : t;
  const q = x * x;
  const a = x * (0.9998660 + q * (-0.3302995 + q * (0.1801410 + q * (-0.0851330 + q * 0.0208351))));
  return swap ? Math.PI / 2 - a : a;
}

/**
 * @param height mm, repeating
 * @param normals of that height
 * @param mmPerPx size of a pixel
 * @param radiusMm how far away something may stand and still take light; beyond, it fades out
 */
export function occlusionOfHeight(height: Plane, normals: NormalField, mmPerPx: { x: number; y: number }, radiusMm: number): Plane {
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
  const forward = new Float32Array(n);
  const backward = new Float32Array(n);
  directions.forEach((d, k) => {
    // Over a few steps looking at each is cheaper than keeping a hull.
    const horizon = radiusMm / d.stepMm <= MARCH_STEPS ? march : sweep;
    horizon(data, w, h, d.a, d.b, d.stepMm, radiusMm, backward);
    horizon(data, w, h, -d.a, -d.b, d.stepMm, radiusMm, forward);
    const weight = wedge[k]!;
    for (let i = 0; i < n; i++) {
      // Normal within the slice: along the line and upwards.
      const along = normals.x[i]! * d.ux + normals.y[i]! * d.uy;
      const up = normals.z[i]!;
      const length = Math.sqrt(along * along + up * up);
      const sinG = along / length;
      const cosG = up / length;
      // Horizon tangent t = rise over run; angle from the zenith is 90° minus its elevation, limited to the half-space of the surface.
      const tf = Math.max(forward[i]!, -along / up);
      const tb = Math.max(backward[i]!, along / up);
      const h2 = Math.PI / 2 - (tf >= 0 ? arcTangent(tf) : -arcTangent(-tf));
      const h1 = -(Math.PI / 2 - (tb >= 0 ? arcTangent(tb) : -arcTangent(-tb)));
      // ¼(−cos(2h−γ) + cos γ + 2h sin γ) for both sides; cos 2h and sin 2h follow from the tangents.
      const qf = 1 / (1 + tf * tf);
      const qb = 1 / (1 + tb * tb);
      const cos2f = (tf * tf - 1) * qf;
      const sin2f = 2 * tf * qf;
      const cos2b = (tb * tb - 1) * qb;
      const sin2b = -2 * tb * qb;
      const arc =
        0.25 * (-(cos2f * cosG + sin2f * sinG) + cosG + 2 * h2 * sinG) + 0.25 * (-(cos2b * cosG + sin2b * sinG) + cosG + 2 * h1 * sinG);
      out.data[i]! += weight * length * arc;
    }
  });
  for (let i = 0; i < n; i++) out.data[i] = Math.min(1, Math.max(0, out.data[i]!));
  return out;
}

const MARCH_STEPS = 16;

/** Slope to what stands `run` away, fading out towards the radius. */
function faded(slope: number, run: number, radiusMm: number): number {
  const fadeFrom = 0.75 * radiusMm;
  if (slope <= 0 || run <= fadeFrom) return slope;
  return run >= radiusMm ? 0 : (slope * (radiusMm - run)) / (radiusMm - fadeFrom);
}

/** Steepest rise over run to anything within a few steps behind every point, step by step. */
function march(data: Float32Array, w: number, h: number, a: number, b: number, stepMm: number, radiusMm: number, out: Float32Array): void {
  const reach = Math.max(1, Math.ceil(radiusMm / stepMm));
  out.fill(-1e3);
  for (let k = 1; k <= reach; k++) {
    const run = k * stepMm;
    const shift = (((-a * k) % w) + w) % w;
    for (let y = 0; y < h; y++) {
      const row = y * w;
      const from = ((((y - b * k) % h) + h) % h) * w;
      // Two stretches, so that no index wraps inside the loop.
      for (let part = 0; part < 2; part++) {
        const start = part === 0 ? 0 : w - shift;
        const end = part === 0 ? w - shift : w;
        const offset = from + (part === 0 ? shift : shift - w);
        for (let x = start; x < end; x++) {
          const slope = faded((data[offset + x]! - data[row + x]!) / run, run, radiusMm);
          if (slope > out[row + x]!) out[row + x] = slope;
        }
      }
    }
  }
}

/**
 * Steepest rise over run to anything passed before, for every point, walking the torus in steps of (a, b).
 * Each closed orbit is walked once more over the radius before it counts, so that the start knows what lies behind it.
 */
function sweep(data: Float32Array, w: number, h: number, a: number, b: number, stepMm: number, radiusMm: number, out: Float32Array): void {
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
      while (top > 0 && (hullHeight[top - 1]! - z) * (k - hullStep[top]!) >= (hullHeight[top]! - z) * (k - hullStep[top - 1]!)) top--;
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
