import { hash32, hashUnit } from './random';

/**
 * Noise that repeats exactly: every lattice has a whole number of cells over the repeat. Coordinates u and v
 * run from 0 to 1 over the repeat.
 */

// Sixteen even directions, written out so that no trigonometry runs per pixel.
const C1 = 0.9238795325112867;
const S1 = 0.3826834323650898;
const D = 0.7071067811865476;
const GRADIENTS: readonly (readonly [number, number])[] = [
  [1, 0],
  [C1, S1],
  [D, D],
  [S1, C1],
  [0, 1],
  [-S1, C1],
  [-D, D],
  [-C1, S1],
  [-1, 0],
  [-C1, -S1],
  [-D, -D],
  [-S1, -C1],
  [0, -1],
  [S1, -C1],
  [D, -D],
  [C1, -S1],
];
const GX = Float64Array.from(GRADIENTS, (g) => g[0]);
const GY = Float64Array.from(GRADIENTS, (g) => g[1]);

const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10);

/**
 * Gradient noise (after Perlin 2002), repeating with whole lattice periods, about −1…1, mean 0.
 * @param u place across the repeat, 0–1
 * @param v place up the repeat, 0–1
 * @param cellsU lattice cells across the repeat (whole, ≥ 1)
 * @param cellsV lattice cells up the repeat (whole, ≥ 1)
 */
export function gradientNoise(u: number, v: number, cellsU: number, cellsV: number, seed: number): number {
  const x = u * cellsU;
  const y = v * cellsV;
  const xi = Math.floor(x);
  const yi = Math.floor(y);
  const fx = x - xi;
  const fy = y - yi;
  const x0 = ((xi % cellsU) + cellsU) % cellsU;
  const y0 = ((yi % cellsV) + cellsV) % cellsV;
  const x1 = x0 + 1 === cellsU ? 0 : x0 + 1;
  const y1 = y0 + 1 === cellsV ? 0 : y0 + 1;
  const s = Math.imul(seed, 0x9e3779b1);
  const a0 = hash32(x0 ^ s);
  const a1 = hash32(x1 ^ s);
  const h00 = hash32(a0 ^ Math.imul(y0, 0x85ebca77)) & 15;
  const h10 = hash32(a1 ^ Math.imul(y0, 0x85ebca77)) & 15;
  const h01 = hash32(a0 ^ Math.imul(y1, 0x85ebca77)) & 15;
  const h11 = hash32(a1 ^ Math.imul(y1, 0x85ebca77)) & 15;
  const n00 = GX[h00]! * fx + GY[h00]! * fy;
  const n10 = GX[h10]! * (fx - 1) + GY[h10]! * fy;
  const n01 = GX[h01]! * fx + GY[h01]! * (fy - 1);
  const n11 = GX[h11]! * (fx - 1) + GY[h11]! * (fy - 1);
  const a = fade(fx);
  const b = fade(fy);
  return 1.5 * (n00 + (n10 - n00) * a + (n01 - n00) * b + (n00 - n10 - n01 + n11) * a * b);
}

/**
 * Sum of octaves of gradient noise, each with twice the cells of the one before (so every octave repeats).
 * @param octaves how many
 * @param gain amplitude of each octave relative to the one before
 */
export function fractalNoise(
  u: number,
  v: number,
  cellsU: number,
  cellsV: number,
  octaves: number,
  gain: number,
  seed: number,
): number {
  let sum = 0;
  let amplitude = 1;
  let total = 0;
  for (let o = 0; o < octaves; o++) {
    sum += amplitude * gradientNoise(u, v, cellsU << o, cellsV << o, seed + o * 101);
    total += amplitude * amplitude;
    amplitude *= gain;
  }
  return sum / Math.sqrt(total);
}

/** Ridged sum: sharp crests at 1, valleys at 0 (after Musgrave 1994). */
export function ridgedNoise(
  u: number,
  v: number,
  cellsU: number,
  cellsV: number,
  octaves: number,
  gain: number,
  seed: number,
): number {
  let sum = 0;
  let amplitude = 1;
  let total = 0;
  for (let o = 0; o < octaves; o++) {
    const ridge = 1 - Math.abs(gradientNoise(u, v, cellsU << o, cellsV << o, seed + o * 173));
    sum += amplitude * ridge * ridge;
    total += amplitude;
    amplitude *= gain;
  }
  return sum / total;
}

export interface Cell {
  /** Distance to the nearest point, in cells. */
  f1: number;
  /** Distance to the second nearest point. */
  f2: number;
  /** Distance to the nearest border between two cells. */
  edge: number;
  /** A number that belongs to the nearest cell. */
  id: number;
  /** From the nearest point to here, in cells. */
  dx: number;
  dy: number;
}

/**
 * Cellular noise (after Worley 1996) with the exact distance to the cell border, repeating.
 * @param jitter 0 = points on a lattice, 1 = anywhere in their cell
 */
export function cellularNoise(
  u: number,
  v: number,
  cellsU: number,
  cellsV: number,
  jitter: number,
  seed: number,
): Cell {
  const x = u * cellsU;
  const y = v * cellsV;
  const xi = Math.floor(x);
  const yi = Math.floor(y);
  let f1 = Infinity;
  let f2 = Infinity;
  let id = 0;
  let nx = 0;
  let ny = 0;
  const px: number[] = [];
  const py: number[] = [];
  for (let j = -2; j <= 2; j++) {
    const cy = (((yi + j) % cellsV) + cellsV) % cellsV;
    for (let i = -2; i <= 2; i++) {
      const cx = (((xi + i) % cellsU) + cellsU) % cellsU;
      const dx = xi + i + 0.5 + jitter * (hashUnit(cx, cy, 0, seed) - 0.5) - x;
      const dy = yi + j + 0.5 + jitter * (hashUnit(cx, cy, 1, seed) - 0.5) - y;
      px.push(dx);
      py.push(dy);
      const d = dx * dx + dy * dy;
      if (d < f1) {
        f2 = f1;
        f1 = d;
        id = hash32(cx * 7919 + cy * 104729 + seed);
        nx = dx;
        ny = dy;
      } else if (d < f2) f2 = d;
    }
  }
  let edge = Infinity;
  for (let k = 0; k < px.length; k++) {
    const ex = px[k]! - nx;
    const ey = py[k]! - ny;
    const length = Math.sqrt(ex * ex + ey * ey);
    if (length < 1e-9) continue;
    const d = ((nx + px[k]!) * ex + (ny + py[k]!) * ey) / (2 * length);
    if (d < edge) edge = d;
  }
  return { f1: Math.sqrt(f1), f2: Math.sqrt(f2), edge, id, dx: -nx, dy: -ny };
}

/** 0 below `from`, 1 above `to`, smooth between. */
export function smoothstep(from: number, to: number, x: number): number {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)));
  return t * t * (3 - 2 * t);
}
