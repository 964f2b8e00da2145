import { wholePower } from '../../exact';
import { halve, type Plane } from '../../raster';
import { apart, makingAtlas, unturned, type Atlas, type ComposeSource } from './atlas';
import { Composer, whileAt, type Lattice, type Steps } from './composer';
import { doubled, recuttingSteps, refiningSteps } from './copies';
import { halved, halvings, latticeAt } from './pyramid';
import type { ToroidalCanvas } from './toroidal-canvas';

/** What of a solved repeat is to be laid anew, at the working resolution. */
export interface RecomposeTask {
  /** What the repeat was composed from. */
  sources: readonly ComposeSource[];
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
  torus: ToroidalCanvas;
  /** 1 where pixels may have changed: the area, whole pieces of a structure, and what is taken out; all others are as they were. */
  free: Uint8Array;
}

/** What comes from a part that is taken out is laid anew with so much around it, px. */
const AROUND_TAKEN_PX = 2;
/** A copy that covers an area reaches so far beyond it, as a share of its side, to find what fits. */
const RIM = 0.35;
const LEAST_RIM_PX = 4;

/**
 * Lays parts of a solved repeat anew: an area of it, and all places that come from parts of the samples which are not to be
 * used any more. What lies outside stays as it is.
 *
 * Pieces of a regular structure are laid whole, from joint to joint. Coarse to fine, as the repeat was: each connected stretch
 * is covered by one copy where one is large enough, else by several, cut to the outline that shows least, and what shows most in
 * it is laid again; then the same outlines at twice the resolution, and again.
 *
 * @param torus the repeat; not changed
 * @param task what is laid anew
 * @throws RangeError when nothing is left to lay
 */
export function* recomposeArea(torus: ToroidalCanvas, task: RecomposeTask): Steps<Redone> {
  const { patchPx, seed, lattice } = task;
  const { widthPx: W, heightPx: H } = torus;
  const turns = torus.atlas.parts.filter((p) => p.sourceIndex === 0).map((p) => p.turn);
  let sources = task.sources;
  let { taken } = task;
  const levels = halvings({ sources, widthPx: W, heightPx: H, patchPx });
  const atlases = [without(torus.atlas, taken)];
  const touched = withTaken(task.area, torus, atlases[0]!);
  yield { share: 0 };
  const whole = wholePieces(touched, torus);
  // At each resolution: the repeat as it is, and what of it is free.
  const fixed = [{ ...torus, atlas: atlases[0]! }];
  const free = [whole];
  for (let k = 1; k <= levels; k++) {
    yield { share: 0 };
    sources = sources.map(halved);
    taken = taken.map((plane) => plane && halve(plane));
    yield { share: 0 };
    const atlas = without(yield* whileAt(0, makingAtlas(sources, turns)), taken);
    yield { share: 0 };
    fixed.push(coarser(torus, atlas, k));
    free.push(halvedMask(free[k - 1]!, fixed[k - 1]!, fixed[k]!));
  }

  const at = (k: number) => ({ free: free[k]!, before: fixed[k]!.place });
  const coarse: ToroidalCanvas = {
    ...fixed[levels]!,
    place: fixed[levels]!.place.map((from, p) => (free[levels]![p] === 1 ? -1 : from)),
  };
  const scale = 1 / wholePower(2, levels);
  const side = (px: number) => Math.max(4, Math.round(px * scale));
  const patch = { w: side(patchPx.w), h: side(patchPx.h) };
  const composer = new Composer(coarse, seed, latticeAt(lattice, scale), at(levels));
  const boxes = connected(free[levels]!, coarse);
  for (const [k, box] of boxes.entries()) {
    const share = (0.4 * k) / boxes.length;
    yield { share };
    const rim = (length: number) => Math.max(LEAST_RIM_PX, Math.round(RIM * length));
    yield* whileAt(share, composer.cover(box, { x: rim(box.widthPx), y: rim(box.heightPx) }));
  }
  if (coarse.place.includes(-1)) yield* composer.fill(patch);
  for (const step of composer.improve(patch, Math.min(40, 8 + 4 * boxes.length)))
    yield { share: 0.4 + 0.4 * step.share };
  yield* whileAt(0.8, recuttingSteps(coarse, 3, at(levels)));

  let now = coarse;
  for (let k = levels - 1; k >= 0; k--) {
    const share = 0.8 + (0.2 * (levels - 1 - k)) / levels;
    yield { share };
    const { atlas, place, off, widthPx, heightPx } = fixed[k]!;
    const twice = doubled(now, atlas, widthPx, heightPx, undefined);
    yield { share };
    now = { ...fixed[k]!, off, place: place.map((from, p) => (free[k]![p] === 1 ? twice.place[p]! : from)) };
    for (let p = 0; p < now.place.length; p++)
      if (free[k]![p] === 1 && now.place[p]! >= 0 && atlas.usable[now.place[p]!] !== 1) now.place[p] = -1;
    yield* whileAt(share, refiningSteps(now, 1, latticeAt(lattice, 1 / wholePower(2, k)), free[k]!));
    closeGaps(now);
    yield* whileAt(share, recuttingSteps(now, 2, at(k)));
  }
  if (now.place.includes(-1)) {
    const last = new Composer(now, seed, latticeAt(lattice, 1), at(0));
    yield* last.fillHoles(Math.max(8, Math.round(Math.min(patchPx.w, patchPx.h) / 4)));
  }
  if (now.place.includes(-1))
    throw new RangeError(
      'Nothing is left to lay there: what is kept out or replaced covers the sample. Take the last replacement back.',
    );
  return { torus: now, free: whole };
}

