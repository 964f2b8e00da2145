// AssemblyScript, compiled by `npm run kernels` to ../occlusion.wasm.ts. Addresses are bytes in the module's memory;
// all numbers there are 32 bits wide. What lies where is written down in ../occlusion.ts, which fills the memory.

/**
 * Bytes of one line: first step, end of the steps between pixels, end of the near steps, end of all steps (i32);
 * ux, uy, half of its wedge (f32).
 */
const LINE_BYTES: usize = 28;
/**
 * Bytes of one step: columns along, rows down (i32), one over its length in mm, faded towards the radius (f32);
 * for a step between pixels the columns and rows to the other pixel (i32) and its share (f32).
 */
const STEP_BYTES: usize = 24;
/** Bytes of the addresses of a step, ahead and behind, and those of the other pixel of a step between two. */
const PAIR_BYTES: usize = 16;
/** Lower than any horizon. */
const NOTHING: f32 = -1000;

/**
 * Occlusion of one row: horizons step by step both ways along every line, and the analytic integral of each slice.
 * Works on sixteen columns at once and may write up to fifteen columns past the end of `out`.
 */
export function occludeRow(
  y: i32,
  widthPx: i32,
  heightPx: i32,
  stride: i32,
  border: i32,
  plane: usize,
  lines: usize,
  lineCount: i32,
  steps: usize,
  pairs: usize,
  nx: usize,
  ny: usize,
  nz: usize,
  out: usize,
): void {
  const row = plane + ((<usize>(y * stride + border)) << 2);
  memory.fill(out, 0, (<usize>((widthPx + 15) & ~15)) << 2);
  for (let l = 0; l < lineCount; l++) {
    const line = lines + <usize>l * LINE_BYTES;
    const first = load<i32>(line);
    const between = load<i32>(line, 4) - first;
    const near = load<i32>(line, 8) - first;
    const count = load<i32>(line, 12) - first;
    const ux = f32x4.splat(load<f32>(line, 16));
    const uy = f32x4.splat(load<f32>(line, 20));
    const half = f32x4.splat(load<f32>(line, 24));
    const lineSteps = steps + <usize>first * STEP_BYTES;
    for (let k = 0; k < count; k++) {
      const step = lineSteps + <usize>k * STEP_BYTES;
      const pair = pairs + <usize>k * PAIR_BYTES;
      const along = load<i32>(step);
      const down = load<i32>(step, 4);
      const start = plane + ((<usize>border) << 2);
      store<usize>(pair, start + offset(y + down, along, heightPx, stride));
      store<usize>(pair, start + offset(y - down, -along, heightPx, stride), 4);
      const otherAlong = along + load<i32>(step, 12);
      const otherDown = down + load<i32>(step, 16);
      store<usize>(pair, start + offset(y + otherDown, otherAlong, heightPx, stride), 8);
      store<usize>(pair, start + offset(y - otherDown, -otherAlong, heightPx, stride), 12);
    }
    for (let x = 0; x < widthPx; x += 16) {
      const at = (<usize>x) << 2;
      const z0 = v128.load(row + at, 0);
      const z1 = v128.load(row + at, 16);
      const z2 = v128.load(row + at, 32);
      const z3 = v128.load(row + at, 48);
      let ahead0 = f32x4.splat(NOTHING);
      let ahead1 = ahead0;
      let ahead2 = ahead0;
      let ahead3 = ahead0;
      let behind0 = ahead0;
      let behind1 = ahead0;
      let behind2 = ahead0;
      let behind3 = ahead0;
      for (let k = 0; k < between; k++) {
        const pair = pairs + <usize>k * PAIR_BYTES;
        const step = lineSteps + <usize>k * STEP_BYTES;
        const inverse = v128.load_splat<f32>(step, 8);
        const share = v128.load_splat<f32>(step, 20);
        const a = load<usize>(pair) + at;
        const b = load<usize>(pair, 4) + at;
        const c = load<usize>(pair, 8) + at;
        const d = load<usize>(pair, 12) + at;
        ahead0 = f32x4.pmax(ahead0, slope(mixed(a, c, share), z0, inverse));
        ahead1 = f32x4.pmax(ahead1, slope(mixed(a + 16, c + 16, share), z1, inverse));
        ahead2 = f32x4.pmax(ahead2, slope(mixed(a + 32, c + 32, share), z2, inverse));
        ahead3 = f32x4.pmax(ahead3, slope(mixed(a + 48, c + 48, share), z3, inverse));
        behind0 = f32x4.pmax(behind0, slope(mixed(b, d, share), z0, inverse));
        behind1 = f32x4.pmax(behind1, slope(mixed(b + 16, d + 16, share), z1, inverse));
        behind2 = f32x4.pmax(behind2, slope(mixed(b + 32, d + 32, share), z2, inverse));
        behind3 = f32x4.pmax(behind3, slope(mixed(b + 48, d + 48, share), z3, inverse));
      }
      for (let k = between; k < near; k++) {
        const pair = pairs + <usize>k * PAIR_BYTES;
        const inverse = v128.load_splat<f32>(lineSteps + <usize>k * STEP_BYTES, 8);
        const a = load<usize>(pair) + at;
        const b = load<usize>(pair, 4) + at;
        ahead0 = f32x4.pmax(ahead0, slope(v128.load(a, 0), z0, inverse));
        ahead1 = f32x4.pmax(ahead1, slope(v128.load(a, 16), z1, inverse));
        ahead2 = f32x4.pmax(ahead2, slope(v128.load(a, 32), z2, inverse));
        ahead3 = f32x4.pmax(ahead3, slope(v128.load(a, 48), z3, inverse));
        behind0 = f32x4.pmax(behind0, slope(v128.load(b, 0), z0, inverse));
        behind1 = f32x4.pmax(behind1, slope(v128.load(b, 16), z1, inverse));
        behind2 = f32x4.pmax(behind2, slope(v128.load(b, 32), z2, inverse));
        behind3 = f32x4.pmax(behind3, slope(v128.load(b, 48), z3, inverse));
      }
      // In the fading zone only what rises counts.
      for (let k = near; k < count; k++) {
        const pair = pairs + <usize>k * PAIR_BYTES;
        const inverse = v128.load_splat<f32>(lineSteps + <usize>k * STEP_BYTES, 8);
        const a = load<usize>(pair) + at;
        const b = load<usize>(pair, 4) + at;
        ahead0 = risen(ahead0, slope(v128.load(a, 0), z0, inverse));
        ahead1 = risen(ahead1, slope(v128.load(a, 16), z1, inverse));
        ahead2 = risen(ahead2, slope(v128.load(a, 32), z2, inverse));
        ahead3 = risen(ahead3, slope(v128.load(a, 48), z3, inverse));
        behind0 = risen(behind0, slope(v128.load(b, 0), z0, inverse));
        behind1 = risen(behind1, slope(v128.load(b, 16), z1, inverse));
        behind2 = risen(behind2, slope(v128.load(b, 32), z2, inverse));
        behind3 = risen(behind3, slope(v128.load(b, 48), z3, inverse));
      }
      addSlice(out + at, nx + at, ny + at, nz + at, ux, uy, half, ahead0, behind0);
      addSlice(out + at + 16, nx + at + 16, ny + at + 16, nz + at + 16, ux, uy, half, ahead1, behind1);
      addSlice(out + at + 32, nx + at + 32, ny + at + 32, nz + at + 32, ux, uy, half, ahead2, behind2);
      addSlice(out + at + 48, nx + at + 48, ny + at + 48, nz + at + 48, ux, uy, half, ahead3, behind3);
    }
  }
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let x = 0; x < widthPx; x += 4) {
    const at = out + ((<usize>x) << 2);
    v128.store(at, f32x4.pmax(zero, f32x4.pmin(one, v128.load(at))));
  }
}

