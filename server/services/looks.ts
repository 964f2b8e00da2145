import {
  neededSamples,
  finishSizeMm,
  hasSource,
  STAGE_VERSIONS,
  type MapName,
  type Recipe,
} from '@jossel/core/finish';
import { hashOf, isRefusal, type Refusal } from '@jossel/core/surface';
import * as store from '../store';
import { Problem } from '../problem';
import type { Spot } from '../render/colour';
import type { IssuedAs } from '../render/issued';
import type { SampleBytes } from '../render/sources';
import type { Context } from './context';
import { keepSolved } from './solved-repeats';
import { measuredKey } from './headline';
import { shrunk } from '../render/png';
import { recipeOf, samplesOf, wayOf } from './recipes';
import { sampleBytes } from './samples';

/** What is looked at of a finish without keeping it: its colour, small pictures, what gives its repetition away. */

/** What a person has to change first, as an answer. */
const cannotBe = ({ message, code, where }: Refusal) =>
  new Problem(422, 'Cannot be computed', message, { code, where });

/** A finish to compute, with the bytes of its pictures. */
interface Order {
  recipe: Recipe;
  issued: IssuedAs | null;
  samples: SampleBytes[];
}

function refuseWithoutSource(recipe: Recipe): void {
  if (!hasSource(recipe)) throw new Problem(409, 'No picture yet', 'This finish has no sample yet.');
}

/** Runs work on a finish with the bytes of its pictures; what cannot be computed is refused with its sentence. */
export async function computed<T>(
  context: Context,
  id: string,
  revision: string | undefined,
  work: (order: Order) => Promise<T>,
): Promise<T> {
  const { recipe, issued } = await recipeOf(context, id, revision);
  await samplesOf(context, recipe);
  refuseWithoutSource(recipe);
  try {
    return await work({ recipe, issued, samples: await sampleBytes(context, neededSamples(recipe)) });
  } catch (error) {
    if (isRefusal(error)) throw cannotBe(error);
    throw error;
  }
}

/** What a finish's repeat measures, as a whole and at spots of it. */
export const finishColour = (
  context: Context,
  id: string,
  wanted: { revision?: string | undefined; way?: string | undefined; spots: Spot[] },
) =>
  computed(context, id, wanted.revision, (order) =>
    context.pool.finishColour({
      ...order,
      repeatMm: finishSizeMm(order.recipe, order.samples[0]),
      way: wanted.way ? wayOf(order.recipe, wanted.way).id : null,
      spots: wanted.spots,
    }),
  );

/** Which method of making a repeat suits the sample of a finish, why, and what was tried. */
export const repeatAdvice = (context: Context, id: string) =>
  computed(context, id, undefined, (order) => context.pool.advice(order));

/** The pieces of a finish's repeat, and which are broken. */
export const pieces = async (context: Context, id: string, revision: string | undefined) => ({
  judged: await computed(context, id, revision, (order) => context.pool.pieces(order)),
});

/** The broken pieces of a finish's repeat, re-laid. */
export const relaidPieces = (context: Context, id: string) =>
  computed(context, id, undefined, (order) => context.pool.relaidPieces(order));

/** The pieces of the leading sample, each by its corners. */
export const pickedPieces = (context: Context, id: string) =>
  computed(context, id, undefined, (order) => context.pool.picked(order));

/** What gives the repetition of a finish away, and from how far it is seen. */
export const repetition = (
  context: Context,
  id: string,
  wanted: { revision?: string | undefined; fieldMm: number },
) =>
  computed(context, id, wanted.revision, (order) =>
    context.pool.repetition({
      ...order,
      repeatMm: finishSizeMm(order.recipe, order.samples[0]),
      fieldMm: wanted.fieldMm,
    }),
  );

/** Width of the picture from which smaller ones are made. */
export const MASTER_PX = 512;

/** Names a small picture by what it is drawn from. */
const swatchKey = (measures: string, px: number, map: MapName, way: string | null) =>
  hashOf('swatch 4', measures, px, map, way);

interface WantedSwatch {
  id: string;
  /** Of a revision; undefined: the draft. */
  letter: string | undefined;
  widthPx: number;
  map: MapName;
  /** A colourway; null: the finish itself. */
  way: string | null;
}

/** A small picture of the repeat, made once for each state of the recipe; what it measures is kept as well. */
export async function swatch(context: Context, wanted: WantedSwatch) {
  const { id, letter, widthPx, map, way } = wanted;
  // Of a draft that was drawn before, its recipe need not be read.
  const draft = letter ? null : await store.measuredKeyOf(context.database, id);
  if (draft) {
    const key = swatchKey(draft, widthPx, map, way);
    const known = await store.keptDerived(context.database, 'swatches', key);
    if (known) return { key, bytes: known };
  }
  return drawnSwatch(context, wanted);
}

async function drawnSwatch(context: Context, { id, letter, widthPx, map, way }: WantedSwatch) {
  const { database } = context;
  const { recipe, issued } = await recipeOf(context, id, letter);
  const rows = await samplesOf(context, recipe);
  refuseWithoutSource(recipe);
  const versions = issued ? issued.versions : STAGE_VERSIONS;
  const measures = measuredKey(recipe, rows, versions);
  const keyOf = (px: number) => swatchKey(measures, px, map, way);
  const known = (px: number) => store.keptDerived(database, 'swatches', keyOf(px));
  const keep = (px: number, png: Buffer) =>
    store.keepDerived(database, 'swatches', keyOf(px), png, 'image/png');
  const draw = async (px: number) => {
    const order = { recipe, issued, widthPx: px, map, way: way && wayOf(recipe, way).id };
    const samples = await sampleBytes(context, neededSamples(recipe));
    const { png, measured, solved } = await context.pool
      .swatch({ ...order, samples })
      .catch((error: unknown) => {
        throw isRefusal(error) ? cannotBe(error) : error;
      });
    const bytes = Buffer.from(png);
    await keep(px, bytes);
    if (measured && way === null) await store.keepMeasured(database, measures, measured);
    if (solved) await keepSolved(context, solved);
    return bytes;
  };

  const drawnBefore = await known(widthPx);
  if (drawnBefore) return { key: keyOf(widthPx), bytes: drawnBefore };
  if (map !== 'colour' || widthPx >= MASTER_PX) return { key: keyOf(widthPx), bytes: await draw(widthPx) };
  const master = (await known(MASTER_PX)) ?? (await draw(MASTER_PX));
  const bytes = await shrunk(master, widthPx);
  await keep(widthPx, bytes);
  return { key: keyOf(widthPx), bytes };
}
