import { squared } from '../exact';
import { blurWrapped, halve, mapChannels, type ColourPicture, type Plane } from '../raster';
import { SIGMA_OF_WAVELENGTH, normalsOfHeight, occlusionOfHeight, type NormalField } from '../relief';
import { Refusal } from '../surface';
import { shadowSteps } from './shadow-steps';
import { faultOfLights, LEAST_LIGHTS } from './lights';
import { brightnessOf } from './brightness';
import { reducedTo } from './reduced';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import { readPixels, shadowsOf, type Readings } from './readings';
import type { Lobe } from './sheen';
import { withoutBow } from './without-bow';
import { surfaceFromSlopes } from './surface-from-slopes';
import { unseenWalls } from './unseen-walls';

/** A surface that was measured from light. Its places are those of the pictures. */
export interface MeasuredSurface {
  /** Reflectance without shading, shadow and glare, linear light. */
  colour: ColourPicture;
  /** mm above the mean plane of the sample. */
  height: Plane;
  /** Unit normals about the mean plane of the sample. */
  normal: NormalField;
  /** 0–1: how well the readings of a pixel agree, and how many were of use. */
  confidence: Plane;
  /** How far heights may be off, mm, at 95 %. */
  toleranceMm: number;
  /** What each light was found to be: brightness beside what was said, relative residual, share of pixels it was of use in. */
  ofLights: { gain: number; residual: number; used: number }[];
  /** Light that the whole surface mirrors besides glare that stands out. */
  lobes: readonly Lobe[];
}

/** After the first round shadows and reflections are known from the relief, and readings are taken anew. */
const ROUNDS = 3;

/**
 * Measures relief and reflectance of a sample from pictures under several lights: robust photometric stereo (see PixelSolver)
 * with near lights (Quéau, Durix, Wu, Cremers, Lauze, Durou 2018), whose brightness is found from the pictures. From the
 * first relief, the shadows that it throws are left out and the light that its hollows reflect is taken off, and the pictures
 * are read again.
 *
 * @param set pictures of one size from one place
 * @param mmPerPx size of a pixel on the sample
 * @param cameraMm from the camera to the sample; null: not known, three times the diagonal of the picture
 * @throws Refusal when the lights tell no relief
 */
export async function measureRelief(
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
  cameraMm: number | null,
  step: (share: number, what: string) => Promise<void> = async () => {},
): Promise<MeasuredSurface> {
  const fault = faultOfLights(set.map(({ light }) => light));
  if (fault) throw new Refusal('lights', fault, 'lights');
  await step(0, 'Finding how bright the lights are');
  const { widthPx, heightPx } = set[0]!.picture;
  const far = cameraMm ?? 3 * Math.hypot(widthPx * mmPerPx.x, heightPx * mmPerPx.y);
  const brightness = await brightnessOf(set, mmPerPx, far);
  let known: Surroundings | null = null;
  for (let round = 0; ; round++) {
    const [from, to] = [0.1 + (0.9 * round) / ROUNDS, 0.1 + (0.9 * (round + 1)) / ROUNDS];
    const readings = await readPixels(set, brightness, mmPerPx, known, () =>
      step(from + 0.35 * (to - from), 'Reading the pictures'),
    );
    await step(from + 0.75 * (to - from), 'Integrating the relief');
    const height = heightOf(set, readings, brightness, mmPerPx, known);
    if (round === ROUNDS - 1) {
      const toleranceMm = await toleranceOf(set, brightness, { height, colour: readings.colour }, mmPerPx);
      const confidence = confidenceOf(readings, set.length);
      return { ...measured(readings, height, confidence, brightness, mmPerPx), toleranceMm };
    }
    known = surroundingsOf(set, height, readings.colour, mmPerPx);
  }
}

/** The height that explains the slopes and, once the surroundings are known, the lengths of the shadows. */
function heightOf(
  set: readonly LitPicture[],
  readings: Readings,
  brightness: Brightness,
  mmPerPx: { x: number; y: number },
  known: Surroundings | null,
): Plane {
  const slopes = slopesOf(readings);
  const trusted = trust(readings, confidenceOf(readings, set.length));
  const bySlopes = surfaceFromSlopes(slopes, trusted, mmPerPx, known?.height);
  if (!known) return withoutBow(bySlopes);
  const walls = unseenWalls(shadowSteps(set, brightness, mmPerPx, known), bySlopes);
  if (walls.differences.mm.length === 0) return withoutBow(bySlopes);
  const beside = { ...trusted, data: trusted.data.map((v, i) => v * walls.slopes[i]!) };
  return withoutBow(surfaceFromSlopes(slopes, beside, mmPerPx, bySlopes, walls.differences));
}

/** Slopes steeper than this (80°) are held there. */
const STEEPEST = 5.67;

function slopesOf({ x, y, z }: Readings): { x: Plane; y: Plane } {
  const of = (n: Plane): Plane => ({
    ...n,
    data: n.data.map((v, i) => Math.min(STEEPEST, Math.max(-STEEPEST, -v / Math.max(0.05, z.data[i]!)))),
  });
  return { x: of(x), y: of(y) };
}

