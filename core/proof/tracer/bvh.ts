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

/** Builds the tree: boxes are split where the surface-area heuristic is least, over twelve bins of the longest axis. */
export function buildTriangles(meshes: readonly Mesh[]): Triangles {
  const matters = [...new Set(meshes.map(({ of }) => of))];
  const flat = flatten(meshes, matters);
  const count = flat.matter.length;
  const low = new Float32Array(3 * count);
  const high = new Float32Array(3 * count);
  const { corners } = flat;
  for (let t = 0; t < count; t++)
    for (let axis = 0; axis < 3; axis++) {
      const a = corners[9 * t + axis]!;
      const b = corners[9 * t + 3 + axis]!;
      const c = corners[9 * t + 6 + axis]!;
      low[3 * t + axis] = Math.min(a, b, c);
      high[3 * t + axis] = Math.max(a, b, c);
    }
  const order = Int32Array.from({ length: count }, (_, t) => t);
  const boxes: number[] = [];
  const first: number[] = [];
  const size: number[] = [];
  const split = (node: number, from: number, to: number): void => {
    const box = boxOf(order, from, to, low, high);
    for (let k = 0; k < 6; k++) boxes[6 * node + k] = box[k]!;
    const at = to - from <= LEAF ? -1 : partition(order, from, to, low, high);
    if (at < 0) {
      first[node] = from;
      size[node] = to - from;
      return;
    }
    const child = first.length;
    first.push(0, 0);
    size.push(0, 0);
    first[node] = child;
    size[node] = 0;
    split(child, from, at);
    split(child + 1, at, to);
  };
  first.push(0);
  size.push(0);
  split(0, 0, count);
  return {
    count,
    ...sorted(flat, order),
    matters,
    boxes: Float32Array.from(boxes),
    first: Int32Array.from(first),
    size: Uint8Array.from(size),
  };
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
        flat.corners.set(mesh.positions.subarray(3 * v, 3 * v + 3), 9 * t + 3 * corner);
        flat.normals.set(mesh.normals.subarray(3 * v, 3 * v + 3), 9 * t + 3 * corner);
        flat.uvMm.set(mesh.uvMm.subarray(2 * v, 2 * v + 2), 6 * t + 2 * corner);
      }
    }
  return flat;
}

function boxOf(order: Int32Array, from: number, to: number, low: Float32Array, high: Float32Array) {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = from; i < to; i++)
    for (let axis = 0; axis < 3; axis++) {
      box[axis] = Math.min(box[axis]!, low[3 * order[i]! + axis]!);
      box[3 + axis] = Math.max(box[3 + axis]!, high[3 * order[i]! + axis]!);
    }
  return box;
}

/** Sorts triangles to both sides of the best split; −1: none is better than a leaf. */
function partition(
  order: Int32Array,
  from: number,
  to: number,
  low: Float32Array,
  high: Float32Array,
): number {
  const middle = (t: number, axis: number) => (low[3 * t + axis]! + high[3 * t + axis]!) / 2;
  let axis = 0;
  let [begin, length] = [0, 0];
  for (let a = 0; a < 3; a++) {
    let [least, most] = [Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      const m = middle(order[i]!, a);
      least = Math.min(least, m);
      most = Math.max(most, m);
    }
    if (most - least > length) [axis, begin, length] = [a, least, most - least];
  }
  if (length <= 0) return to - from <= 255 ? -1 : (from + to) >> 1;
  const binOf = (t: number) => Math.min(BINS - 1, Math.floor(((middle(t, axis) - begin) / length) * BINS));
  const best = bestSplit(order, from, to, low, high, binOf);
  let [i, j] = [from, to - 1];
  while (i <= j) {
    if (binOf(order[i]!) <= best) i++;
    else {
      [order[i], order[j]] = [order[j]!, order[i]!];
      j--;
    }
  }
  return i > from && i < to ? i : (from + to) >> 1;
}

/** The bin after which a split costs least: area of each side times its triangles. */
function bestSplit(
  order: Int32Array,
  from: number,
  to: number,
  low: Float32Array,
  high: Float32Array,
  binOf: (t: number) => number,
): number {
  const counts = new Array<number>(BINS).fill(0);
  const bins = Array.from({ length: BINS }, () => [
    Infinity,
    Infinity,
    Infinity,
    -Infinity,
    -Infinity,
    -Infinity,
  ]);
  for (let i = from; i < to; i++) {
    const t = order[i]!;
    const bin = binOf(t);
    counts[bin]!++;
    grow(bins[bin]!, low, high, t);
  }
  const costs = new Array<number>(BINS - 1).fill(0);
  for (const upwards of [true, false]) {
    const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    let n = 0;
    for (let k = 0; k < BINS - 1; k++) {
      const bin = upwards ? k : BINS - 1 - k;
      n += counts[bin]!;
      for (let a = 0; a < 3; a++) {
        box[a] = Math.min(box[a]!, bins[bin]![a]!);
        box[3 + a] = Math.max(box[3 + a]!, bins[bin]![3 + a]!);
      }
      costs[upwards ? k : BINS - 2 - k]! += n === 0 ? 0 : n * areaOf(box);
    }
  }
  return costs.indexOf(Math.min(...costs));
}

