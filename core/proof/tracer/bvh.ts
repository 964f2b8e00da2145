import { atOnce, type Steps } from '../../steps';
import type { Matter, Mesh } from '../scene';

/** Triangles of a scene, and the tree of boxes by which a ray finds the nearest one. */
export interface Triangles {
  count: number;
  /** Corner, and the edges to the other two: nine numbers each. */
  corners: Float32Array;
  /** Normals and places on the finish at the three corners: nine and six numbers. */
  normals: Float32Array;
  uvMm: Float32Array;
  /** Unit vector along u on the finish: three numbers. */
  along: Float32Array;
  /** Which of `matters` each is of. */
  matter: Uint8Array;
  matters: readonly Matter[];
  /** Boxes: six numbers each, low and high. */
  boxes: Float32Array;
  /** Of an inner box the number of its first child, the second following it; of a leaf its first triangle. */
  first: Int32Array;
  /** Triangles of a leaf; 0: an inner box. */
  size: Uint8Array;
}

const LEAF = 4;
const BINS = 12;

interface Flat {
  corners: Float32Array;
  normals: Float32Array;
  uvMm: Float32Array;
  matter: Uint8Array;
}

/** What the tree is built over: boxes of triangles, their middles, and room for the bins they fall into. */
interface Boxed {
  order: Int32Array;
  low: Float32Array;
  high: Float32Array;
  /** Three numbers each. */
  middles: Float64Array;
  bins: Uint8Array;
  /** Triangles, box and cost of every bin of the split in hand, and a box for sums of them. */
  binned: { counts: Float64Array; boxes: Float64Array; costs: Float64Array; box: Float64Array };
}
type Numbers = Float32Array | Float64Array;

/** A box of fewer triangles than this is split without leaving others their turn. */
const TURN_TRIANGLES = 2048;

/** Builds the tree: boxes are split where the surface-area heuristic is least, over twelve bins of the longest axis. */
export function* triangleSteps(meshes: readonly Mesh[]): Steps<Triangles> {
  const matters = [...new Set(meshes.map(({ of }) => of))];
  const flat = flatten(meshes, matters);
  yield;
  const boxed = boxedTriangles(flat);
  const boxes: number[] = [];
  const first: number[] = [0];
  const size: number[] = [0];
  /** Makes a leaf of some triangles, or splits them: the place of the split, and the first child. */
  const divide = (node: number, from: number, to: number) => {
    const box = boxOf(boxed, from, to);
    for (let k = 0; k < 6; k++) boxes[6 * node + k] = box[k]!;
    const at = to - from <= LEAF ? -1 : partition(boxed, from, to);
    if (at < 0) {
      first[node] = from;
      size[node] = to - from;
      return null;
    }
    const child = first.length;
    first.push(0, 0);
    size.push(0, 0);
    first[node] = child;
    return { at, child };
  };
  function split(node: number, from: number, to: number): void {
    const inner = divide(node, from, to);
    if (!inner) return;
    split(inner.child, from, inner.at);
    split(inner.child + 1, inner.at, to);
  }
  function* splitting(node: number, from: number, to: number): Steps<void> {
    yield;
    if (to - from < TURN_TRIANGLES) return split(node, from, to);
    const inner = divide(node, from, to);
    if (!inner) return;
    yield* splitting(inner.child, from, inner.at);
    yield* splitting(inner.child + 1, inner.at, to);
  }
  yield* splitting(0, 0, flat.matter.length);
  return {
    count: flat.matter.length,
    ...sorted(flat, boxed.order),
    matters,
    boxes: Float32Array.from(boxes),
    first: Int32Array.from(first),
    size: Uint8Array.from(size),
  };
}

/** Builds the tree at once. */
export const buildTriangles = (meshes: readonly Mesh[]): Triangles => atOnce(triangleSteps(meshes));

