import { squared } from '../../../exact';
import { gradientNoise, hashUnit, smoothstep } from '../../../raster';
import type { Leaf } from './leaves';
import type { Values } from './settings';

/** What a place on a leaf meets: rings, pores, rays, knots. */

/** What is known of a place on a leaf; one object, reused for every pixel. */
const at = { r: 0, steep: 1, knot: 0, knotRing: 0, x: 0, y: 0 };

/** Distance from the pith of a place on a leaf along the grain. The pith wanders; rings bend around knots. */
export function longGrain(leaf: Leaf, xMm: number, yMm: number, lengthMm: number, wobble: number): typeof at {
  const u = xMm / lengthMm;
  const s = leaf.seed;
  const waves = (mm: number) => Math.max(1, Math.round(lengthMm / mm));
  const lift =
    13 * gradientNoise(u, 0.31, waves(900), 1, s) + 3.5 * gradientNoise(u, 0.7, waves(240), 1, s + 1);
  const sway =
    12 * gradientNoise(u, 0.13, waves(700), 1, s + 2) + 2.5 * gradientNoise(u, 0.9, waves(160), 1, s + 3);
  let dy = yMm - leaf.pithMm - sway;
  let dz = leaf.offMm + lift + 0.5 * wobble;
  let [knot, knotRing] = [0, 0];
  for (const k of leaf.knots) {
    let dx = xMm - k.x;
    dx -= lengthMm * Math.round(dx / lengthMm);
    const [kx, ky] = [dx / 1.6, yMm - k.y];
    const d = Math.sqrt(kx * kx + ky * ky) / k.radiusMm;
    if (d > 7) continue;
    const bend = Math.exp(-0.5 * squared(d / 1.9));
    dz += 1.5 * k.radiusMm * bend;
    dy += 0.3 * ky * bend;
    const rough = 1 + 0.1 * gradientNoise(kx / 60 + 0.5, ky / 60 + 0.5, 9, 9, s + 7);
    const inside = 1 - smoothstep(0.8, 1.15, d * rough);
    if (inside > knot) {
      knot = inside * k.dark;
      knotRing = 0.5 + 0.5 * Math.sin(d * k.radiusMm * 2.3 * rough);
    }
  }
  at.r = Math.sqrt(dy * dy + dz * dz);
  // How many mm of radius one mm across the leaf is.
  at.steep = Math.abs(dy) / Math.max(1, at.r);
  at.knot = knot;
  at.knotRing = knotRing;
  return at;
}

/** Distance from the pith of a place on a block that is cut across the grain. */
export function endGrain(leaf: Leaf, xMm: number, yMm: number, blockMm: number): typeof at {
  const s = leaf.seed;
  const away = blockMm * (0.15 + 1.1 * hashUnit(s, 1, 0, 3));
  const turn = 2 * Math.PI * hashUnit(s, 2, 0, 3);
  const dx = xMm - blockMm / 2 - away * Math.cos(turn);
  const dy = yMm - blockMm / 2 - away * Math.sin(turn);
  const bumps =
    gradientNoise(dx / 400 + 0.5, dy / 400 + 0.5, 9, 9, s) +
    0.4 * gradientNoise(dx / 400 + 0.5, dy / 400 + 0.5, 27, 27, s + 1);
  at.r = Math.sqrt(dx * dx + dy * dy) * (1 + 0.03 * bumps);
  at.steep = 1;
  at.knot = 0;
  at.x = dx;
  at.y = dy;
  return at;
}

/** Vessels: short dark lines along the grain, round holes across it, in the early wood where the timber is ring-porous. */
export function poreAt(
  values: Values,
  seed: number,
  xMm: number,
  yMm: number,
  t: number,
  end: boolean,
  pixelMm: number,
): number {
  if (values.pores === 'none') return 0;
  const band = values.pores === 'ring' ? 1 - smoothstep(0.08, 0.36, t) : 0.5;
  if (band <= 0) return 0;
  const acrossMm = values.pores === 'ring' ? 0.3 : 0.2;
  const longMm = end ? acrossMm : values.poreMm.value;
  const row = Math.floor(yMm / acrossMm);
  const shifted = xMm + hashUnit(row, 3, 1, seed) * 9 * longMm;
  const cell = Math.floor(shifted / longMm);
  if (hashUnit(cell, row, 2, seed) > 0.62 * band) return 0;
  const within = shifted / longMm - cell;
  const off = Math.abs(yMm / acrossMm - row - 0.5);
  const soft = Math.max(0.12, pixelMm / acrossMm / 2);
  const wide = 1 - smoothstep(0.38 - soft, 0.38 + soft, off);
  const from = 0.15 + 0.3 * hashUnit(cell, row, 5, seed);
  const long = end
    ? 1 - smoothstep(0.3, 0.3 + soft, Math.abs(within - 0.5))
    : smoothstep(0, 0.12, within - from) * (1 - smoothstep(0.8, 0.98, within));
  return wide * long * (0.5 + 0.5 * hashUnit(cell, row, 4, seed));
}

/** Rays on the quarter: lens-shaped flecks that cross the grain. */
export function rayFleck(seed: number, xMm: number, yMm: number, lengthMm: number, wide: boolean): number {
  const [w, h] = wide ? [17, 9] : [11, 2.6];
  const row = Math.floor(yMm / h);
  const columns = Math.max(1, Math.round(lengthMm / w));
  const cellMm = lengthMm / columns;
  let most = 0;
  for (let j = row - 1; j <= row + 1; j++) {
    const shift = hashUnit(j, 1, 0, seed) * cellMm;
    const c = Math.floor((xMm + shift) / cellMm);
    for (const k of [c - 1, c, c + 1]) {
      const id = ((k % columns) + columns) % columns;
      if (hashUnit(id, j, 2, seed) > 0.55) continue;
      const cx = (k + 0.2 + 0.6 * hashUnit(id, j, 3, seed)) * cellMm - shift;
      const cy = (j + 0.2 + 0.6 * hashUnit(id, j, 4, seed)) * h;
      const size = 0.35 + 0.65 * hashUnit(id, j, 5, seed);
      const [dx, dy] = [xMm - cx, yMm - cy];
      // A fleck leans: it runs across the grain at a flat angle.
      const lean = 0.35 * dx + dy;
      const across = Math.abs(lean) / (wide ? 0.75 : 0.3);
      const along = Math.abs(dx) / (0.48 * w * size);
      const inside = 1 - Math.max(along, along * along + across);
      if (inside > 0) most = Math.max(most, Math.min(1, 2.5 * inside));
    }
  }
  return most;
}

/** Rays across the grain: fine pale lines out from the pith. */
export function rayOfEnd({ x, y, r }: typeof at, seed: number, pixelMm: number): number {
  const turn = Math.atan2(y, x) / (2 * Math.PI) + 0.5;
  const lines = 2 * Math.PI * 60;
  const k = Math.floor(turn * lines);
  const seen = smoothstep(0.5, 1.5, 0.16 / pixelMm);
  if (hashUnit(k, 0, 1, seed) > 0.5) return 0;
  const off = Math.abs(turn * lines - k - 0.5) * ((2 * Math.PI * r) / lines);
  return seen * (1 - smoothstep(0.03, 0.12, off));
}
