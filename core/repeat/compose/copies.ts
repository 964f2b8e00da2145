import { atOnce, type Steps } from '../../steps';
import type { Atlas } from './atlas';
import type { Anew, Lattice } from './composer';
import {
  makeToroidalCanvas,
  neighbour,
  proposeCopy,
  seamCost,
  type Joints,
  type ToroidalCanvas,
  type Window,
} from './toroidal-canvas';

/** Copies of the sample within a repeat: how they are carried to a higher resolution, and what is then done to them. */

/** Where two places cost the same, a copy stays where it is. */
const STAYS = 1e-9;

/** The same repeat at twice the resolution. */
export function doubled(
  torus: ToroidalCanvas,
  atlas: Atlas,
  widthPx: number,
  heightPx: number,
  joints: Joints | undefined,
): ToroidalCanvas {
  const out = makeToroidalCanvas(atlas, widthPx, heightPx, torus.closed, joints);
  const from = torus.atlas;
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const place =
        torus.place[
          Math.min(torus.heightPx - 1, y >> 1) * torus.widthPx + Math.min(torus.widthPx - 1, x >> 1)
        ]!;
      if (place < 0) continue;
      const index = from.partOf[place]!;
      const old = from.parts[index]!;
      const now = atlas.parts[index]!;
      const local = place - old.first;
      const sy = Math.floor(local / from.stride);
      const sx = local - sy * from.stride;
      const px = Math.min(now.widthPx - 1, 2 * sx + (x & 1));
      const py = Math.min(now.heightPx - 1, 2 * sy + (y & 1));
      out.place[y * widthPx + x] = now.first + py * atlas.stride + px;
    }
  return out;
}

/** Copies of a repeat: pixels that lie together in repeat and sample. */
interface Copies {
  /** Copy of each pixel. */
  of: Int32Array;
  list: { partIndex: number; pixels: number[] }[];
}

/** Finds connected copies, over closed edges as well; where only some pixels are free, those of them. */
function findCopies(torus: ToroidalCanvas, free: Uint8Array | null = null): Copies {
  const { widthPx: W, heightPx: H, place, atlas, closed } = torus;
  const of = new Int32Array(W * H).fill(-1);
  const list: Copies['list'] = [];
  for (let start = 0; start < of.length; start++) {
    if (of[start]! >= 0 || place[start]! < 0 || (free && free[start] === 0)) continue;
    const index = list.length;
    const pixels = [start];
    of[start] = index;
    for (let k = 0; k < pixels.length; k++) {
      const p = pixels[k]!;
      const x = p % W;
      const y = (p - x) / W;
      const go = (q: number, step: number) => {
        if (of[q]! < 0 && place[q] === place[p]! + step && (!free || free[q] === 1)) {
          of[q] = index;
          pixels.push(q);
        }
      };
      if (x + 1 < W || closed.across) go(y * W + ((x + 1) % W), 1);
      if (x > 0 || closed.across) go(y * W + ((x + W - 1) % W), -1);
      if (y + 1 < H || closed.up) go(((y + 1) % H) * W + x, atlas.stride);
      if (y > 0 || closed.up) go(((y + H - 1) % H) * W + x, -atlas.stride);
    }
    list.push({ partIndex: atlas.partOf[place[start]!]!, pixels });
  }
  return { of, list };
}

/**
 * Moves each copy by a pixel or two where its outline then fits better: what halving could not see. With a lattice, a
 * copy lies in step with it to half a pixel afterwards, whatever that costs.
 * @param free 1 where pixels may change; null: everywhere
 */
export const refineOffsets = (...of: Parameters<typeof refiningSteps>): void => atOnce(refiningSteps(...of));

/** The same in steps. */
export function* refiningSteps(
  torus: ToroidalCanvas,
  reach: number,
  lattice: Lattice = NO_LATTICE,
  free: Uint8Array | null = null,
): Steps<void> {
  const { widthPx: W, heightPx: H, place, atlas } = torus;
  const { stride } = atlas;
  const { of, list } = findCopies(torus, free);
  const order = list
    .map((_, k) => k)
    .sort((a, b) => list[a]!.pixels.length - list[b]!.pixels.length || a - b);
  const about = Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach);
  // The largest stays, unless it must be in step, or all that is fixed lies around it.
  for (const k of lattice.acrossPx || lattice.upPx || free ? order : order.slice(0, -1)) {
    yield;
    const { pixels, partIndex } = list[k]!;
    const off = offLattice(torus, pixels[0]!, partIndex, lattice);
    const [across, down] = [off.x === null ? about : [-off.x], off.y === null ? about : [-off.y]];
    // Pairs of the outline: inside pixel, outside pixel, step.
    const pairs: [number, number, number, boolean][] = [];
    for (const p of pixels) {
      const x = p % W;
      const y = (p - x) / W;
      const right = neighbour(torus, x, y, false);
      const below = neighbour(torus, x, y, true);
      if (right >= 0 && of[right] !== k) pairs.push([p, right, 1, true]);
      if (below >= 0 && of[below] !== k) pairs.push([p, below, stride, true]);
      const left = x > 0 ? p - 1 : torus.closed.across ? p + W - 1 : -1;
      const above = y > 0 ? p - W : torus.closed.up ? p + (H - 1) * W : -1;
      if (left >= 0 && of[left] !== k) pairs.push([left, p, 1, false]);
      if (above >= 0 && of[above] !== k) pairs.push([above, p, stride, false]);
    }
    let best = 0;
    let least = Infinity;
    for (const dy of down)
      for (const dx of across) {
        const d = dy * stride + dx;
        let cost = 0;
        for (const [a, b, step, inFirst] of pairs) {
          cost += inFirst
            ? seamCost(atlas, place[a]! + d, place[b]!, step, 0)
            : seamCost(atlas, place[a]!, place[b]! + d, step, 0);
          if (cost >= least) break;
        }
        if (d === 0) cost *= 1 - STAYS;
        if (cost < least) {
          // Every pixel must stay within its part.
          const part = atlas.partOf[place[pixels[0]!]!]!;
          if (
            d !== 0 &&
            pixels.some((p) => atlas.partOf[place[p]! + d] !== part || atlas.usable[place[p]! + d] !== 1)
          )
            continue;
          least = cost;
          best = d;
        }
      }
    if (best !== 0) for (const p of pixels) place[p]! += best;
  }
}