/** Fills single pixels that became empty: each with what continues the neighbour beside which it shows least. */
function closeGaps(torus: ToroidalCanvas): void {
  const { widthPx: W, heightPx: H, place, atlas, closed } = torus;
  let gaps = [...place.keys()].filter((p) => place[p]! < 0);
  for (let before = Infinity; gaps.length > 0 && gaps.length < before;) {
    before = gaps.length;
    gaps = gaps.filter((p) => {
      const [x, y] = [p % W, Math.floor(p / W)];
      const around = [
        [1, 0, 1],
        [-1, 0, -1],
        [0, 1, atlas.stride],
        [0, -1, -atlas.stride],
      ].flatMap(([dx, dy, step]) => {
        const [u, v] = [x + dx!, y + dy!];
        if ((!closed.across && (u < 0 || u >= W)) || (!closed.up && (v < 0 || v >= H))) return [];
        const from = place[((v + H) % H) * W + ((u + W) % W)]!;
        return from < 0 ? [] : [{ from, step: step! }];
      });
      let [best, least] = [-1, Infinity];
      for (const { from, step } of around) {
        const here = from - step;
        if (atlas.usable[here] !== 1 || atlas.partOf[here] !== atlas.partOf[from]) continue;
        const cost = around.reduce(
          (sum, other) => sum + apart(atlas.features, here + other.step, other.from),
          0,
        );
        if (cost < least) [best, least] = [here, cost];
      }
      place[p] = best;
      return best < 0;
    });
  }
}

/** An area, with what comes from parts that are taken out, and a little around that. */
function withTaken(
  area: Uint8Array,
  { widthPx: W, heightPx: H, closed, place }: ToroidalCanvas,
  atlas: Atlas,
): Uint8Array {
  const free = area.slice();
  for (let p = 0; p < free.length; p++) {
    if (atlas.usable[place[p]!] === 1) continue;
    const [x, y] = [p % W, Math.floor(p / W)];
    for (let v = -AROUND_TAKEN_PX; v <= AROUND_TAKEN_PX; v++)
      for (let u = -AROUND_TAKEN_PX; u <= AROUND_TAKEN_PX; u++) {
        const [qx, qy] = [x + u, y + v];
        if (!closed.across && (qx < 0 || qx >= W)) continue;
        if (!closed.up && (qy < 0 || qy >= H)) continue;
        free[((qy + H) % H) * W + ((qx + W) % W)] = 1;
      }
  }
  return free;
}

