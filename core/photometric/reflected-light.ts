import { makePlane, halve, type Plane } from '../raster';
import { normalsOfHeight } from '../relief';
import { shareRows, type RowTask } from '../shared-rows';
import type { Steps } from '../steps';
import type { LitPicture, ReflectedLight } from './lit-picture';
import { reducedTo } from './reduced';

/** It is gathered at this size: it varies little from pixel to pixel. */
const SIDE_PX = 1024;
const DIRECTIONS = 16;
/** Steps along a direction, px: every one near by, then a quarter longer each. */
const STEPS_PX = [1, 2, 3, 4, 5, 6, 8, 10, 13, 16, 20, 25, 32, 40, 50, 64];
/** Faces that take up less of the hemisphere are added to the next one behind. */
const LEAST_SHARE = 5e-4;

/**
 * Light that every pixel gets from the faces around it. Along each direction the horizon rises step by step; what rises above it
 * is seen, and its readings are what it sends here, with all that it gets by reflection itself. The integral within each slice
 * is analytic, about the pixel's own normal (after Jimenez, Wu, Pesce, Jarabo, "Practical Real-Time Strategies for Accurate
 * Indirect Occlusion", 2016, eq. 7–10, with what is seen instead of the sky).
 *
 * @param set pictures of one size from one place
 * @param height of the surface, mm, a value for every pixel of the pictures
 */
export function* reflectedLight(
  set: readonly LitPicture[],
  height: Plane,
  mmPerPx: { x: number; y: number },
): Steps<ReflectedLight> {
  const { set: small, mm } = reducedTo(set, mmPerPx, SIDE_PX);
  let low = height;
  while (low.widthPx > small[0]!.picture.widthPx) low = halve(low);
  const { widthPx, heightPx } = low;
  const light = new Float32Array(3 * set.length * widthPx * heightPx);
  const enclosed = makePlane(widthPx, heightPx);
  const { x, y, z } = normalsOfHeight(low, mm);
  yield* shareRows(REFLECTED, {
    settings: { widthPx, heightPx, mmPerPx: mm, lights: set.length },
    whole: { height: low.data, glow: interleaved(small) },
    byRow: { x, y, z },
    out: { enclosed: enclosed.data, light },
    rows: heightPx,
  });
  return { light, enclosed };
}

/** Of every pixel red, green and blue of each picture: they are read together. */
function interleaved(set: readonly LitPicture[]): Float32Array {
  const planes = set.flatMap(({ picture: { r, g, b } }) => [r, g, b]);
  const n = planes.length;
  const out = new Float32Array(n * planes[0]!.length);
  planes.forEach((plane, c) => {
    for (let i = 0, to = c; i < plane.length; i++, to += n) out[to] = plane[i]!;
  });
  return out;
}

/** The same light without that of one of the lights. */
export function withoutLight({ light, enclosed }: ReflectedLight, left: number): ReflectedLight {
  const pixels = enclosed.data.length;
  const n = light.length / pixels;
  const out = new Float32Array((n - 3) * pixels);
  for (let i = 0, to = 0; i < pixels; i++)
    for (let c = 0; c < n; c++) if (c < 3 * left || c >= 3 * left + 3) out[to++] = light[i * n + c]!;
  return { light: out, enclosed };
}

interface ReflectedSettings {
  widthPx: number;
  heightPx: number;
  mmPerPx: { x: number; y: number };
  lights: number;
}

export const REFLECTED: RowTask<
  ReflectedSettings,
  { height: Float32Array; glow: Float32Array },
  { x: Float32Array; y: Float32Array; z: Float32Array },
  { enclosed: Float32Array; light: Float32Array }
