import {
  defaultRecipe,
  leadingPicture,
  namedSamples,
  neededSamples,
  openRecipe,
  repeatGeometry,
  leadGeometry,
  withMapsOfSet,
  type Category,
  type MapName,
  type Recipe,
} from '@jossel/core/finish';
import { depthOf } from '@jossel/core/relief';
import { faultOfSet, type SourceMap } from '@jossel/core/sample';
import { hashOf, isRefusal, type Refusal } from '@jossel/core/surface';
import { weakestBasis } from '@jossel/core/units';
import { z } from 'zod';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Spot } from '../render/colour';
import type { Context } from './context';
import { describeSample, sampleBytes } from './samples';

/** Reads a recipe that came from outside; refuses it with every fault named. */
export const readRecipe = (recipe: unknown): Recipe => opened(recipe, 'Recipe not valid', '');

/** Reads a recipe as it is stored; one that cannot be read is said to be so, with every fault named. */
export const storedRecipe = (recipe: unknown, ofWhat: string): Recipe =>
  opened(recipe, 'Stored recipe not readable', `${ofWhat} cannot be read. `);

function opened(recipe: unknown, title: string, before: string): Recipe {
  try {
    return openRecipe(recipe);
  } catch (error) {
    if (!(error instanceof z.ZodError)) throw error;
    const errors = error.issues.map((issue) => ({ path: issue.path.join('.'), message: issue.message }));
    throw new Problem(422, title, before + errors.map((e) => `${e.path}: ${e.message}`).join(' '), {
      errors,
    });
  }
}

/** A stored recipe, or why it cannot be read: for lists, which one bad entry must not spoil. */
export function recipeOrFault(stored: unknown, ofWhat: string): { recipe?: Recipe; fault: string | null } {
  try {
    return { recipe: storedRecipe(stored, ofWhat), fault: null };
  } catch (error) {
    if (error instanceof Problem) return { fault: error.detail };
    throw error;
  }
}

/** All pictures that a recipe names. @throws Problem when one is missing, or the recipe cannot be with these */
async function samplesOf({ database }: Context, recipe: Recipe): Promise<store.SampleRow[]> {
  const ids = namedSamples(recipe);
  const rows = await store.getSamples(database, ids);
  const missing = ids.find((id) => !rows.some((r) => r.id === id));
  if (missing)
    throw new Problem(
      422,
      'Sample missing',
      `The recipe names the sample "${missing}", which is not here. Bring it in under Receiving first.`,
    );
  for (const { sampleId, maps } of recipe.sources) {
    const set = rows.filter((r) => r.id === sampleId || maps.some((m) => m.sampleId === r.id));
    const fault = faultOfSet(
      set.map((r) => ({ fileName: r.file_name, widthPx: r.width_px, heightPx: r.height_px })),
    );
    if (fault) throw new Problem(422, 'Not one set', fault);
  }
  const lead = leadOf(recipe, rows);
  if (lead && recipe.repeat.from.length > 0)
    try {
      repeatGeometry(recipe, shapeOf(lead));
    } catch (error) {
      if (isRefusal(error)) throw new Problem(422, 'Recipe not valid', error.message);
      throw error;
    }
  return rows;
}

/** The picture that leads the repeat of a recipe, among samples. */
export const leadOf = (
  recipe: Recipe | undefined,
  samples: readonly store.SampleRow[],
): store.SampleRow | undefined => {
  const id = recipe && leadingPicture(recipe)?.sampleId;
  return samples.find((s) => s.id === id);
};

/** Ids of the leading pictures of recipes. */
export const leadingIds = (recipes: readonly (Recipe | undefined)[]): string[] =>
  recipes.flatMap((recipe) => (recipe && leadingPicture(recipe)?.sampleId) ?? []);

/** What the geometry needs to know of a sample. */
export const shapeOf = (row: store.SampleRow) => ({
  widthPx: row.width_px,
  heightPx: row.height_px,
  focalPx: row.focal_px,
});

/** Headline figures, from recipe and leading sample alone; no pixel is touched. Null: there is no picture yet. */
function headlineOf(recipe: Recipe | undefined, samples: readonly store.SampleRow[]) {
  const sample = leadOf(recipe, samples);
  if (!recipe || !sample || recipe.repeat.from.length === 0) return null;
  const { size } = leadGeometry(recipe, shapeOf(sample));
  return {
    repeatMm: repeatGeometry(recipe, shapeOf(sample)).repeatMm,
    sizeBasis: weakestBasis(size.width.basis, size.height.basis),
    lrv: recipe.colour.lrv?.value ?? sample.lrv,
    lrvBasis: recipe.colour.lrv?.basis ?? 'inferred',
    glossGu: recipe.response.glossGu.value,
    depthMm: depthOf(recipe.relief),
    supplier: sample.supplier,
    line: sample.line,
    code: sample.code,
  };
}