/** Residual at which readings are half trusted. */
const HALF_TRUSTED = 0.08;

function confidenceOf({ used, residual, z }: Readings, count: number): Plane {
  const spare = Math.max(1, Math.min(4, count - 2));
  return {
    ...used,
    data: used.data.map((u, i) => {
      if (z.data[i]! <= 0) return 0;
      const enough = Math.min(1, Math.max(0, (u - 2) / spare));
      const t = residual.data[i]! / HALF_TRUSTED;
      return enough / (1 + t * t);
    }),
  };
}

/** A slope is as uncertain as the square of its secant. */
const trust = ({ z }: Readings, confidence: Plane): Plane => ({
  ...confidence,
  data: confidence.data.map((v, i) => v * z.data[i]! * z.data[i]!),
});

/** Reflections reach about this many depths far. */
const REFLECTED_DEPTHS = 2;
const AROUND_PX = 256;

function surroundingsOf(
  set: readonly LitPicture[],
  height: Plane,
  reflectance: ColourPicture,
  mmPerPx: { x: number; y: number },
): Surroundings {
  const depthMm = rangeOf(height);
  const radiusMm = Math.max(REFLECTED_DEPTHS * depthMm, 3 * Math.max(mmPerPx.x, mmPerPx.y));
  const normals = normalsOfHeight(height, mmPerPx);
  const open = occlusionOfHeight(height, normals, mmPerPx, 3 * radiusMm);
  const around = set.map(({ picture }) => {
    let small = picture;
    while (Math.max(small.widthPx, small.heightPx) > AROUND_PX) small = mapChannels(small, halve);
    const perMm = small.widthPx / (mmPerPx.x * picture.widthPx);
    return mapChannels(small, (plane) => blurWrapped(plane, 0.5 * radiusMm * perMm, 0.5 * radiusMm * perMm));
  });
  return {
    height,
    normal: normals,
    shadow: shadowsOf(height, set, mmPerPx),
    enclosed: { ...open, data: open.data.map((v) => 1 - v) },
    around,
    reflectance,
  };
}

/** Depth from the 1st to the 99th percentile, mm. */
function rangeOf({ data }: Plane): number {
  const sorted = Float32Array.from(
    { length: Math.min(20000, data.length) },
    (_, k) => data[Math.floor((k * data.length) / Math.min(20000, data.length))]!,
  ).sort();
  return sorted[Math.floor(0.99 * (sorted.length - 1))]! - sorted[Math.floor(0.01 * (sorted.length - 1))]!;
}

function measured(
  readings: Readings,
  height: Plane,
  confidence: Plane,
  { lobes }: Brightness,
  mmPerPx: { x: number; y: number },
): Omit<MeasuredSurface, 'toleranceMm'> {
  return {
    colour: readings.colour,
    height,
    normal: normalsOfHeight(height, mmPerPx),
    confidence,
    ofLights: readings.ofLights,
    lobes,
  };
}

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
function studentAt95(freedom: number): number {
  const z = 1.96;
  const z3 = z * z * z;
  const second = 5 * z3 * z * z + 16 * z3 + 3 * z;
  return z + (z3 + z) / (4 * freedom) + second / (96 * freedom * freedom);
}

/**
 * How far heights may be off, at 95 %: what they differ by when any one light is left out (delete-one jackknife; Efron, Stein
 * 1981), and what all lights may share.
 */
async function toleranceOf(
  set: readonly LitPicture[],
  brightness: Brightness,
  { height, colour }: { height: Plane; colour: ColourPicture },
  mmPerPx: { x: number; y: number },
): Promise<number> {
  const shared = SHARED * rangeOf(height);
  const n = set.length;
  if (n <= LEAST_LIGHTS + 1) return 2 * shared;
  const reduced = reducedTo(set, mmPerPx, JACKKNIFE_PX);
  const small = halvedTo(reduced.set[0]!.picture.widthPx, height, colour);
  const known = surroundingsOf(reduced.set, small.height, small.colour, reduced.mm);
  const heights: Float32Array[] = [];
  for (let left = 0; left < n; left++) {
    const without = <T>(of: readonly T[]): T[] => of.filter((_, k) => k !== left);
    const lights = without(reduced.set);
    const bright = { ...brightness, gains: without(brightness.gains) };
    const around = { ...known, shadow: without(known.shadow), around: without(known.around) };
    const readings = await readPixels(lights, bright, reduced.mm, around, async () => {});
    heights.push(withoutBroad(heightOf(lights, readings, bright, reduced.mm, around), reduced.mm));
  }
  const variances = new Float64Array(heights[0]!.length);
  for (let i = 0; i < heights[0]!.length; i++) {
    let [sum, squares] = [0, 0];
    for (const plane of heights) {
      sum += plane[i]!;
      squares += squared(plane[i]!);
    }
    variances[i] = ((n - 1) / n) * Math.max(0, squares - squared(sum) / n);
  }
  // The median: where few lights reach, leaving one out tells more of it than of the others.
  const own = studentAt95(n - 1) * Math.sqrt(variances.sort()[variances.length >> 1]!);
  return Math.sqrt(squared(own) + squared(shared));
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
