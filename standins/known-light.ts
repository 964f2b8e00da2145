import { ciede2000, linearToLab, lrvOf, type Triple } from '@jossel/core/colour';
import { lead, defaultRecipe, renderFinish } from '@jossel/core/finish';
import { plainColour, plainLight } from '@jossel/core/light';
import { lookCalibrated } from '@jossel/core/sources';
import { StageCache, type Pictures } from '@jossel/core/surface';
import {
  halve,
  luminancePlane,
  mapChannels,
  mean,
  seededRandom,
  type ColourPicture,
} from '@jossel/core/raster';
import { NO_SIZE } from '@jossel/core/size';
import { findCard } from '@jossel/core/straighten';
import { capture, captureSchema } from './capture/capture';
import { BENCH_SAMPLES } from './capture/samples';
import { surfaceOf } from './physical/surface';

/** The whole way from a photograph in bad light to a reflectance, against what is true: for tests and for the bench. */
export interface LightFigures {
  sample: string;
  /** Measured less true, LRV, and CIEDE2000 of the mean. */
  lrvOff: number;
  deltaE: number;
  trueLrv: number;
  /** Broad unevenness against the truth in L*, at its worst of 5 × 5 fields: as received, and levelled. */
  unevenBefore: number;
  unevenAfter: number;
  /** Local contrast after levelling over before, less one. */
  contrastChange: number;
  /** Patches that took no part in the fit. */
  patches: { mean: number; worst: number };
}

const clipped = (p: ColourPicture): ColourPicture => {
  const held = (d: Float32Array) =>
    d.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)) ** 0.45) / 255).map((v) => v ** (1 / 0.45));
  return { ...p, r: held(p.r), g: held(p.g), b: held(p.b) };
};
const FIELDS = 5;

/** Beyond this the table beside a sample's edge is mixed in by the lens. */
const EDGE = 0.03;

/** Means of 5 × 5 fields, edges left out. */
function fieldsOf({
  widthPx: w,
  heightPx: h,
  data,
}: {
  widthPx: number;
  heightPx: number;
  data: Float32Array;
}): number[] {
  return Array.from({ length: FIELDS * FIELDS }, (_, k) => {
    const at = (f: number, n: number) => Math.floor(n * (EDGE + ((1 - 2 * EDGE) * f) / FIELDS));
    const [fx, fy] = [k % FIELDS, Math.floor(k / FIELDS)];
    let [sum, n] = [0, 0];
    for (let y = at(fy, h); y < at(fy + 1, h); y++)
      for (let x = at(fx, w); x < at(fx + 1, w); x++) {
        sum += data[y * w + x]!;
        n++;
      }
    return sum / n;
  });
}

/** Standard deviation of steps between pixels four apart, in logarithm, without their mean. */
function localContrast({
  widthPx: w,
  heightPx: h,
  data,
}: {
  widthPx: number;
  heightPx: number;
  data: Float32Array;
}): number {
  let [sum, squares, n] = [0, 0, 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x + 4 < w; x++) {
      const i = y * w + x;
      const d = Math.log(Math.max(1e-4, data[i + 4]!) / Math.max(1e-4, data[i]!));
      sum += d;
      squares += d * d;
      n++;
    }
  return Math.sqrt(squares / n - (sum / n) ** 2);
}

/** One photograph with a cast and a fall of about 40 %, all the way; null when its card is not found. */
export async function lightFigures(seed: number, widthPx: number): Promise<LightFigures | null> {
  const random = seededRandom(seed + 500);
  const sample = BENCH_SAMPLES[seed % BENCH_SAMPLES.length]!;
  const settings = captureSchema.parse({
    sampleId: sample.id,
    widthPx,
    tiltDeg: random.between(-16, 16),
    panDeg: random.between(-16, 16),
    rollDeg: random.between(-5, 5),
    unevenness: random.between(0.35, 0.45),
    cast: random.between(-0.6, 0.7),
    exposure: random.between(-0.9, -0.5),
    noise: 0.004,
    seed,
  });
  const { picture, truth } = (await capture(settings))!;
  const levels = [clipped(picture)];
  const card = findCard(levels[0]!);
  if (!card) return null;
  const info = { widthPx, heightPx: picture.heightPx, sha256: `s${seed}`, focalPx: truth.focalPx };
  const sources: Pictures = {
    info: async () => info,
    level: async (_id, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
    data: () => Promise.reject(new Error('There are no data maps here.')),
  };
  const recipe = defaultRecipe(['s'], 'other');
  lead(recipe).preparation = {
    ...lead(recipe).preparation,
    frame: truth.sampleCorners.map((p) => [...p]) as never,
  };
  lead(recipe).size = {
    ...NO_SIZE,
    ruling: { across: 'card', up: 'card' },
    card: { marks: card.marks.map((p) => [...p]) as never },
  };
  recipe.repeat = {
    ...recipe.repeat,
    across: { closing: 'abut', overlapMm: 0 },
    up: { closing: 'abut', overlapMm: 0 },
  };
  recipe.colour = plainColour();
  lead(recipe).light = {
    ...plainLight(),
    balance: 'card',
    levelling: { radiusMm: null, shading: 0, shadingMm: 1 },
  };
  const cache = new StageCache();
  const { report } = await renderFinish(recipe, sources, { widthPx: 200, maps: ['colour'], cache });
  const levelled = { ...lead(recipe), light: { ...lead(recipe).light, balance: 'none' as const } };
  const { received, calibrated } = await lookCalibrated(sources, levelled, null, 360, { cache });
  const { colour } = await surfaceOf(sample.id, sample, sample.pxPerMm);
  const trueMean: Triple = [mean(colour.r), mean(colour.g), mean(colour.b)];
  const trueFields = fieldsOf(luminancePlane(colour));
  const y = lrvOf(trueMean) / 100;
  const lightness = (v: number) => 116 * Math.cbrt(v) - 16;
  const [before, after] = [luminancePlane(received), luminancePlane(calibrated)];
  const uneven = (plane: typeof before) => {
    const ratio = fieldsOf(plane).map((v, k) => v / trueFields[k]!);
    const middle = ratio.reduce((a, b) => a + b, 0) / ratio.length;
    return Math.max(...ratio.map((r) => Math.abs(lightness((y * r) / middle) - lightness(y))));
  };
  return {
    sample: sample.id,
    trueLrv: lrvOf(trueMean),
    lrvOff: report.before.lrv - lrvOf(trueMean),
    deltaE: ciede2000(report.before.meanLab, linearToLab(trueMean)),
    unevenBefore: uneven(before),
    unevenAfter: uneven(after),
    contrastChange: localContrast(after) / localContrast(before) - 1,
    patches: report.calibration.target!.expected,
  };
}