> = {
  name: 'reflected light',
  begin(settings, { height, glow }) {
    const { widthPx: w, lights } = settings;
    const n = 3 * lights;
    const horizons = new Horizons(settings, height);
    return ({ x, y, z }, { enclosed, light }, from, to) => {
      let i = 0;
      const add = (at: number, tx: number, ty: number, share: number) => {
        enclosed[i]! += share;
        const here = i * n;
        const above = at * n;
        const below = above + w * n;
        for (let c = 0; c < n; c++) {
          const upperLeft = glow[above + c]!;
          const lowerLeft = glow[below + c]!;
          const upper = upperLeft + (glow[above + n + c]! - upperLeft) * tx;
          const lower = lowerLeft + (glow[below + n + c]! - lowerLeft) * tx;
          const seen = upper + (lower - upper) * ty;
          // What is brighter than white is glare, which goes to the camera alone.
          light[here + c]! += share * (seen < 1 ? seen : 1);
        }
      };
      for (let row = from; row < to; row++)
        for (let column = 0; column < w; column++, i++)
          horizons.follow(column, row, x[i]!, y[i]!, z[i]!, add);
    };
  },
};

/** Follows how the horizon rises around a place of a relief. */
class Horizons {
  private readonly top: number;
  private readonly directions: { ux: number; uy: number; steps: { dx: number; dy: number; mm: number }[] }[];

  constructor(
    private readonly settings: ReflectedSettings,
    private readonly height: Float32Array,
  ) {
    const { mmPerPx } = settings;
    let top = -Infinity;
    for (const v of height) if (v > top) top = v;
    this.top = top;
    const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
    this.directions = Array.from({ length: DIRECTIONS }, (_, k) => {
      const angle = (2 * Math.PI * (k + 0.5)) / DIRECTIONS;
      const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
      const steps = STEPS_PX.map((px) => ({
        dx: (px * ux * stepMm) / mmPerPx.x,
        dy: (-px * uy * stepMm) / mmPerPx.y,
        mm: px * stepMm,
      }));
      return { ux, uy, steps };
    });
  }

  /**
   * @param seen receives what rises above the horizon: a place between four pixels, as the index of the first and the offsets
   * from it, and its cosine-weighted share of the hemisphere
   */
  follow(
    x: number,
    y: number,
    nx: number,
    ny: number,
    nz: number,
    seen: (at: number, tx: number, ty: number, share: number) => void,
  ): void {
    const { widthPx: w, heightPx: h } = this.settings;
    const here = this.height[y * w + x]!;
    const most = this.top - here;
    for (const { ux, uy, steps } of this.directions) {
      const along = nx * ux + ny * uy;
      // The surface's own plane is the lowest horizon.
      let horizon = -along / nz;
      let below = 0;
      let rises = false;
      for (const { dx, dy, mm } of steps) {
        if (most <= horizon * mm) break;
        const fx = x + dx;
        const fy = y + dy;
        if (fx < 0 || fy < 0 || fx > w - 1 || fy > h - 1) break;
        const x0 = Math.min(w - 2, Math.floor(fx));
        const y0 = Math.min(h - 2, Math.floor(fy));
        const at = y0 * w + x0;
        const tangent = (between(this.height, at, w, fx - x0, fy - y0) - here) / mm;
        if (tangent <= horizon) continue;
        if (!rises) below = sliceBelow(horizon, along, nz);
        rises = true;
        const upTo = sliceBelow(tangent, along, nz);
        const share = ((upTo - below) * 2) / DIRECTIONS;
        if (share < LEAST_SHARE) continue;
        seen(at, fx - x0, fy - y0, share);
        horizon = tangent;
        below = upTo;
      }
    }
  }
}

/** What lies between four pixels, bilinear. @param at the first of them @param w pixels of a row */
function between(plane: Float32Array, at: number, w: number, tx: number, ty: number): number {
  const upper = plane[at]! + (plane[at + 1]! - plane[at]!) * tx;
  const lower = plane[at + w]! + (plane[at + w + 1]! - plane[at + w]!) * tx;
  return upper + (lower - upper) * ty;
}

/**
 * Integral of cosine times solid angle over a slice of unit width, up to a tangent of elevation.
 * @param along, up the normal's parts along the slice and upwards
 */
function sliceBelow(tangent: number, along: number, up: number): number {
  const q = 1 / (1 + tangent * tangent);
  return 0.5 * (along * (Math.atan(tangent) + tangent * q) + up * tangent * tangent * q);
}
