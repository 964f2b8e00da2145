import { squared } from '../exact';
import { blurWrapped, halve, mapChannels, type ColourPicture, type Plane } from '../raster';
import { SIGMA_OF_WAVELENGTH } from '../relief';
import { inTurns } from '../steps';
import { heightOf } from './height-of-readings';
import { LEAST_LIGHTS } from './lights';
import type { Brightness, LitPicture } from './lit-picture';
import { readPixels } from './readings';
import { reducedTo } from './reduced';
import { withoutLight } from './reflected-light';
import { surroundingsOf } from './surroundings';

/** What one light does to the relief is looked at in this size. */
const JACKKNIFE_PX = 256;
/** Waves longer than this share of the picture are left out of the comparison: they are left out of the relief at first too. */
const BROAD_SHARE = 1 / 3;
/**
 * What errors that all lights share add at 95 %, as a share of the depth: reflections between faces, edges finer than a pixel.
 * They do not depend on those of single lights: squares are added.
 */
const SHARED = 0.06;

/**
 * Student's t at which 95 % lie within ± t, by its expansion about the normal distribution (Cornish, Fisher 1938).
 * @param freedom degrees of freedom
 */
export function studentAt95(freedom: number): number {
  const z = 1.96;
  const z3 = z * z * z;
  const second = 5 * z3 * z * z + 16 * z3 + 3 * z;
  return z + (z3 + z) / (4 * freedom) + second / (96 * freedom * freedom);
}

/**
 * How far heights may be off, at 95 %: what they differ by when any one light is left out (delete-one jackknife; Efron, Stein
 * 1981), and what all lights may share.
 */
export async function toleranceOf(
  set: readonly LitPicture[],
  brightness: Brightness,
  { height, colour }: { height: Plane; colour: ColourPicture },
  mmPerPx: { x: number; y: number },
  turn: () => Promise<void>,
): Promise<number> {
  const shared = SHARED * rangeOf(height);
  const n = set.length;
  if (n <= LEAST_LIGHTS + 1) return 2 * shared;
  const reduced = reducedTo(set, mmPerPx, JACKKNIFE_PX);
  const small = halvedTo(reduced.set[0]!.picture.widthPx, height, colour);
  const known = await inTurns(surroundingsOf(reduced.set, small.height, small.colour, reduced.mm), turn);
  const heights: Float32Array[] = [];
  for (let left = 0; left < n; left++) {
    const without = <T>(of: readonly T[]): T[] => of.filter((_, k) => k !== left);
    const lights = without(reduced.set);
    const bright = { ...brightness, gains: without(brightness.gains) };
    const reflected = withoutLight(known.reflected, left);
    const around = { ...known, shadow: without(known.shadow), reflected };
    const readings = await readPixels(lights, bright, reduced.mm, around, turn);
    const height = await inTurns(heightOf(lights, readings, bright, reduced.mm, around), turn);
    heights.push(withoutBroad(height, reduced.mm));
  }
  // The median: where few lights reach, leaving one out tells more of it than of the others.
  const variances = jackknifed(heights).sort();
  const own = studentAt95(n - 1) * Math.sqrt(variances[variances.length >> 1]!);
  return Math.sqrt(squared(own) + squared(shared));
}

/** Variance of every pixel by what it is with one light left out at a time. */
function jackknifed(heights: readonly Float32Array[]): Float64Array {
  const n = heights.length;
  return Float64Array.from(heights[0]!, (_, i) => {
    let [sum, squares] = [0, 0];
    for (const plane of heights) {
      sum += plane[i]!;
      squares += squared(plane[i]!);
    }
    return ((n - 1) / n) * Math.max(0, squares - squared(sum) / n);
  });
}

/** Height and colour halved to a width. */
function halvedTo(widthPx: number, height: Plane, colour: ColourPicture) {
  let small = { height, colour };
  while (small.height.widthPx > widthPx)
    small = { height: halve(small.height), colour: mapChannels(small.colour, halve) };
  return small;
}

function withoutBroad(height: Plane, mm: { x: number; y: number }): Float32Array {
  const sigmaMm = SIGMA_OF_WAVELENGTH * BROAD_SHARE * Math.max(height.widthPx * mm.x, height.heightPx * mm.y);
  const broad = blurWrapped(height, sigmaMm / mm.x, sigmaMm / mm.y).data;
  return height.data.map((v, i) => v - broad[i]!);
}

/** Depth from the 1st to the 99th percentile, mm. */
function rangeOf({ data }: Plane): number {
  const sorted = Float32Array.from(
    { length: Math.min(20000, data.length) },
    (_, k) => data[Math.floor((k * data.length) / Math.min(20000, data.length))]!,
  ).sort();
  return sorted[Math.floor(0.99 * (sorted.length - 1))]! - sorted[Math.floor(0.01 * (sorted.length - 1))]!;
}
