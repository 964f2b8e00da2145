import type { Triangles } from './bvh';

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
