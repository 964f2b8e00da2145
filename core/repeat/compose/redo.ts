import type { Plane } from '../../raster';
import { unturned, type Atlas } from './atlas';
import { Composer, type Lattice, type Steps } from './composer';
import { recut } from './copies';
import type { Torus } from './torus';

/** What of a solved repeat is to be laid anew, at the working resolution. */
export interface RedoTask {
  /** 1 where it is laid anew, of the shape of the repeat. */
  area: Uint8Array;
  /** Of each source, 1 where it is not to be used any more; null: nothing of it. Of the shape of the source as it lies. */
  taken: readonly (Plane | null)[];
  seed: number;
  /** Sides of the copies it is laid with where one cannot cover it, px. */
  patchPx: { w: number; h: number };
  lattice?: Lattice | undefined;
}

/** What was laid anew, and where. */
export interface Redone {
  torus: Torus;
  /** 1 where pixels may have changed: the area, whole pieces of a structure, and what is taken out; all others are as they were. */
  free: Uint8Array;
}

/** What comes from a part that is taken out is laid anew with so much around it, px. */
const AROUND_TAKEN_PX = 2;
/** A copy that covers an area reaches so far beyond it, as a share of its side, to find what fits. */
const RIM = 0.35;
const LEAST_RIM_PX = 6;

/**
 * Lays parts of a solved repeat anew: an area of it, and all places that come from parts of the samples which are not to be
 * used any more. What lies outside stays as it is.
 *
 * Pieces of a regular structure are laid whole, from joint to joint. Each connected stretch is covered by one copy where one is large enough, else by several, cut to the outline that shows
 * least; then what shows most in it is laid again.
 *
 * @param torus the repeat; not changed
 * @param task what is laid anew
 * @throws RangeError when nothing is left to lay
 */
export function* redo(torus: Torus, { area, taken, seed, patchPx, lattice }: RedoTask): Steps<Redone> {
  const { widthPx: W, heightPx: H } = torus;
  const atlas = without(torus.atlas, taken);
  const free = area.slice();
  for (let p = 0; p < free.length; p++) {
    if (atlas.usable[torus.place[p]!] === 1) continue;
    const [x, y] = [p % W, Math.floor(p / W)];
    for (let v = -AROUND_TAKEN_PX; v <= AROUND_TAKEN_PX; v++)
      for (let u = -AROUND_TAKEN_PX; u <= AROUND_TAKEN_PX; u++) {
        const [qx, qy] = [x + u, y + v];
        if (!torus.closed.across && (qx < 0 || qx >= W)) continue;
        if (!torus.closed.up && (qy < 0 || qy >= H)) continue;
        free[((qy + H) % H) * W + ((qx + W) % W)] = 1;
      }
  }
  wholePieces(free, torus);
  const place = torus.place.map((from, p) => (free[p] === 1 ? -1 : from));
  const after: Torus = { ...torus, atlas, place };
  const anew = { free, before: torus.place };
  const composer = new Composer(after, seed, lattice ?? { acrossPx: null, upPx: null, stagger: 0 }, anew);
  const stretches = connected(free, torus);
  for (const [k, box] of stretches.entries()) {
    yield { share: (0.6 * k) / stretches.length };
    const rim = (side: number) => Math.max(LEAST_RIM_PX, Math.round(RIM * side));
    const [rx, ry] = [rim(box.widthPx), rim(box.heightPx)];
    composer.cover(box.x - rx, box.y - ry, box.widthPx + 2 * rx, box.heightPx + 2 * ry);
  }
  if (place.includes(-1)) yield* composer.fill(patchPx);
  if (place.includes(-1))
    throw new RangeError(
      'Nothing is left to lay there: what is kept out or replaced covers the sample. Take the last replacement back.',
    );
  for (const step of composer.improve(patchPx, Math.min(24, 4 + 2 * stretches.length)))
    yield { share: 0.6 + 0.4 * step.share };
  recut(after, 3, anew);
  return { torus: after, free };
}

/** Widens a mask from joint to joint on each axis that has joints. */
function wholePieces(free: Uint8Array, { widthPx: W, heightPx: H, off, closed }: Torus): void {
  const widen = (
    n: number,
    lines: number,
    joint: Int32Array,
    around: boolean,
    at: (i: number, line: number) => number,
  ) => {
    if (!joint.some((more) => more > 0)) return;
    for (let line = 0; line < lines; line++) {
      const marked = Array.from({ length: n }, (_, i) => free[at(i, line)] === 1);
      for (let i = 0; i < n; i++) {
        if (!marked[i]) continue;
        for (const step of [1, -1] as const) {
          for (let k = i, count = 0; count < n; k += step, count++) {
            // The joint between this line and the next.
            const before = ((step > 0 ? k : k - 1) + n) % n;
            if (joint[before] === 0) break;
            const next = k + step;
            if (!around && (next < 0 || next >= n)) break;
            free[at((next + n) % n, line)] = 1;
          }
        }
      }
    }
  };
  widen(H, W, off.row, closed.up, (i, line) => i * W + line);
  widen(W, H, off.column, closed.across, (i, line) => line * W + i);
}

/** The same atlas, with parts of its sources taken out. */
function without(atlas: Atlas, taken: readonly (Plane | null)[]): Atlas {
  const usable = atlas.usable.slice();
  for (const part of atlas.parts) {
    const plane = taken[part.sourceIndex];
    if (!plane) continue;
    for (let y = 0; y < part.heightPx; y++)
      for (let x = 0; x < part.widthPx; x++) {
        const [u, v] = unturned(part.turn, x, y, part.widthPx, part.heightPx);
        if (plane.data[v * plane.widthPx + u]! > 0.02) usable[part.first + y * atlas.stride + x] = 0;
      }
  }
  return { ...atlas, usable };
}

/** Boxes round the connected stretches of a mask, over closed edges as well; a box may reach beyond the repeat. */
function connected(
  mask: Uint8Array,
  { widthPx: W, heightPx: H, closed }: Torus,
): { x: number; y: number; widthPx: number; heightPx: number }[] {
  const seen = new Uint8Array(mask.length);
  const boxes = [];
  for (let start = 0; start < mask.length; start++) {
    if (mask[start] !== 1 || seen[start] === 1) continue;
    // Places unwrapped from the first one.
    const queue: [number, number][] = [[start % W, Math.floor(start / W)]];
    seen[start] = 1;
    let [left, right] = [queue[0]![0], queue[0]![0]];
    let [top, bottom] = [queue[0]![1], queue[0]![1]];
    for (let k = 0; k < queue.length; k++) {
      const [x, y] = queue[k]!;
      [left, right] = [Math.min(left, x), Math.max(right, x)];
      [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
      for (const [u, v] of [
        [x + 1, y],
        [x - 1, y],
        [x, y + 1],
        [x, y - 1],
      ] as const) {
        if (!closed.across && (u < 0 || u >= W)) continue;
        if (!closed.up && (v < 0 || v >= H)) continue;
        const q = (((v % H) + H) % H) * W + (((u % W) + W) % W);
        if (mask[q] !== 1 || seen[q] === 1) continue;
        seen[q] = 1;
        queue.push([u, v]);
      }
    }
    boxes.push({
      x: left,
      y: top,
      widthPx: Math.min(W, right - left + 1),
      heightPx: Math.min(H, bottom - top + 1),
    });
  }
  return boxes;
}
