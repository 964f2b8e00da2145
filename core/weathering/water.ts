import type { Plane } from '../raster';
import { atOnce, type Steps } from '../steps';

/**
 * Where water runs down a wall: rain that falls on every part of it is passed on row by row to the lower one of the places
 * below, and gathers in hollows and joints (after Dorsey, Pedersen, Hanrahan 1996, with the flow of each row in place of single
 * drops). What leaves at the bottom comes in again at the top, so that the flow closes as the repeat does.
 */

/** Rounds over the repeat until the flow no longer changes with where it began. */
const ROUNDS = 3;
/** Share of the water that stays in every millimetre. */
const STAYS_PER_MM = 0.012;
/** Water leaves a place that is this much higher than the one beside it, mm. */
const HEIGHT_MM = 0.05;

/**
 * @param height of a wall, mm; the first row is at its top
 * @param mm size of a pixel
 * @returns flow relative to its mean; 1 is the mean
 */
export const runOff = (height: Plane, mm: { x: number; y: number }): Plane => atOnce(runOffSteps(height, mm));

/** Pixels that water runs over before others may have their turn. */
const BETWEEN_TURNS = 1 << 18;

/** The same in steps. */
export function* runOffSteps(
  { widthPx: w, heightPx: h, data }: Plane,
  mm: { x: number; y: number },
): Steps<Plane> {
  const out = new Float32Array(w * h);
  let flow = new Float32Array(w).fill(1);
  let next = new Float32Array(w);
  const stays = Math.min(0.5, STAYS_PER_MM * mm.y);
  // Water turns aside by at most 45° however many pixels that are.
  const sideways = Math.min(1, mm.y / mm.x) / 3;
  const rows = Math.ceil(BETWEEN_TURNS / w);
  for (let round = 0; round < ROUNDS; round++)
    for (let y = 0; y < h; y++) {
      if (y % rows === 0) yield;
      const below = ((y + 1) % h) * w;
      next.fill(stays);
      for (let x = 0; x < w; x++) {
        out[y * w + x] = flow[x]!;
        const left = (x + w - 1) % w;
        const right = (x + 1) % w;
        const here = data[below + x]!;
        const drawn = (other: number) =>
          sideways * Math.min(2, Math.max(0.1, 1 + (here - data[below + other]!) / HEIGHT_MM));
        const [l, r] = [drawn(left), drawn(right)];
        const all = 1 + l + r;
        const passed = flow[x]! * (1 - stays);
        next[x]! += passed / all;
        next[left]! += (passed * l) / all;
        next[right]! += (passed * r) / all;
      }
      [flow, next] = [next, flow];
    }
  let sum = 0;
  for (let i = 0; i < out.length; i++) sum += out[i]!;
  const scale = out.length / sum;
  for (let i = 0; i < out.length; i++) out[i]! *= scale;
  return { widthPx: w, heightPx: h, data: out };
}
