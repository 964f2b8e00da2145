import { extentSteps, luminanceSteps, makePlane, type ColourPicture, type Plane } from '../raster';
import { generatedReliefSteps, standingOutSteps } from '../relief';
import { spans, type Steps } from '../steps';
import { mmPerPxOf, withTurns, type Pending, type RenderContext, type Surface } from '../surface';
import { figure } from '../units';
import { glossOfRoughness, highestGloss, roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import { SPREAD_QUANTILES, type GlossVariation, type ResponseSettings } from './settings';

/** Gloss that is not the same everywhere: parts with their own, and variation of all else about the gloss asked for. */

/** How much glossier places of a generated finish are, as it lies; null: it is not generated. */
export function glossOfGenerated({
  generated,
  laid,
}: Pick<Surface, 'generated' | 'laid'>): Pending<Plane> | null {
  if (!laid) return generated?.gloss ?? null;
  const gloss = laid.faces.generated?.gloss;
  return gloss ? { key: gloss.key, get: async () => laid.lay(await gloss.get()) } : null;
}

/** A part with its own gloss that the surface has. */
export const partsWithGloss = ({ parts = [] }: ResponseSettings, surface: Pick<Surface, 'parts'>) =>
  parts.filter(({ part }) => surface.parts.has(part));

/** Whether the gloss differs from place to place. */
export const varies = (
  settings: ResponseSettings,
  surface: Pick<Surface, 'parts' | 'generated' | 'laid'>,
): boolean =>
  glossOfGenerated(surface) !== null ||
  (settings.variation ?? []).some(({ byGu }) => byGu !== 0) ||
  partsWithGloss(settings, surface).length > 0;

/**
 * Gloss of every pixel, GU. What belongs to no part with a gloss of its own has the gloss asked for on average, between 0
 * and the most that the material can have.
 * @param variations where each counts, and by how much, GU
 * @param joint weight of the joints of a layout, which have a gloss of their own; null: there are none
 */
export async function variedGloss(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  variations: readonly { byGu: number; weight: Plane }[],
  joint: Plane | null,
  of: ReflectingSurface,
): Promise<Plane> {
  const { width, height } = surface.px;
  const gloss = makePlane(width, height);
  const generated = glossOfGenerated(surface);
  if (generated) gloss.data.set((await generated.get()).data);
  for (const { byGu, weight } of variations)
    await withTurns(ctx.options, addTimes(gloss.data, byGu, weight.data));
  const parts = await Promise.all(
    partsWithGloss(settings, surface).map(async ({ part, glossGu }) => ({
      weight: (await surface.parts.get(part)!.get()).data,
      gu: glossGu.value,
    })),
  );
  const others = [...parts.map(({ weight }) => weight), ...(joint ? [joint.data] : [])];
  await withTurns(ctx.options, meanAsAsked(gloss.data, others, settings, of));
  if (parts.length > 0) await withTurns(ctx.options, withParts(gloss, parts));
  return gloss;
}

function* addTimes(sum: Float32Array, times: number, of: Float32Array): Steps<void> {
  for (const { from, to } of spans(sum.length)) {
    yield;
    for (let i = from; i < to; i++) sum[i]! += times * of[i]!;
  }
}

/** Gives what belongs to nothing else the spread and the mean that were asked for. */
function* meanAsAsked(
  gloss: Float32Array,
  others: readonly Float32Array[],
  { spreadLike, glossGu }: ResponseSettings,
  of: ReflectingSurface,
): Steps<void> {
  const own = yield* ownShare(gloss.length, others);
  if (spreadLike) yield* takeSpread(gloss, own, spreadLike.quantilesGu);
  yield;
  const [least, most] = [glossOfRoughness(1, of), highestGloss(of)];
  yield;
  yield* shiftToMean(gloss, own, glossGu.value, least, most);
}

/** Gives parts the gloss of their own. */
function* withParts(
  { widthPx, heightPx, data }: Plane,
  parts: readonly { weight: Float32Array; gu: number }[],
): Steps<void> {
  for (let y = 0; y < heightPx; y++) {
    yield;
    for (let i = y * widthPx; i < (y + 1) * widthPx; i++) {
      let [sum, rest] = [0, 1];
      for (const { weight, gu } of parts) {
        const share = Math.min(rest, weight[i]!);
        sum += share * gu;
        rest -= share;
      }
      data[i] = sum + rest * data[i]!;
    }
  }
}

const RANKS = 4096;

/**
 * Gives values the spread of a reference and keeps their order: histogram specification. Values that are all the same stay so.
 * @param weight how much each value counts
 * @param quantiles of the reference, evenly spaced, rising
 */
function* takeSpread(data: Float32Array, weight: Float32Array, quantiles: readonly number[]): Steps<void> {
  const { min: lowest, max: highest } = yield* extentSteps(data);
  if (!(highest > lowest)) return;
  const rankOf = (v: number) => Math.min(RANKS - 1, Math.floor((RANKS * (v - lowest)) / (highest - lowest)));
  const below = new Float64Array(RANKS + 1);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) below[rankOf(data[i]!) + 1]! += weight[i]!;
  }
  for (let k = 0; k < RANKS; k++) below[k + 1]! += below[k]!;
  const all = below[RANKS]!;
  if (all === 0) return;
  const steps = quantiles.length - 1;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const rank = rankOf(data[i]!);
      // Values of one rank take the middle of the shares that they span.
      const at = ((below[rank]! + below[rank + 1]!) / 2 / all) * steps;
      const k = Math.min(steps - 1, Math.floor(at));
      data[i] = quantiles[k]! + (quantiles[k + 1]! - quantiles[k]!) * (at - k);
    }
  }
}