/** Whether a stored recipe says the same; one that cannot be read does not. */
const sameRecipe = (stored: unknown, recipe: Recipe): boolean => {
  const { recipe: other } = recipeOrFault(stored, 'A revision');
  return other !== undefined && hashOf(other) === hashOf(recipe);
};

const etagOf = (version: number) => `"${version}"`;

async function describe(context: Context, row: store.FinishRow) {
  const revisions = await store.listRevisions(context.database, [row.id]);
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  const samples = await store.getSamples(context.database, namedSamples(recipe));
  return {
    id: row.id,
    name: row.name,
    category: row.category,
    state: row.state,
    updatedAt: row.updated_at,
    draft: { recipe, etag: etagOf(row.version) },
    samples: samples.map(describeSample),
    revisions: revisions.map((r) => ({
      letter: r.letter,
      note: r.note,
      issuedAt: r.issued_at,
      sameAsDraft: sameRecipe(r.recipe, recipe),
    })),
  };
}

export async function createFinish(
  context: Context,
  wanted: {
    name: string;
    category: Category;
    sampleIds?: string[] | undefined;
    maps?: SourceMap[] | undefined;
    recipe?: unknown;
  },
) {
  let recipe: Recipe;
  if (wanted.recipe !== undefined) {
    recipe = readRecipe(wanted.recipe);
  } else {
    const ids = wanted.sampleIds ?? [];
    const [first] = await store.getSamples(context.database, ids.slice(0, 1));
    recipe = defaultRecipe(
      ids,
      wanted.category,
      first
        ? {
            widthPx: first.width_px,
            heightPx: first.height_px,
            pxPerMm: first.px_per_mm ?? undefined,
            sheet: first.sheet,
          }
        : undefined,
    );
    recipe = withMapsOfSet(recipe, wanted.maps ?? []);
  }
  await samplesOf(context, recipe);
  return describe(
    context,
    await store.addFinish(context.database, { name: wanted.name, category: wanted.category, draft: recipe }),
  );
}

export async function showFinish(context: Context, id: string) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  return describe(context, row);
}

export async function pageOfFinishes(
  context: Context,
  query: {
    search?: string | undefined;
    state?: string | undefined;
    category?: string | undefined;
    issued?: boolean | undefined;
    limit: number;
    offset: number;
  },
) {
  const { items, total } = await store.listFinishes(context.database, query);
  const read = items.map((row) => recipeOrFault(row.draft, `The draft of ${row.name}`));
  const samples = await store.getSamples(context.database, leadingIds(read.map(({ recipe }) => recipe)));
  const revisions = await store.listRevisions(
    context.database,
    items.map((r) => r.id),
  );
  return {
    total,
    items: items.map((row, i) => ({
      id: row.id,
      name: row.name,
      category: row.category,
      state: row.state,
      updatedAt: row.updated_at,
      etag: etagOf(row.version),
      revisions: revisions.filter((r) => r.finish_id === row.id).map((r) => r.letter),
      headline: headlineOf(read[i]!.recipe, samples),
      fault: read[i]!.fault,
    })),
  };
}

/** Saves a draft over the version that was read. When another one came between, both are offered. */
export async function saveDraft(context: Context, id: string, ifMatch: string | undefined, recipe: unknown) {
  const wanted = readRecipe(recipe);
  await samplesOf(context, wanted);
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const version = Number(/^(?:W\/)?"(\d+)"$/.exec(ifMatch ?? '')?.[1] ?? Number.NaN);
  if (Number.isNaN(version))
    throw new Problem(
      428,
      'Version missing',
      "Send the ETag of the draft you read in the header If-Match, so that nobody else's work is overwritten.",
    );
  const saved = await store.replaceDraft(context.database, id, version, wanted);
  if (!saved) {
    const now = (await store.getFinish(context.database, id))!;
    throw new Problem(
      412,
      'Changed meanwhile',
      'This draft was changed somewhere else since you read it. Both versions are kept: take theirs, or save yours over it with the new ETag.',
      {
        current: {
          recipe: storedRecipe(now.draft, `The draft of ${now.name}`),
          etag: etagOf(now.version),
          updatedAt: now.updated_at,
        },
      },
    );
  }
  return { recipe: wanted, etag: etagOf(saved.version) };
}

export async function renameFinish(
  context: Context,
  id: string,
  change: { name?: string | undefined; category?: string | undefined; state?: store.FinishState | undefined },
) {
  const wanted = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
  if (change.state === 'issued') {
    const revisions = await store.listRevisions(context.database, [id]);
    if (revisions.length === 0)
      throw new Problem(409, 'Nothing issued', 'A finish becomes issued when a revision of it is issued.');
  }
  const row =
    Object.keys(wanted).length > 0
      ? await store.changeFinish(context.database, id, wanted)
      : await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  return describe(context, row);
}