/** Bytes from the start of the plane to a row, wrapped, and a column. */
function offset(row: i32, column: i32, heightPx: i32, stride: i32): usize {
  let within = row;
  if (within >= heightPx) within -= heightPx;
  if (within < 0) within += heightPx;
  return (<usize>(within * stride + column)) << 2;
}

/** Rise of a height over another one, over the run. */
function slope(height: v128, from: v128, inverse: v128): v128 {
  return f32x4.mul(f32x4.sub(height, from), inverse);
}

/** Heights between those of two pixels. */
function mixed(at: usize, other: usize, share: v128): v128 {
  const height = v128.load(at);
  return f32x4.add(height, f32x4.mul(f32x4.sub(v128.load(other), height), share));
}

/** The higher of a horizon and a slope, where the slope rises. */
function risen(horizon: v128, rise: v128): v128 {
  const rises = f32x4.gt(rise, f32x4.splat(0));
  return v128.bitselect(f32x4.pmax(horizon, rise), horizon, rises);
}

/**
 * Adds a slice: ½·cos γ·(qf + qb) + ½·sin γ·(tb·qb − tf·qf + atan tb − atan tf), with horizon tangents t ahead (f) and
 * behind (b), q = 1/(1 + t²), and the normal's angle γ in the slice (Jimenez et al. 2016, eq. 7–10). The surface itself
 * is the lowest horizon there is.
 */
function addSlice(
  out: usize,
  nx: usize,
  ny: usize,
  nz: usize,
  ux: v128,
  uy: v128,
  half: v128,
  ahead: v128,
  behind: v128,
): void {
  const one = f32x4.splat(1);
  const along = f32x4.add(f32x4.mul(v128.load(nx), ux), f32x4.mul(v128.load(ny), uy));
  const up = v128.load(nz);
  const own = f32x4.div(along, up);
  const tf = f32x4.pmax(ahead, f32x4.neg(own));
  const tb = f32x4.pmax(behind, own);
  const qf = f32x4.div(one, f32x4.add(one, f32x4.mul(tf, tf)));
  const qb = f32x4.div(one, f32x4.add(one, f32x4.mul(tb, tb)));
  const level = f32x4.mul(up, f32x4.add(qf, qb));
  const turned = f32x4.sub(f32x4.mul(tb, qb), f32x4.mul(tf, qf));
  const arcs = f32x4.sub(arcTangent(tb), arcTangent(tf));
  const light = f32x4.add(level, f32x4.mul(along, f32x4.add(turned, arcs)));
  v128.store(out, f32x4.add(v128.load(out), f32x4.mul(half, light)));
}

/** Arc tangent within 1e-5 (Abramowitz, Stegun 4.4.47 with range reduction). */
function arcTangent(t: v128): v128 {
  const one = f32x4.splat(1);
  const size = f32x4.abs(t);
  const swap = f32x4.gt(size, one);
  const x = v128.bitselect(f32x4.div(one, size), size, swap);
  const q = f32x4.mul(x, x);
  let a = f32x4.add(f32x4.splat(-0.085133), f32x4.mul(q, f32x4.splat(0.0208351)));
  a = f32x4.add(f32x4.splat(0.180141), f32x4.mul(q, a));
  a = f32x4.add(f32x4.splat(-0.3302995), f32x4.mul(q, a));
  a = f32x4.add(f32x4.splat(0.999866), f32x4.mul(q, a));
  a = f32x4.mul(x, a);
  a = v128.bitselect(f32x4.sub(f32x4.splat(1.5707963705062866), a), a, swap);
  // The sign of t.
  return v128.or(a, v128.and(t, i32x4.splat(<i32>0x80000000)));
}