function boxedTriangles({ corners, matter }: Flat): Boxed {
  const count = matter.length;
  const low = new Float32Array(3 * count);
  const high = new Float32Array(3 * count);
  const middles = new Float64Array(3 * count);
  for (let t = 0; t < count; t++)
    for (let axis = 0; axis < 3; axis++) {
      const a = corners[9 * t + axis]!;
      const b = corners[9 * t + 3 + axis]!;
      const c = corners[9 * t + 6 + axis]!;
      const k = 3 * t + axis;
      low[k] = Math.min(a, b, c);
      high[k] = Math.max(a, b, c);
      middles[k] = (low[k]! + high[k]!) / 2;
    }
  const order = Int32Array.from({ length: count }, (_, t) => t);
  const binned = {
    counts: new Float64Array(BINS),
    boxes: new Float64Array(6 * BINS),
    costs: new Float64Array(BINS - 1),
    box: new Float64Array(6),
  };
  return { order, low, high, middles, bins: new Uint8Array(count), binned };
}

function flatten(meshes: readonly Mesh[], matters: readonly Matter[]): Flat {
  const count = meshes.reduce((sum, { index }) => sum + index.length / 3, 0);
  const flat: Flat = {
    corners: new Float32Array(9 * count),
    normals: new Float32Array(9 * count),
    uvMm: new Float32Array(6 * count),
    matter: new Uint8Array(count),
  };
  let t = 0;
  for (const mesh of meshes)
    for (let k = 0; k < mesh.index.length; k += 3, t++) {
      flat.matter[t] = matters.indexOf(mesh.of);
      for (let corner = 0; corner < 3; corner++) {
        const v = mesh.index[k + corner]!;
        for (let a = 0; a < 3; a++) {
          flat.corners[9 * t + 3 * corner + a] = mesh.positions[3 * v + a]!;
          flat.normals[9 * t + 3 * corner + a] = mesh.normals[3 * v + a]!;
        }
        for (let a = 0; a < 2; a++) flat.uvMm[6 * t + 2 * corner + a] = mesh.uvMm[2 * v + a]!;
      }
    }
  return flat;
}

function boxOf({ order, low, high }: Boxed, from: number, to: number): Float64Array {
  const box = new Float64Array(6);
  empty(box, 0);
  for (let i = from; i < to; i++) grow(box, 0, low, high, 3 * order[i]!);
  return box;
}

/** Makes a box, six numbers from `at`, one that contains nothing: low corners beyond any, high ones below any. */
function empty(boxes: Float64Array, at: number): void {
  for (let a = 0; a < 3; a++) {
    boxes[at + a] = Infinity;
    boxes[at + 3 + a] = -Infinity;
  }
}

/** Makes a box, six numbers from `at`, contain another one, whose corners stand at `of`. */
function grow(boxes: Float64Array, at: number, low: Numbers, high: Numbers, of: number): void {
  for (let a = 0; a < 3; a++) {
    const least = low[of + a]!;
    const most = high[of + a]!;
    if (least < boxes[at + a]!) boxes[at + a] = least;
    if (most > boxes[at + 3 + a]!) boxes[at + 3 + a] = most;
  }
}

/** Half the area of a box that six numbers from `at` are. */
function areaOf(boxes: Float64Array, at: number): number {
  const x = boxes[at + 3]! - boxes[at]!;
  const y = boxes[at + 4]! - boxes[at + 1]!;
  const z = boxes[at + 5]! - boxes[at + 2]!;
  return x * y + y * z + z * x;
}

/** The axis along which middles of triangles are spread the most. */
function longestAxis({ order, middles }: Boxed, from: number, to: number) {
  let longest = { axis: 0, begin: 0, length: 0 };
  for (let axis = 0; axis < 3; axis++) {
    let [least, most] = [Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      const m = middles[3 * order[i]! + axis]!;
      if (m < least) least = m;
      if (m > most) most = m;
    }
    if (most - least > longest.length) longest = { axis, begin: least, length: most - least };
  }
  return longest;
}