function grow(box: number[], low: Float32Array, high: Float32Array, t: number): void {
  for (let a = 0; a < 3; a++) {
    box[a] = Math.min(box[a]!, low[3 * t + a]!);
    box[3 + a] = Math.max(box[3 + a]!, high[3 * t + a]!);
  }
}
const areaOf = ([a, b, c, d, e, f]: number[]) =>
  (d! - a!) * (e! - b!) + (e! - b!) * (f! - c!) + (f! - c!) * (d! - a!);

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
    normals.set(flat.normals.subarray(9 * t, 9 * t + 9), 9 * i);
    uvMm.set(flat.uvMm.subarray(6 * t, 6 * t + 6), 6 * i);
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

/** The nearest triangle that a ray meets: how far away, and the shares of its second and third corner. */
export class Finder {
  t = Infinity;
  b1 = 0;
  b2 = 0;
  triangle = -1;
  private readonly stack = new Int32Array(96);

  constructor(private readonly of: Triangles) {}

  /**
   * Finds the nearest triangle along a ray. @param most no further away than this
   * @param any the first one found is enough
   * @returns whether there is one
   */
  find(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    most: number,
    any: boolean,
  ): boolean {
    const { boxes, first, size } = this.of;
    this.t = most;
    this.triangle = -1;
    // A ray along an axis: nothing is divided by 0.
    const ix = 1 / (dx || 1e-30);
    const iy = 1 / (dy || 1e-30);
    const iz = 1 / (dz || 1e-30);
    const stack = this.stack;
    let depth = 0;
    let node = 0;
    if (this.boxAt(boxes, 0, ox, oy, oz, ix, iy, iz) === Infinity) return false;
    for (;;) {
      const n = size[node]!;
      if (n > 0) {
        for (let k = first[node]!, end = k + n; k < end; k++) this.meet(k, ox, oy, oz, dx, dy, dz);
        if (any && this.triangle >= 0) return true;
      } else {
        const child = first[node]!;
        const near = this.boxAt(boxes, 6 * child, ox, oy, oz, ix, iy, iz);
        const far = this.boxAt(boxes, 6 * child + 6, ox, oy, oz, ix, iy, iz);
        if (near !== Infinity || far !== Infinity) {
          if (near <= far) {
            if (far !== Infinity) stack[depth++] = child + 1;
            node = child;
          } else {
            if (near !== Infinity) stack[depth++] = child;
            node = child + 1;
          }
          continue;
        }
      }
      if (depth === 0) break;
      node = stack[--depth]!;
    }
    return this.triangle >= 0;
  }

  /** How far away a ray enters a box; Infinity: it misses it, or meets something before. */
  private boxAt(
    b: Float32Array,
    k: number,
    ox: number,
    oy: number,
    oz: number,
    ix: number,
    iy: number,
    iz: number,
  ): number {
    let x0 = (b[k]! - ox) * ix;
    let x1 = (b[k + 3]! - ox) * ix;
    let near = x0 < x1 ? x0 : x1;
    let far = x0 < x1 ? x1 : x0;
    x0 = (b[k + 1]! - oy) * iy;
    x1 = (b[k + 4]! - oy) * iy;
    if (x0 < x1) {
      if (x0 > near) near = x0;
      if (x1 < far) far = x1;
    } else {
      if (x1 > near) near = x1;
      if (x0 < far) far = x0;
    }
    x0 = (b[k + 2]! - oz) * iz;
    x1 = (b[k + 5]! - oz) * iz;
    if (x0 < x1) {
      if (x0 > near) near = x0;
      if (x1 < far) far = x1;
    } else {
      if (x1 > near) near = x1;
      if (x0 < far) far = x0;
    }
    return near <= far && far >= 0 && near < this.t ? near : Infinity;
  }

  /** Möller, Trumbore 1997; both sides count. */
  private meet(k: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): void {
    const c = this.of.corners;
    const at = 9 * k;
    const e1x = c[at + 3]!;
    const e1y = c[at + 4]!;
    const e1z = c[at + 5]!;
    const e2x = c[at + 6]!;
    const e2y = c[at + 7]!;
    const e2z = c[at + 8]!;
    const px = dy * e2z - dz * e2y;
    const py = dz * e2x - dx * e2z;
    const pz = dx * e2y - dy * e2x;
    const det = e1x * px + e1y * py + e1z * pz;
    if (det > -1e-14 && det < 1e-14) return;
    const inv = 1 / det;
    const sx = ox - c[at]!;
    const sy = oy - c[at + 1]!;
    const sz = oz - c[at + 2]!;
    const b1 = (sx * px + sy * py + sz * pz) * inv;
    if (b1 < 0 || b1 > 1) return;
    const qx = sy * e1z - sz * e1y;
    const qy = sz * e1x - sx * e1z;
    const qz = sx * e1y - sy * e1x;
    const b2 = (dx * qx + dy * qy + dz * qz) * inv;
    if (b2 < 0 || b1 + b2 > 1) return;
    const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
    if (t <= 0 || t >= this.t) return;
    this.t = t;
    this.b1 = b1;
    this.b2 = b2;
    this.triangle = k;
  }
}
