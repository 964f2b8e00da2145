import { makePlane, halve, type Plane } from '../raster';
import { normalsOfHeight } from '../relief';
import { shareRows, type RowTask } from '../shared-rows';
import type { Steps } from '../steps';
import type { LitPicture, ReflectedLight } from './lit-picture';
import { reducedTo } from './reduced';

/** It is gathered at this size: it varies little from pixel to pixel. */
const SIDE_PX = 640;
const DIRECTIONS = 16;
/** Steps along a direction, px: every one near by, then a quarter longer each. */
const STEPS_PX = [1, 2, 3, 4, 5, 6, 8, 10, 13, 16, 20, 25, 32, 40, 50, 64];
/** Faces that take up less of the hemisphere are added to the next one behind. */
const LEAST_SHARE = 5e-4;
/** What rises by less than this cannot take up more: a slice grows at most as fast as the tangent. */
const LEAST_RISE = (LEAST_SHARE * DIRECTIONS) / 2;

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

/**
 * Of every pixel red, green and blue of each picture: they are read together. What is brighter than white is glare, which goes
 * to the camera alone.
 */
function interleaved(set: readonly LitPicture[]): Float32Array {
  const planes = set.flatMap(({ picture: { r, g, b } }) => [r, g, b]);
  const n = planes.length;
  const out = new Float32Array(n * planes[0]!.length);
  planes.forEach((plane, c) => {
    for (let i = 0, to = c; i < plane.length; i++, to += n) out[to] = Math.min(1, plane[i]!);
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
    const { seen } = horizons;
    return ({ x, y, z }, { enclosed, light }, from, to) => {
      let i = 0;
      for (let row = from; row < to; row++)
        for (let column = 0; column < w; column++, i++) {
          const found = horizons.follow(column, row, x[i]!, y[i]!, z[i]!);
          for (let k = 0; k < found; k++) {
            enclosed[i]! += seen.share[k]!;
            addBetween(
              glow,
              n,
              n * seen.at[k]!,
              n * w,
              seen.tx[k]!,
              seen.ty[k]!,
              seen.share[k]!,
              light,
              n * i,
            );
          }
        }
    };
  },
};

/**
 * Adds a share of what lies between four pixels of `n` channels, to one pixel of `n` channels.
 * @param at the first of the four @param below from there to the one below
 */
function addBetween(
  glow: Float32Array,
  n: number,
  at: number,
  below: number,
  tx: number,
  ty: number,
  share: number,
  light: Float32Array,
  to: number,
): void {
  const upperRight = share * tx * (1 - ty);
  const lowerLeft = share * (1 - tx) * ty;
  const lowerRight = share * tx * ty;
  const upperLeft = share - upperRight - lowerLeft - lowerRight;
  for (let c = 0; c < n; c++) {
    const seen =
      upperLeft * glow[at + c]! +
      upperRight * glow[at + n + c]! +
      lowerLeft * glow[at + below + c]! +
      lowerRight * glow[at + below + n + c]!;
    light[to + c]! += seen;
  }
}

/** Blocks of so many pixels each know the highest point in reach of any of their pixels. */
const BLOCK_PX = Math.max(...STEPS_PX) + 2;

/** Follows how the horizon rises around a place of a relief. */
class Horizons {
  /**
   * What rose above the horizon of the last place: places between four pixels, as the index of the first and the offsets from
   * it, and their cosine-weighted shares of the hemisphere.
   */
  readonly seen = {
    at: new Int32Array(DIRECTIONS * STEPS_PX.length),
    tx: new Float64Array(DIRECTIONS * STEPS_PX.length),
    ty: new Float64Array(DIRECTIONS * STEPS_PX.length),
    share: new Float64Array(DIRECTIONS * STEPS_PX.length),
  };
  private readonly directions: readonly Direction[];
  private readonly blocks: { across: number; highest: Float32Array };

  constructor(
    private readonly settings: ReflectedSettings,
    private readonly height: Float32Array,
  ) {
    this.blocks = highestInReach(height, settings);
    this.directions = Array.from({ length: DIRECTIONS }, (_, k) =>
      directionAt((2 * Math.PI * (k + 0.5)) / DIRECTIONS, settings),
    );
  }

  /** @returns how many places are in `seen` */
  follow(x: number, y: number, nx: number, ny: number, nz: number): number {
    const { height, seen } = this;
    const { widthPx: w, heightPx: h } = this.settings;
    const here = y * w + x;
    const own = height[here]!;
    const { across, highest } = this.blocks;
    const most = highest[Math.floor(y / BLOCK_PX) * across + Math.floor(x / BLOCK_PX)]! - own;
    let found = 0;
    for (const { ux, uy, dx, dy, tx, ty, mm } of this.directions) {
      const along = nx * ux + ny * uy;
      // The surface's own plane is the lowest horizon.
      let horizon = -along / nz;
      let below = 0;
      let rises = false;
      for (let k = 0; k < STEPS_PX.length && most > horizon * mm[k]!; k++) {
        const x0 = x + dx[k]!;
        const y0 = y + dy[k]!;
        if (x0 < 0 || y0 < 0 || x0 > w - 2 || y0 > h - 2) break;
        const at = y0 * w + x0;
        const tangent = (between(height, at, w, tx[k]!, ty[k]!) - own) / mm[k]!;
        if (tangent < horizon + LEAST_RISE) continue;
        if (!rises) below = sliceBelow(horizon, along, nz);
        rises = true;
        const upTo = sliceBelow(tangent, along, nz);
        const share = ((upTo - below) * 2) / DIRECTIONS;
        if (share < LEAST_SHARE) continue;
        seen.at[found] = at;
        seen.tx[found] = tx[k]!;
        seen.ty[found] = ty[k]!;
        seen.share[found++] = share;
        horizon = tangent;
        below = upTo;
      }
    }
    return found;
  }
}

/** Steps along a direction: whole pixels and the rest between them, and how far each is. */
interface Direction {
  ux: number;
  uy: number;
  dx: Int32Array;
  dy: Int32Array;
  tx: Float64Array;
  ty: Float64Array;
  mm: Float64Array;
}

function directionAt(angle: number, { mmPerPx }: ReflectedSettings): Direction {
  const ux = Math.cos(angle);
  const uy = Math.sin(angle);
  const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
  const x = STEPS_PX.map((px) => (px * ux * stepMm) / mmPerPx.x);
  const y = STEPS_PX.map((px) => (-px * uy * stepMm) / mmPerPx.y);
  return {
    ux,
    uy,
    dx: Int32Array.from(x, Math.floor),
    dy: Int32Array.from(y, Math.floor),
    tx: Float64Array.from(x, (v) => v - Math.floor(v)),
    ty: Float64Array.from(y, (v) => v - Math.floor(v)),
    mm: Float64Array.from(STEPS_PX, (px) => px * stepMm),
  };
}

/** Of every block the highest point in it and in the blocks around it, mm. */
function highestInReach(
  height: Float32Array,
  { widthPx: w, heightPx: h }: ReflectedSettings,
): { across: number; highest: Float32Array } {
  const across = Math.ceil(w / BLOCK_PX);
  const down = Math.ceil(h / BLOCK_PX);
  const highest = new Float32Array(across * down).fill(-Infinity);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const block = Math.floor(y / BLOCK_PX) * across + Math.floor(x / BLOCK_PX);
      if (height[i]! > highest[block]!) highest[block] = height[i]!;
    }
  const around = highest.slice();
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++)
      for (let v = Math.max(0, y - 1); v <= Math.min(down - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(across - 1, x + 1); u++)
          around[y * across + x] = Math.max(around[y * across + x]!, highest[v * across + u]!);
  return { across, highest: around };
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