const NO_LATTICE: Lattice = { acrossPx: null, upPx: null, stagger: 0 };

/** By how many whole pixels a copy lies off a lattice; null on an axis that has none. */
function offLattice(
  { widthPx: W, place, atlas, begins }: ToroidalCanvas,
  p: number,
  partIndex: number,
  { acrossPx, upPx, stagger }: Lattice,
): { x: number | null; y: number | null } {
  const local = place[p]! - atlas.parts[partIndex]!.first;
  const v = Math.floor(local / atlas.stride);
  const dx = local - v * atlas.stride - (p % W) - begins.x;
  const dy = v - Math.floor(p / W) - begins.y;
  const courses = upPx ? Math.round(dy / upPx) : 0;
  const rest = (d: number, period: number) => Math.round(d - Math.round(d / period) * period);
  return {
    x: acrossPx ? rest(dx - courses * stagger * acrossPx, acrossPx) : null,
    y: upPx ? rest(dy, upPx) : null,
  };
}

/**
 * Finds the best outline of every copy anew, within a band around its present one.
 * @param anew where pixels may change; null: everywhere
 * @param within only a band about its outline, or all of a window that reaches as far beyond it
 */
export const recutSeams = (...of: Parameters<typeof recuttingSteps>): void => atOnce(recuttingSteps(...of));

/** The same in steps, as far as it is. */
export function* recuttingSteps(
  torus: ToroidalCanvas,
  bandPx: number,
  anew: Anew | null = null,
  within: 'band' | 'window' = 'band',
): Steps<void> {
  const { widthPx: W, heightPx: H, atlas } = torus;
  const { list } = findCopies(torus);
  const near = new Uint8Array(W * H);
  const free = anew?.free;
  for (const { pixels, partIndex } of list) {
    yield;
    if (pixels.length < 4 || (free && !pixels.some((p) => free[p] === 1))) continue;
    // The copy's own window, unwrapped around its first pixel.
    const start = pixels[0]!;
    const [cx, cy] = [start % W, Math.floor(start / W)];
    const part = atlas.parts[partIndex]!;
    const local = (p: number) => {
      const l = torus.place[p]! - part.first;
      const sy = Math.floor(l / atlas.stride);
      return [l - sy * atlas.stride, sy] as const;
    };
    const [sx0, sy0] = local(start);
    let [left, right, top, bottom] = [0, 0, 0, 0];
    near.fill(0);
    let alive = 0;
    for (const p of pixels) {
      if (atlas.partOf[torus.place[p]!] !== partIndex || (free && free[p] === 0)) continue;
      const [sx, sy] = local(p);
      // Still part of this copy after the cuts before.
      if ((((cx + sx - sx0) % W) + W) % W !== p % W || (((cy + sy - sy0) % H) + H) % H !== Math.floor(p / W))
        continue;
      alive++;
      left = Math.min(left, sx - sx0);
      right = Math.max(right, sx - sx0);
      top = Math.min(top, sy - sy0);
      bottom = Math.max(bottom, sy - sy0);
      if (within === 'window') continue;
      const [x, y] = [p % W, Math.floor(p / W)];
      for (let v = -bandPx; v <= bandPx; v++)
        for (let u = -bandPx; u <= bandPx; u++) {
          if (!torus.closed.across && (x + u < 0 || x + u >= W)) continue;
          if (!torus.closed.up && (y + v < 0 || y + v >= H)) continue;
          near[((y + v + H) % H) * W + ((x + u + W) % W)] = 1;
        }
    }
    if (alive === 0) continue;
    if (free) for (let p = 0; p < near.length; p++) near[p]! &= free[p]!;
    const window: Window = {
      x: cx + left - bandPx,
      y: cy + top - bandPx,
      widthPx: right - left + 1 + 2 * bandPx,
      heightPx: bottom - top + 1 + 2 * bandPx,
    };
    const move = proposeCopy(
      torus,
      window,
      partIndex,
      { x: sx0 + left - bandPx, y: sy0 + top - bandPx },
      within === 'window' ? (free ?? null) : near,
      anew?.before,
    );
    if (move && move.after < move.before) move.apply();
  }
}