/** How much of every pixel belongs to nothing else. */
function* ownShare(pixels: number, others: readonly Float32Array[]): Steps<Float32Array> {
  const own = new Float32Array(pixels).fill(1);
  for (const other of others)
    for (const { from, to } of spans(pixels)) {
      yield;
      for (let i = from; i < to; i++) own[i] = Math.max(0, own[i]! - other[i]!);
    }
  return own;
}

/** Where a variation counts, 0–1; generated: −½ to ½. It does not depend on how many GU it adds, and is kept for other amounts. */
export function variationWeight(
  ctx: RenderContext,
  { from, reachMm, seed }: GlossVariation,
  surface: Surface,
): Pending<Plane> {
  const { sizeMm, px } = surface;
  const mm = mmPerPxOf(surface);
  const name = 'weight of a variation of gloss';
  if (from === 'generated') {
    const shortestMm = Math.max(reachMm / 64, 2 * Math.max(mm.x, mm.y));
    const waves = { longestMm: reachMm, shortestMm, stretch: 1, along: 'width', falloff: 0.6, seed } as const;
    const relief = {
      ...waves,
      ...({ kind: 'generated', id: '', name: '', depthMm: figure(1, 'mm', 'assumed') } as const),
    };
    return ctx.later([name, waves, sizeMm, px], () =>
      withTurns(ctx.options, generatedReliefSteps(relief, sizeMm, px)),
    );
  }
  if (from === 'dark' || from === 'light') {
    const colour = surface.fields.colour!;
    const place = from === 'dark' ? 'hollows' : 'arrises';
    return ctx.later([name, from, reachMm, mm, colour.key], async () =>
      withTurns(ctx.options, lightnessStandingOut(await colour.get(), mm, { place, reachMm })),
    );
  }
  const height = surface.fields.height!;
  return ctx.later([name, from, reachMm, mm, height.key], async () =>
    withTurns(ctx.options, standingOutSteps(await height.get(), mm, { place: from, reachMm })),
  );
}

function* lightnessStandingOut(
  colour: ColourPicture,
  mm: { x: number; y: number },
  asked: { place: 'hollows' | 'arrises'; reachMm: number },
): Steps<Plane> {
  return yield* standingOutSteps(yield* luminanceSteps(colour), mm, asked);
}

const HALVINGS = 30;

/** Moves values by one amount, held between two bounds, so that their weighted mean is what was asked for. */
function* shiftToMean(
  data: Float32Array,
  weight: Float32Array,
  mean: number,
  least: number,
  most: number,
): Steps<void> {
  const { min: lowest, max: highest } = yield* extentSteps(data);
  const all = yield* sumSteps(weight);
  const held = (v: number) => (v < least ? least : v > most ? most : v);
  const meanWith = function* (shift: number): Steps<number> {
    let sum = 0;
    for (const { from, to } of spans(data.length)) {
      yield;
      for (let i = from; i < to; i++) sum += weight[i]! * held(data[i]! + shift);
    }
    return sum / all;
  };
  const roughly = yield* roughMean(data, weight, { lowest, highest }, { least, most, all });
  /** Whether a shift leaves the mean below the one asked for. */
  const isBelow = function* (shift: number): Steps<boolean> {
    const [from, to] = roughly(shift);
    return to < mean || (from < mean && (yield* meanWith(shift)) < mean);
  };
  let [low, high] = [least - highest, most - lowest];
  // Where all belongs to parts there is no mean to keep.
  if (all > 0)
    for (let k = 0; k < HALVINGS && high - low > 1e-3; k++) {
      yield;
      const middle = (low + high) / 2;
      if (yield* isBelow(middle)) low = middle;
      else high = middle;
    }
  const shift = all > 0 ? (low + high) / 2 : mean;
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = held(data[i]! + shift);
  }
}

function* sumSteps(values: Float32Array): Steps<number> {
  let sum = 0;
  for (const { from, to } of spans(values.length)) {
    yield;
    for (let i = from; i < to; i++) sum += values[i]!;
  }
  return sum;
}

/** Steps of values by which a mean is bounded. */
const ROUGH_STEPS = 65536;

/**
 * Bounds of the weighted mean of held values after a shift, from a histogram: values of one step count as its lower and its upper
 * end. Running sums over the steps give both at once. A search for a shift needs all of the values only where the bounds do not tell.
 */
