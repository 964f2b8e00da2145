// AssemblyScript, compiled by `npm run kernels` to ../noise.wasm.ts; core/generate/noise.ts fills its memory.

/**
 * Draws the directions at a row of a lattice, numbers from 0 to 15.
 * @param hashed i32 of every column of the lattice
 * @param row hash of the row
 */
export function drawDirections(hashed: usize, cells: i32, row: i32, into: usize): void {
  for (let x = 0; x < cells; x++)
    store<u8>(into + <usize>x, hash32(load<i32>(hashed + ((<usize>x) << 2)) ^ row) & 15);
}

/** 32-bit finaliser (Chris Wellons' "lowbias32"), as core/raster/random.ts has it. */
function hash32(value: i32): i32 {
  let x = value;
  x = (x ^ (x >>> 16)) * 0x7feb352d;
  x = (x ^ (x >>> 15)) * 0x846ca68b;
  return x ^ (x >>> 16);
}

/**
 * Adds one row of gradient noise (Perlin 2002) to a row of f32.
 * @param directions f64: x of sixteen directions, then y
 * @param lower directions at the row of the lattice below, u8, as `upper`
 * @param cells columns of the lattice
 * @param step cells per pixel
 * @param shift of the lattice, cells
 * @param fy place between the two rows, 0–1
 * @param b the same, faded
 */
export function addRow(
  out: usize,
  width: i32,
  directions: usize,
  lower: usize,
  upper: usize,
  cells: i32,
  step: f64,
  shift: f64,
  fy: f64,
  b: f64,
  scale: f64,
): void {
  let cell = -1;
  let ax: f64 = 0;
  let ay: f64 = 0;
  let bx: f64 = 0;
  let by: f64 = 0;
  let cx: f64 = 0;
  let cy: f64 = 0;
  let dx: f64 = 0;
  let dy: f64 = 0;
  for (let i = 0; i < width; i++) {
    const u = (<f64>i + 0.5) * step + shift;
    const whole = Math.floor(u);
    const xi = <i32>whole;
    if (xi != cell) {
      cell = xi;
      const at = xi % cells;
      const next = at + 1 == cells ? 0 : at + 1;
      const k0 = directionAt(directions, lower, at);
      const k1 = directionAt(directions, lower, next);
      const k2 = directionAt(directions, upper, at);
      const k3 = directionAt(directions, upper, next);
      ax = load<f64>(k0);
      ay = load<f64>(k0, 128) * fy;
      bx = load<f64>(k1);
      by = load<f64>(k1, 128) * fy;
      cx = load<f64>(k2);
      cy = load<f64>(k2, 128) * (fy - 1);
      dx = load<f64>(k3);
      dy = load<f64>(k3, 128) * (fy - 1);
    }
    const fx = u - whole;
    const a = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
    const n00 = ax * fx + ay;
    const n01 = cx * fx + cy;
    const top = n00 + a * (bx * (fx - 1) + by - n00);
    const bottom = n01 + a * (dx * (fx - 1) + dy - n01);
    const place = out + ((<usize>i) << 2);
    store<f32>(place, <f32>(<f64>load<f32>(place) + scale * (top + b * (bottom - top))));
  }
}

function directionAt(directions: usize, row: usize, column: i32): usize {
  return directions + ((<usize>load<u8>(row + <usize>column)) << 3);
}

/** Neighbours of a cell that can hold the nearest points: five by five. */
const NEIGHBOURS: i32 = 25;

/**
 * The nearest point of a cellular pattern (Worley 1996) with one point in every cell, and the border of its cell.
 * @param px f64 for each cell: place of its point within it; py likewise
 * @param x place, in cells, as y
 * @param work room for three times NEIGHBOURS f64
 * @param found f64: distance to the point, distance to the border of its cell, number of the cell
 */
export function nearestPoint(
  px: usize,
  py: usize,
  cellsU: i32,
  cellsV: i32,
  x: f64,
  y: f64,
  work: usize,
  found: usize,
): void {
  const xi = <i32>Math.floor(x);
  const yi = <i32>Math.floor(y);
  const left = wrapped(xi - 2, cellsU);
  let least: f64 = Infinity;
  let at = 0;
  let n = 0;
  for (let j = yi - 2; j <= yi + 2; j++) {
    const row = wrapped(j, cellsV) * cellsU;
    let column = left;
    for (let i = xi - 2; i <= xi + 2; i++) {
      const cell = (<usize>(row + column)) << 3;
      const dx = <f64>i + load<f64>(px + cell) - x;
      const dy = <f64>j + load<f64>(py + cell) - y;
      if (++column == cellsU) column = 0;
      const square = dx * dx + dy * dy;
      const place = work + <usize>n * 24;
      store<f64>(place, dx);
      store<f64>(place, dy, 8);
      store<f64>(place, square, 16);
      if (square < least) {
        least = square;
        at = n;
      }
      n++;
    }
  }
  const f1 = Math.sqrt(least);
  store<f64>(found, f1);
  store<f64>(found, borderFrom(work, at, f1), 8);
  const column = wrapped(xi - 2 + (at % 5), cellsU);
  store<f64>(found, <f64>(wrapped(yi - 2 + at / 5, cellsV) * cellsU + column), 16);
}

/** Distance to the nearest border between the nearest point and any other. */
function borderFrom(work: usize, at: i32, f1: f64): f64 {
  const own = work + <usize>at * 24;
  const nx = load<f64>(own);
  const ny = load<f64>(own, 8);
  let edge: f64 = Infinity;
  let reach: f64 = Infinity;
  for (let k = 0; k < NEIGHBOURS; k++) {
    const other = work + <usize>k * 24;
    // The border with a point lies at least half of its extra distance away.
    if (k == at || load<f64>(other, 16) >= reach) continue;
    const ox = load<f64>(other);
    const oy = load<f64>(other, 8);
    const ex = ox - nx;
    const ey = oy - ny;
    const length = Math.sqrt(ex * ex + ey * ey);
    const d = ((nx + ox) * ex + (ny + oy) * ey) / (2 * length);
    if (length > 1e-9 && d < edge) {
      edge = d;
      reach = (2 * edge + f1) * (2 * edge + f1);
    }
  }
  return edge;
}

function wrapped(i: i32, length: i32): i32 {
  return ((i % length) + length) % length;
}