/** A solved repeat at a coarser resolution: every so many pixels of it, from the halved sources. */
function coarser(torus: ToroidalCanvas, atlas: Atlas, halvedTimes: number): ToroidalCanvas {
  const step = wholePower(2, halvedTimes);
  const [W, H] = [Math.ceil(torus.widthPx / step), Math.ceil(torus.heightPx / step)];
  const place = new Int32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const fx = Math.min(torus.widthPx - 1, x * step + step / 2);
      const fy = Math.min(torus.heightPx - 1, y * step + step / 2);
      const from = torus.place[fy * torus.widthPx + fx]!;
      const index = torus.atlas.partOf[from]!;
      const [fine, part] = [torus.atlas.parts[index]!, atlas.parts[index]!];
      const local = from - fine.first;
      const v = Math.floor(local / torus.atlas.stride);
      const u = local - v * torus.atlas.stride;
      place[y * W + x] =
        part.first +
        Math.min(part.heightPx - 1, Math.floor(v / step)) * atlas.stride +
        Math.min(part.widthPx - 1, Math.floor(u / step));
    }
  // A joint of the fine lines about a border is one of that border.
  const joints = (fine: Int32Array, n: number) =>
    Int32Array.from({ length: n }, (_, i) => {
      let least = Infinity;
      for (let d = -step / 2; d < step / 2; d++)
        least = Math.min(least, fine[((i + 1) * step - 1 + d + fine.length) % fine.length]!);
      return least;
    });
  return {
    ...torus,
    atlas,
    widthPx: W,
    heightPx: H,
    place,
    off: { row: joints(torus.off.row, H), column: joints(torus.off.column, W) },
    begins: { x: torus.begins.x / step, y: torus.begins.y / step },
  };
}

/** A mask at half the resolution: 1 where any of its pixels was. */
function halvedMask(
  mask: Uint8Array,
  fine: { widthPx: number; heightPx: number },
  coarse: { widthPx: number; heightPx: number },
): Uint8Array {
  const out = new Uint8Array(coarse.widthPx * coarse.heightPx);
  for (let y = 0; y < fine.heightPx; y++)
    for (let x = 0; x < fine.widthPx; x++)
      if (mask[y * fine.widthPx + x] === 1) out[(y >> 1) * coarse.widthPx + (x >> 1)] = 1;
  return out;
}

/** A mask widened from joint to joint on each axis that has joints. */
function wholePieces(mask: Uint8Array, { widthPx: W, heightPx: H, off, closed }: ToroidalCanvas): Uint8Array {
  const free = mask.slice();
  const widen = (stretchOf: Int32Array, lines: number, at: (i: number, line: number) => number) => {
    const touched = new Uint8Array(stretchOf.length);
    for (let line = 0; line < lines; line++) {
      touched.fill(0);
      stretchOf.forEach((of, i) => (touched[of]! |= free[at(i, line)]!));
      stretchOf.forEach((of, i) => (free[at(i, line)]! |= touched[of]!));
    }
  };
  const hasJoints = (joint: Int32Array) => joint.some((more) => more > 0);
  if (hasJoints(off.row)) widen(stretches(off.row, closed.up), W, (i, line) => i * W + line);
  if (hasJoints(off.column)) widen(stretches(off.column, closed.across), H, (i, line) => line * W + i);
  return free;
}

/**
 * Numbers of the stretches between joints that the lines of an axis belong to.
 * @param joint what a seam costs more between a line and the next; 0 in a joint
 */
function stretches(joint: Int32Array, around: boolean): Int32Array {
  let count = 0;
  const of = joint.map((_, i) => (i > 0 && joint[i - 1] === 0 ? ++count : count));
  // The last one goes on over the edge.
  return around && joint.at(-1) !== 0 ? of.map((k) => (k === count ? 0 : k)) : of;
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
  { widthPx: W, heightPx: H, closed }: ToroidalCanvas,
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
