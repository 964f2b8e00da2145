import { squared } from '../exact';
import { luminanceOf, luminancePlane, makePlane, type ColourPicture, type Plane } from '../raster';
import type { NormalField } from '../relief';
import { castShadows } from './cast-shadows';
import { incident, type Light } from './lights';
import { PixelSolver } from './pixel-solver';
import { mirrored, type Lobe } from './sheen';

/** A picture of a sample under one light; all pictures of a set are taken from one place. */
export interface LitPicture {
  /** Linear light. */
  picture: ColourPicture;
  light: Light;
}

/** How bright the lights are beside what was said, and what the surface mirrors of them. */
export interface Brightness {
  gains: readonly number[];
  /** What the whole surface mirrors besides; glare that stands out is not in it. */
  lobes: readonly Lobe[];
  /** From the camera to the middle of the picture. */
  cameraMm: number;
}

/** What is known of the light at each pixel beyond where the lights stand. */
export interface Surroundings {
  /** Height of the surface, mm: near lights are nearer to what stands out. */
  height: Plane;
  normal: NormalField;
  /** 1 where the relief itself throws a shadow, for every light. */
  shadow: readonly Uint8Array[];
  /** Share of the light of its surroundings that reaches a pixel by reflection. */
  enclosed: Plane;
  /** Readings of every light averaged over the surroundings. */
  around: readonly ColourPicture[];
  reflectance: ColourPicture;
}

/** Normal times luminous reflectance of every pixel, and how well the readings agree. */
export interface Readings {
  x: Plane;
  y: Plane;
  z: Plane;
  colour: ColourPicture;
  /** Sum of the weights of the readings that were used. */
  used: Plane;
  /** Root mean square of the differences of the used readings, over the largest of them. */
  residual: Plane;
  ofLights: { gain: number; residual: number; used: number }[];
}

/** Pixels that are read go on so far from row to row where not all are. */
const ROW_STEP = 3;
/** A reading of which more is mirrored says little of the rest. */
const MOSTLY_MIRRORED = 0.5;
/** A reading as bright as this is clipped. */
const CLIPPED = 0.995;

/** What every pixel of a set of pictures reads. @param every reads one pixel of so many; the others say nothing */
export async function readPixels(
  set: readonly LitPicture[],
  { gains, lobes, cameraMm }: Brightness,
  mmPerPx: { x: number; y: number },
  known: Surroundings | null,
  step: (share: number) => Promise<void>,
  every = 1,
): Promise<Readings> {
  const { widthPx: w, heightPx: h } = set[0]!.picture;
  const n = set.length;
  const plane = () => makePlane(w, h);
  const out = { x: plane(), y: plane(), z: plane(), used: plane(), residual: plane() };
  const colour: ColourPicture = {
    widthPx: w,
    heightPx: h,
    r: plane().data,
    g: plane().data,
    b: plane().data,
  };
  const luminance = set.map(({ picture }) => luminancePlane(picture).data);
  const solver = new PixelSolver(n);
  const [reading, light, usable] = [new Float64Array(n), new Float64Array(3 * n), new Float64Array(n)];
  const view = new Float64Array(3);
  const sheen = new Float64Array(n);
  const tally = set.map(() => ({ squares: 0, weight: 0, used: 0 }));
  const indirect = known && luminanceOfSurroundings(known);
  for (let y = 0, i = 0; y < h; y++) {
    if (y % 64 === 0) await step(y / h);
    const yMm = (h / 2 - y - 0.5) * mmPerPx.y;
    for (let x = 0; x < w; x++, i++) {
      if (every > 1 && (x + ROW_STEP * y) % every !== 0) continue;
      const xMm = (x + 0.5 - w / 2) * mmPerPx.x;
      const zMm = known ? known.height.data[i]! : 0;
      const far = Math.sqrt(xMm * xMm + yMm * yMm + (cameraMm - zMm) * (cameraMm - zMm));
      [view[0], view[1], view[2]] = [-xMm / far, -yMm / far, (cameraMm - zMm) / far];
      const [nx, ny, nz] = known ? [known.normal.x[i]!, known.normal.y[i]!, known.normal.z[i]!] : [0, 0, 1];
      for (let k = 0; k < n; k++) {
        incident(set[k]!.light, xMm, yMm, zMm, gains[k]!, light, 3 * k);
        const read = luminance[k]![i]!;
        usable[k] = isClipped(set[k]!.picture, i) || known?.shadow[k]![i] === 1 ? 0 : 1;
        sheen[k] = lobes.length > 0 ? mirrored(nx, ny, nz, light, 3 * k, view, lobes) : 0;
        if (sheen[k]! > MOSTLY_MIRRORED * read) usable[k] = 0;
        reading[k] = Math.max(0, read - sheen[k]! - (indirect ? indirect(k, x, y, i) : 0));
      }
      if (!solver.solve(reading, light, usable)) {
        // With too few left, the shadows that are only expected are used after all.
        for (let k = 0; k < n; k++) usable[k] = isClipped(set[k]!.picture, i) ? 0 : 1;
        if (!solver.solve(reading, light, usable)) continue;
      }
      const { m, weight } = solver;
      const length = Math.sqrt(m[0]! * m[0]! + m[1]! * m[1]! + m[2]! * m[2]!);
      if (!(length > 1e-6)) continue;
      [out.x.data[i], out.y.data[i], out.z.data[i]] = [m[0]! / length, m[1]! / length, m[2]! / length];
      out.residual.data[i] = solver.residual;
      let sum = 0;
      for (let k = 0; k < n; k++) {
        sum += weight[k]!;
        const p = m[0]! * light[3 * k]! + m[1]! * light[3 * k + 1]! + m[2]! * light[3 * k + 2]!;
        if (weight[k]! > 0.05 && p > 0) {
          const t = tally[k]!;
          t.squares += weight[k]! * squared(reading[k]! - p);
          t.weight += weight[k]! * squared(p);
          t.used++;
        }
      }
      out.used.data[i] = sum;
      paintColour(
        set,
        { light, weight, m, length },
        i,
        colour,
        (c, k) => sheen[k]! + (known ? extra(known, c, k, x, y, i) : 0),
      );
    }
  }
  return {
    ...out,
    colour,
    ofLights: tally.map(({ squares, weight, used }, k) => ({
      gain: gains[k]!,
      residual: weight > 0 ? Math.sqrt(squares / weight) : 1,
      used: used / (w * h),
    })),
  };
}