/** A, B … Z, AA, AB …: the letter after the last one. */
export function nextLetter(letters: readonly string[]): string {
  let n = letters.length;
  let out = '';
  do {
    out = String.fromCharCode(65 + (n % 26)) + out;
    n = Math.floor(n / 26) - 1;
  } while (n >= 0);
  return out;
}

export async function issueRevision(context: Context, id: string, note: string) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const samples = await samplesOf(context, storedRecipe(row.draft, `The draft of ${row.name}`));
  if (samples.length === 0)
    throw new Problem(
      409,
      'Nothing to issue',
      'This finish has no sample yet, so there is nothing to issue.',
    );
  const revision = await store.addRevision(context.database, id, nextLetter, {
    sample_hashes: Object.fromEntries(samples.map((s) => [s.id, s.sha256])),
    note,
  });
  return { revision: revision!.letter, issuedAt: revision!.issued_at };
}

/** A finish to compute: its draft, or an issued revision. */
export async function recipeOf(context: Context, finishId: string, letter?: string | null) {
  const row = await store.getFinish(context.database, finishId);
  if (!row) throw notFound('finish', finishId);
  if (!letter) return { row, letter: 'draft', recipe: storedRecipe(row.draft, `The draft of ${row.name}`) };
  const revision = await store.getRevision(context.database, finishId, letter);
  if (!revision) throw notFound(`revision of ${row.name}`, letter);
  return { row, letter, recipe: storedRecipe(revision.recipe, `Revision ${letter} of ${row.name}`) };
}

/** A colourway of a recipe. @throws Problem that names those there are */
export function wayOf(recipe: Recipe, id: string) {
  const { ways } = recipe.colour;
  const way = ways.find((w) => w.id === id);
  if (!way)
    throw new Problem(
      404,
      'No such colourway',
      ways.length > 0
        ? `There is no colourway “${id}” here; there are ${ways.map((w) => `${w.name} (${w.id})`).join(', ')}.`
        : 'This finish has no colourways.',
    );
  return { id: way.id, name: way.name };
}

/** What a person has to change first, as an answer. */
const cannotBe = ({ message, code, where }: Refusal) =>
  new Problem(422, 'Cannot be computed', message, { code, where });

/** Runs work on a finish with the bytes of its pictures; what cannot be computed is refused with its sentence. */
async function computed<T>(
  context: Context,
  id: string,
  revision: string | undefined,
  work: (recipe: Recipe, samples: Awaited<ReturnType<typeof sampleBytes>>) => Promise<T>,
): Promise<T> {
  const { recipe } = await recipeOf(context, id, revision);
  const rows = await samplesOf(context, recipe);
  if (rows.length === 0) throw new Problem(409, 'No picture yet', 'This finish has no sample yet.');
  try {
    return await work(recipe, await sampleBytes(context, neededSamples(recipe)));
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
  computed(context, id, wanted.revision, (recipe, samples) =>
    context.pool.finishColour({
      recipe,
      samples,
      repeatMm: repeatGeometry(recipe, samples[0]!).repeatMm,
      way: wanted.way ? wayOf(recipe, wanted.way).id : null,
      spots: wanted.spots,
    }),
  );

/** Which way of making a repeat suits the sample of a finish, and why. */
export const repeatAdvice = (context: Context, id: string) =>
  computed(context, id, undefined, (recipe, samples) => context.pool.advice({ recipe, samples }));

/** What gives the repetition of a finish away, and from how far it is seen. */
export const repetition = (
  context: Context,
  id: string,
  wanted: { revision?: string | undefined; fieldMm: number },
) =>
  computed(context, id, wanted.revision, (recipe, samples) =>
    context.pool.repetition({
      recipe,
      samples,
      repeatMm: repeatGeometry(recipe, samples[0]!).repeatMm,
      fieldMm: wanted.fieldMm,
    }),
  );

/** A small picture of the repeat, made once for each state of the recipe. */
export async function swatch(
  context: Context,
  id: string,
  letter: string | undefined,
  widthPx: number,
  map: MapName,
  way: string | null,
) {
  const { recipe } = await recipeOf(context, id, letter);
  const rows = await samplesOf(context, recipe);
  if (rows.length === 0) throw new Problem(409, 'No picture yet', 'This finish has no sample yet.');
  const key = hashOf(
    'swatch 2',
    recipe,
    rows.map((r) => r.sha256),
    widthPx,
    map,
    way,
  );
  const known = await store.swatchOf(context.database, key);
  const blob = known ? await store.getBlob(context.database, known) : null;
  if (blob) return { key, bytes: blob.bytes };
  const samples = await sampleBytes(context, neededSamples(recipe));
  const order = { recipe, samples, widthPx, map, way: way && wayOf(recipe, way).id };
  const { png } = await context.pool.swatch(order).catch((error: unknown) => {
    throw isRefusal(error) ? cannotBe(error) : error;
  });
  const bytes = Buffer.from(png);
  await store.keepSwatch(context.database, key, await store.putBlob(context.database, bytes, 'image/png'));
  return { key, bytes };
}
