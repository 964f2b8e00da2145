import { waves, type NoiseGround } from '../generate/noise';
import { extentSteps, smoothstep, type Plane } from '../raster';
import { spans, inTurns, type Steps } from '../steps';
import type { WeatheringLayer } from './settings';

/** How much of every place a layer covers. */

/** Where a layer may lie and where it lies first. */
export interface PlaceField {
  /** 0–1: how much of a pixel belongs to the place. */
  within: Float32Array | null;
  /** Higher where the layer lies first; null: chance alone decides. */
  first: Float32Array | null;
}

/** How much chance decides beside the place. */
const CHANCE = 0.45;
const CHANCE_ALONE = 1;
const HALVINGS = 40;
/** Width of the passage from covered to bare, sharp and gradual, in spreads of the field. */
const SHARP = 0.06;
const GRADUAL = 1.6;

/**
 * Weight of a layer, 0–1. Its mean over its place is the share that was asked for.
 * @param ground what it lies on
 * @param turn lets others in where it is time; throws where the work is to stop
 */
export async function coverOf(
  { coverPercent, scaleMm, soft, seed }: Pick<WeatheringLayer, 'coverPercent' | 'scaleMm' | 'soft' | 'seed'>,
  ground: NoiseGround,
  { within, first }: PlaceField,
  turn: () => Promise<void> = async () => undefined,
): Promise<Plane> {
  const { width, height } = ground.px;
  const data = await fieldOf(ground, scaleMm, seed, first, turn);
  const wide = (SHARP + (GRADUAL - SHARP) * soft) * (await inTurns(spreadOf(data), turn));
  const asked = coverPercent / 100;
  const middle = await inTurns(thresholdFor(data, within, asked, wide), turn);
  for (let y = 0; y < height; y++) {
    await turn();
    for (let i = y * width; i < (y + 1) * width; i++)
      data[i] =
        asked <= 0
          ? 0
          : (within ? within[i]! : 1) *
            (asked >= 1 ? 1 : smoothstep(middle - wide / 2, middle + wide / 2, data[i]!));
  }
  return { widthPx: width, heightPx: height, data };
}

/** Bins that a field is counted in. */
const BINS = 8192;

/** The middle of the passage from bare to covered by which a share of the place is covered. */
function* thresholdFor(
  data: Float32Array,
  within: Float32Array | null,
  asked: number,
  wide: number,
): Steps<number> {
  const { min, max } = yield* extentSteps(data);
  const step = (max - min) / BINS || 1;
  const bins = new Float64Array(BINS);
  let all = 0;
  for (const { from: start, to: end } of spans(data.length)) {
    yield;
    for (let i = start; i < end; i++) {
      const counts = within ? within[i]! : 1;
      bins[Math.min(BINS - 1, Math.floor((data[i]! - min) / step))]! += counts;
      all += counts;
    }
  }
  let [from, to] = [min - wide, max + wide];
  for (let k = 0; k < HALVINGS && all > 0; k++) {
    yield;
    const middle = (from + to) / 2;
    let sum = 0;
    for (let n = 0; n < BINS; n++)
      sum += bins[n]! * smoothstep(middle - wide / 2, middle + wide / 2, min + (n + 0.5) * step);
    if (sum / all > asked) from = middle;
    else to = middle;
  }
  return (from + to) / 2;
}

/** Patches of all sizes below a scale, drawn towards where the layer lies first. */
async function fieldOf(
  ground: NoiseGround,
  scaleMm: number,
  seed: number,
  first: Float32Array | null,
  turn: () => Promise<void>,
): Promise<Float32Array> {
  const { width, height } = ground.px;
  const noise = waves(ground, { cellMm: scaleMm / 2, octaves: 7, gain: 0.66, seed: seed * 31 + 7 });
  const data = new Float32Array(width * height);
  const chance = first ? CHANCE : CHANCE_ALONE;
  for (let y = 0; y < height; y++) {
    await turn();
    const row = noise.row(y);
    const at = y * width;
    for (let x = 0; x < width; x++) data[at + x] = chance * row[x]! + (first ? first[at + x]! : 0);
  }
  return data;
}

function* spreadOf(data: Float32Array): Steps<number> {
  let [sum, squares] = [0, 0];
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      sum += data[i]!;
      squares += data[i]! * data[i]!;
    }
  }
  const mean = sum / data.length;
  return Math.max(1e-6, Math.sqrt(Math.max(0, squares / data.length - mean * mean)));
}