function* roughMean(
  data: Float32Array,
  weight: Float32Array,
  { lowest, highest }: { lowest: number; highest: number },
  { least, most, all }: { least: number; most: number; all: number },
): Steps<(shift: number) => [from: number, to: number]> {
  const step = (highest - lowest) / ROUGH_STEPS;
  const perStep = step > 0 ? 1 / step : 0;
  /** Weight of all steps before one, and the same times their numbers. */
  const [weights, moments] = [new Float64Array(ROUGH_STEPS + 1), new Float64Array(ROUGH_STEPS + 1)];
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) {
      const k = Math.floor((data[i]! - lowest) * perStep);
      weights[(k < ROUGH_STEPS ? k : ROUGH_STEPS - 1) + 1]! += weight[i]!;
    }
  }
  for (let k = 1; k <= ROUGH_STEPS; k++) {
    moments[k] = moments[k - 1]! + weights[k]! * (k - 1);
    weights[k]! += weights[k - 1]!;
  }
  /** The first step whose value, `first` for step 0, is not below a limit. */
  const stepAt = (limit: number, first: number) =>
    Math.min(
      ROUGH_STEPS,
      Math.max(0, step > 0 ? Math.ceil((limit - first) / step) : first < limit ? ROUGH_STEPS : 0),
    );
  const heldMean = (first: number) => {
    const from = stepAt(least, first);
    const to = Math.max(from, stepAt(most, first));
    const below = weights[from]!;
    const between = weights[to]! - below;
    const above = weights[ROUGH_STEPS]! - weights[to]!;
    return (below * least + between * first + (moments[to]! - moments[from]!) * step + above * most) / all;
  };
  // A value may be rounded into the next step, and sums differ by rounding.
  const spare = 1e-6 * (Math.abs(least) + Math.abs(most) + Math.abs(highest) + Math.abs(lowest));
  return (shift) => [heldMean(lowest - step + shift) - spare, heldMean(lowest + 2 * step + shift) + spare];
}

const TABLE_STEPS = 2048;

/** Roughness that reads a gloss, pixel by pixel, in steps. @param gloss GU */
export function* roughnessOfGlosses(gloss: Plane, of: ReflectingSurface): Steps<Plane> {
  const { widthPx: w, heightPx: h } = gloss;
  const most = highestGloss(of);
  const table = new Float64Array(TABLE_STEPS + 1);
  for (let k = 0; k <= TABLE_STEPS; k++) {
    yield;
    table[k] = roughnessOfGloss((k * most) / TABLE_STEPS, of).roughness;
  }
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    yield;
    for (let i = y * w; i < (y + 1) * w; i++) {
      const x = Math.min(TABLE_STEPS, Math.max(0, (gloss.data[i]! / most) * TABLE_STEPS));
      const k = Math.min(TABLE_STEPS - 1, Math.floor(x));
      data[i] = table[k]! + (table[k + 1]! - table[k]!) * (x - k);
    }
  }
  return { ...gloss, data };
}

/** What a roughness map reads as gloss: its mean, and how it is spread. */
export interface GlossSpread {
  meanGu: number;
  /** 5th and 95th percentile. */
  lowGu: number;
  highGu: number;
  /** Shares of the area in even steps of gloss from 0 to `mostGu`. */
  shares: number[];
  mostGu: number;
  /** Evenly spaced quantiles, from the least to the greatest, GU. */
  quantilesGu: number[];
}

const SPREAD_STEPS = 40;
const LEVELS = 512;

/** Gloss over a roughness map, in steps. */
export function* glossSpread(
  { widthPx: w, heightPx: h, data }: Plane,
  of: ReflectingSurface,
): Steps<GlossSpread> {
  const count = new Float64Array(LEVELS + 1);
  for (let y = 0; y < h; y++) {
    yield;
    for (let i = y * w; i < (y + 1) * w; i++)
      count[Math.round(Math.min(1, Math.max(0, data[i]!)) * LEVELS)]!++;
  }
  const most = highestGloss(of);
  const shares = new Array<number>(SPREAD_STEPS).fill(0);
  const read: { gu: number; share: number }[] = [];
  for (let k = LEVELS; k >= 0; k--) {
    if (count[k] === 0) continue;
    const gu = glossOfRoughness(k / LEVELS, of);
    const share = count[k]! / data.length;
    read.push({ gu, share });
    shares[Math.min(SPREAD_STEPS - 1, Math.floor((gu / most) * SPREAD_STEPS))]! += share;
  }
  const at = (quantile: number) => {
    let sum = 0;
    return (read.find(({ share }) => (sum += share) >= quantile) ?? read.at(-1)!).gu;
  };
  const quantilesGu = Array.from({ length: SPREAD_QUANTILES }, (_, k) => at(k / (SPREAD_QUANTILES - 1)));
  const meanGu = read.reduce((sum, { gu, share }) => sum + gu * share, 0);
  return { meanGu, lowGu: at(0.05), highGu: at(0.95), shares, mostGu: most, quantilesGu };
}