export const isClipped = ({ r, g, b }: ColourPicture, i: number): boolean =>
  r[i]! >= CLIPPED || g[i]! >= CLIPPED || b[i]! >= CLIPPED;

type Channel = 'r' | 'g' | 'b';

/** Light that reaches a pixel by reflection from its surroundings, as it reads there. */
function extra(known: Surroundings, c: Channel, k: number, x: number, y: number, i: number): number {
  const { enclosed, around, reflectance } = known;
  const e = enclosed.data[i]!;
  if (e < 0.005) return 0;
  const a = around[k]!;
  const [px, py] = [
    Math.min(a.widthPx - 1, Math.floor((x * a.widthPx) / enclosed.widthPx)),
    Math.min(a.heightPx - 1, Math.floor((y * a.heightPx) / enclosed.heightPx)),
  ];
  return e * Math.min(1, Math.max(0, reflectance[c][i]!)) * a[c][py * a.widthPx + px]!;
}

const luminanceOfSurroundings = (known: Surroundings) => (k: number, x: number, y: number, i: number) =>
  luminanceOf(extra(known, 'r', k, x, y, i), extra(known, 'g', k, x, y, i), extra(known, 'b', k, x, y, i));

/** Reflectance of every channel by least squares over the readings that were used. */
function paintColour(
  set: readonly LitPicture[],
  of: { light: Float64Array; weight: Float64Array; m: Float64Array; length: number },
  i: number,
  colour: ColourPicture,
  more: (c: Channel, k: number) => number,
): void {
  const { light, weight, m, length } = of;
  let [r, g, b, total] = [0, 0, 0, 0];
  for (let k = 0; k < set.length; k++) {
    if (!(weight[k]! > 0)) continue;
    const p = (m[0]! * light[3 * k]! + m[1]! * light[3 * k + 1]! + m[2]! * light[3 * k + 2]!) / length;
    if (p <= 0) continue;
    const { picture } = set[k]!;
    const share = weight[k]! * p;
    r += share * (picture.r[i]! - more('r', k));
    g += share * (picture.g[i]! - more('g', k));
    b += share * (picture.b[i]! - more('b', k));
    total += share * p;
  }
  if (total <= 0) return;
  colour.r[i] = r / total;
  colour.g[i] = g / total;
  colour.b[i] = b / total;
}

/** Shadows that a height throws under every light of a set. */
export const shadowsOf = (
  height: Plane,
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
): Uint8Array[] => set.map(({ light }) => castShadows(height, light, mmPerPx));
