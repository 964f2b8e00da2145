import { makeColourPicture, makePlane, halve, type ColourPicture, type Plane } from '../raster';
import { normalsOfHeight } from '../relief';
import { shareRows, type Arrays, type RowTask } from '../shared-rows';
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
  const light = small.map(() => makeColourPicture(widthPx, heightPx));
  const enclosed = makePlane(widthPx, heightPx);
  const { x, y, z } = normalsOfHeight(low, mm);
  yield* shareRows(REFLECTED, {
    settings: { widthPx, heightPx, mmPerPx: mm, lights: set.length },
    whole: { height: low.data, ...namedPlanes(small.map(({ picture }) => picture)) },
    byRow: { x, y, z },
    out: { enclosed: enclosed.data, ...namedPlanes(light) },
    rows: heightPx,
  });
  return { light, enclosed };
}

/** Planes of some pictures by name and number. */
export const namedPlanes = (pictures: readonly Rgb[]): Arrays =>
  Object.fromEntries(
    pictures.flatMap(({ r, g, b }, k) => Object.entries({ [`r${k}`]: r, [`g${k}`]: g, [`b${k}`]: b })),
  );

type Rgb = Pick<ColourPicture, 'r' | 'g' | 'b'>;

/** All red, green and blue planes of so many pictures. */
const channelsOf = (planes: Arrays, count: number): Float32Array[] =>
  Array.from({ length: count }, (_, k) =>
    ['r', 'g', 'b'].map((c) => planes[`${c}${k}`] as Float32Array),
  ).flat();

interface ReflectedSettings {
  widthPx: number;
  heightPx: number;
  mmPerPx: { x: number; y: number };
  lights: number;
}

export const REFLECTED: RowTask<
  ReflectedSettings,
  Arrays,
  { x: Float32Array; y: Float32Array; z: Float32Array },
  Arrays
> = {
  name: 'reflected light',
  begin(settings, whole) {
    const { widthPx: w, lights } = settings;
    const glow = channelsOf(whole, lights);
    const horizons = new Horizons(settings, whole['height'] as Float32Array);
    return ({ x, y, z }, out, from, to) => {
      const light = channelsOf(out, lights);
      const enclosed = out['enclosed'] as Float32Array;
      for (let row = from, i = 0; row < to; row++)
        for (let column = 0; column < w; column++, i++)
          horizons.follow(column, row, x[i]!, y[i]!, z[i]!, (at, tx, ty, share) => {
            enclosed[i]! += share;
            for (let c = 0; c < light.length; c++) {
              const seen = between(glow[c]!, at, w, tx, ty);
              // What is brighter than white is glare, which goes to the camera alone.
              light[c]![i]! += share * (seen < 1 ? seen : 1);
            }
          });
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
      let below = sliceBelow(-along / nz, along, nz);
      let horizon = -along / nz;
      for (const { dx, dy, mm } of steps) {
        if (most <= horizon * mm) break;
        const [fx, fy] = [x + dx, y + dy];
        if (fx < 0 || fy < 0 || fx > w - 1 || fy > h - 1) break;
        const x0 = Math.min(w - 2, Math.floor(fx));
        const y0 = Math.min(h - 2, Math.floor(fy));
        const at = y0 * w + x0;
        const tangent = (between(this.height, at, w, fx - x0, fy - y0) - here) / mm;
        if (tangent <= horizon) continue;
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