/** Sorts triangles to both sides of the best split; −1: none is better than a leaf. */
function partition(boxed: Boxed, from: number, to: number): number {
  const { order, middles, bins } = boxed;
  const { axis, begin, length } = longestAxis(boxed, from, to);
  if (length <= 0) return to - from <= 255 ? -1 : (from + to) >> 1;
  for (let i = from; i < to; i++) {
    const t = order[i]!;
    bins[t] = Math.min(BINS - 1, Math.floor(((middles[3 * t + axis]! - begin) / length) * BINS));
  }
  const best = bestSplit(boxed, from, to);
  let [i, j] = [from, to - 1];
  while (i <= j) {
    const t = order[i]!;
    if (bins[t]! <= best) i++;
    else {
      order[i] = order[j]!;
      order[j] = t;
      j--;
    }
  }
  return i > from && i < to ? i : (from + to) >> 1;
}

/** The bin after which a split costs least: area of each side times its triangles. */
function bestSplit({ order, low, high, bins, binned }: Boxed, from: number, to: number): number {
  const { counts, boxes, costs, box } = binned;
  counts.fill(0);
  for (let k = 0; k < BINS; k++) empty(boxes, 6 * k);
  for (let i = from; i < to; i++) {
    const t = order[i]!;
    const bin = bins[t]!;
    counts[bin]!++;
    grow(boxes, 6 * bin, low, high, 3 * t);
  }
  const highs = boxes.subarray(3);
  empty(box, 0);
  for (let k = 0, n = 0; k < BINS - 1; k++) {
    n += counts[k]!;
    grow(box, 0, boxes, highs, 6 * k);
    costs[k] = n === 0 ? 0 : n * areaOf(box, 0);
  }
  empty(box, 0);
  let best = 0;
  for (let k = BINS - 2, n = 0; k >= 0; k--) {
    n += counts[k + 1]!;
    grow(box, 0, boxes, highs, 6 * k + 6);
    costs[k]! += n === 0 ? 0 : n * areaOf(box, 0);
    if (costs[k]! <= costs[best]! || k === BINS - 2) best = k;
  }
  return best;
}

/** Triangles in the order of the tree, with edges in place of corners and the direction of u. */
function sorted(flat: Flat, order: Int32Array) {
  const count = order.length;
  const corners = new Float32Array(9 * count);
  const normals = new Float32Array(9 * count);
  const uvMm = new Float32Array(6 * count);
  const along = new Float32Array(3 * count);
  const matter = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const t = order[i]!;
    matter[i] = flat.matter[t]!;
    for (let k = 0; k < 9; k++) normals[9 * i + k] = flat.normals[9 * t + k]!;
    for (let k = 0; k < 6; k++) uvMm[6 * i + k] = flat.uvMm[6 * t + k]!;
    for (let a = 0; a < 3; a++) {
      const p = flat.corners[9 * t + a]!;
      corners[9 * i + a] = p;
      corners[9 * i + 3 + a] = flat.corners[9 * t + 3 + a]! - p;
      corners[9 * i + 6 + a] = flat.corners[9 * t + 6 + a]! - p;
    }
    const [u0, v0, u1, v1, u2, v2] = uvMm.subarray(6 * i, 6 * i + 6) as unknown as number[];
    const [du1, dv1, du2, dv2] = [u1! - u0!, v1! - v0!, u2! - u0!, v2! - v0!];
    const det = du1 * dv2 - du2 * dv1;
    let length = 0;
    for (let a = 0; a < 3; a++) {
      const v =
        det === 0
          ? corners[9 * i + 3 + a]!
          : (dv2 * corners[9 * i + 3 + a]! - dv1 * corners[9 * i + 6 + a]!) / det;
      along[3 * i + a] = v;
      length += v * v;
    }
    for (let a = 0; a < 3; a++) along[3 * i + a]! /= Math.sqrt(length) || 1;
  }
  return { corners, normals, uvMm, along, matter };
}
