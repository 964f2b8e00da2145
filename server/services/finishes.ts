import {
  CATEGORIES,
  defaultRecipe,
  derivedLink,
  generatedRecipe,
  laidOfPicked,
  lead,
  namedSamples,
  withCard,
  withJoints,
  withMapsOfSet,
  withMeasured,
  withOverallSize,
  type Category,
  type Recipe,
} from '@jossel/core/finish';
import type { SourceMap } from '@jossel/core/sample';
import { sampleGeometry } from '@jossel/core/sources';
import { hashOf, isRefusal } from '@jossel/core/surface';
import type { StraightenSettings } from '@jossel/core/straighten';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Context } from './context';
import { etagOf, versionIn } from './etags';
import { headlineOf, listedHeadline } from './headline';
import { measureLightSet } from './light-sets';
import * as looks from './looks';
import { readRecipe, recipeOf, recipeOrFault, samplesOf, storedRecipe } from './recipes';
import { describeSample, sampleBytes } from './samples';

/** Finishes: made, shown, listed, saved, renamed. */

/** Whether a stored recipe says the same; one that cannot be read does not. */
const sameRecipe = (stored: unknown, recipe: Recipe): boolean => {
  const { recipe: other } = recipeOrFault(stored, 'A revision');
  return other !== undefined && hashOf(other) === hashOf(recipe);
};

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
    removedAt: row.removed_at,
    detailsEtag: etagOf(row.details_version),
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

/** Adds a finish. @returns it as it is shown */
async function addFinish(context: Context, name: string, category: Category, draft: Recipe) {
  const headline = await headlineOf(context, draft, category, await samplesOf(context, draft));
  const row = await store.addFinish(context.database, { name, category, draft }, headline);
  context.changed?.(row.id);
  return describe(context, row);
}

/**
 * A target card that is seen in the first picture is used from the start; it can be taken out again. A card from which
 * no size or no balance follows, for instance one with clipped patches, is left alone.
 */
async function withItsCard(context: Context, recipe: Recipe, sampleId: string): Promise<Recipe> {
  const samples = await sampleBytes(context, [sampleId]);
  const card = await context.pool.card(samples[0]!, false);
  if (!card) return recipe;
  const found = withCard(recipe, card);
  try {
    await samplesOf(context, found);
    await context.pool.swatch({
      recipe: found,
      issued: null,
      samples,
      widthPx: CARD_TRIED_PX,
      map: 'colour',
      way: null,
    });
    return found;
  } catch (error) {
    if (error instanceof Problem || isRefusal(error)) return recipe;
    throw error;
  }
}

/** Joints that are seen in the first picture are recessed from the start, where the category is laid of pieces. */
async function withItsJoints(
  context: Context,
  recipe: Recipe,
  category: Category,
  sample: store.SampleRow,
): Promise<Recipe> {
  if (CATEGORIES[category].jointMm === null) return recipe;
  const [bytes] = await sampleBytes(context, [sample.id]);
  const joints = await context.pool.joints(bytes!);
  const { usedMm } = sampleGeometry(lead(recipe), null, {
    widthPx: sample.width_px,
    heightPx: sample.height_px,
  });
  return withJoints(recipe, category, joints, usedMm);
}

/** The recipe of a finish whose relief and colour are measured from a light set. */
async function measuredRecipe(
  context: Context,
  lightSetId: string,
  category: Category,
  overallMm: { width: number; height?: number | undefined } | undefined,
  straighten: StraightenSettings | null,
): Promise<Recipe> {
  if (!overallMm)
    throw new Problem(
      422,
      'Size missing',
      'A light set is measured in millimetres: give overallMm, the size of the whole picture.',
    );
  const measured = await measureLightSet(context, lightSetId, overallMm, straighten);
  const [colour] = await store.getSamples(context.database, [measured.colourId]);
  const recipe = defaultRecipe([measured.colourId], category, {
    widthPx: colour!.width_px,
    heightPx: colour!.height_px,
    sheet: { widthMm: measured.overallMm.width, heightMm: measured.overallMm.height },
  });
  return withMeasured(recipe, { ...measured, lightSetId, isStraightened: straighten !== null });
}

/** The recipe of a finish that is generated, with the settings that were given. */
function newGenerated({ kind, ...settings }: { kind: string }): Recipe {
  try {
    return generatedRecipe(kind, settings);
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'No such kind', error.message);
    throw error;
  }
}

/** Width of the repeat at which it is tried whether a card gives a balance. */
const CARD_TRIED_PX = 32;

export async function createFinish(
  context: Context,
  wanted: {
    name: string;
    category: Category;
    sampleIds?: string[] | undefined;
    maps?: SourceMap[] | undefined;
    lightSetId?: string | undefined;
    straighten?: StraightenSettings | null | undefined;
    generated?: { kind: string } | undefined;
    overallMm?: { width: number; height?: number | undefined } | undefined;
    recipe?: unknown;
  },
) {
  let recipe: Recipe;
  if (wanted.recipe !== undefined) {
    recipe = readRecipe(wanted.recipe);
  } else if (wanted.generated !== undefined) {
    recipe = readRecipe(newGenerated(wanted.generated));
  } else if (wanted.lightSetId !== undefined) {
    const { lightSetId, category, overallMm, straighten = null } = wanted;
    recipe = await measuredRecipe(context, lightSetId, category, overallMm, straighten);
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
    if (first) {
      recipe = await withItsCard(context, recipe, first.id);
      recipe = await withItsJoints(context, recipe, wanted.category, first);
    }
    recipe = withMapsOfSet(recipe, wanted.maps ?? []);
    if (wanted.overallMm && first) recipe = withOverallSize(recipe, wanted.overallMm);
  }
  return addFinish(context, wanted.name, wanted.category, recipe);
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
    supplier?: string | undefined;
    issued?: boolean | undefined;
    removed?: boolean | undefined;
    limit: number;
    offset: number;
  },
) {
  const [{ items, total }, suppliers] = await Promise.all([
    store.listFinishes(context.database, query),
    store.suppliersOfFinishes(context.database),
  ]);
  return {
    total,
    suppliers,
    items: items.map((row) => ({
      id: row.id,
      name: row.name,
      category: row.category,
      state: row.state,
      updatedAt: row.updated_at,
      etag: etagOf(row.version),
      detailsEtag: etagOf(row.details_version),
      revisions: row.letters,
      headline: listedHeadline(row),
      fault: row.fault,
    })),
  };
}

/** A copy of the draft of a finish, as a new finish that has nothing issued yet. */
/** A new finish that starts from an issued revision of another one, and keeps the link to it. */
export async function deriveFinish(
  context: Context,
  id: string,
  wanted: { revision?: string | undefined; name?: string | undefined },
) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const revisions = await store.listRevisions(context.database, [id]);
  const letter = wanted.revision ?? revisions.at(-1)?.letter;
  if (!letter)
    throw new Problem(
      409,
      'Nothing issued',
      `${row.name} has no issued revision yet. Issue one first: a finish is derived from a state that does not change.`,
    );
  const { recipe } = await recipeOf(context, id, letter);
  const derived = derivedLink({ finishId: id, letter, name: row.name, recipe });
  return addFinish(context, wanted.name ?? `${row.name}, derived`, row.category as Category, {
    ...recipe,
    derived,
  });
}

export async function duplicateFinish(context: Context, id: string, name: string | undefined) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const draft = storedRecipe(row.draft, `The draft of ${row.name}`);
  const copied = name ?? `${row.name}, copy`.slice(0, 200);
  return addFinish(context, copied, row.category as Category, draft);
}

/**
 * Puts a finish into the bin, from which it can be restored. One that lies on surfaces is not removed: what lies there
 * would be on no rack.
 */
export async function removeFinish({ database }: Context, id: string) {
  const row = await store.getFinish(database, id);
  if (!row) throw notFound('finish', id);
  const surfaces = await store.surfacesOfFinish(database, id);
  const projects = [...new Set(surfaces.map(({ project }) => project))];
  if (projects.length > 0)
    throw new Problem(
      409,
      'In use',
      `${row.name} lies on surfaces in ${projects.join(', ')}. Lay something else there first, or withdraw the finish.`,
    );
  await store.setFinishRemoved(database, id, true);
}

/** Surfaces of projects that a finish lies on. */
export async function surfacesOf({ database }: Context, id: string) {
  if (!(await store.getFinish(database, id))) throw notFound('finish', id);
  const items = await store.surfacesOfFinish(database, id);
  return {
    items: items.map((s) => ({
      id: s.id,
      name: s.name,
      room: s.room,
      project: s.project,
      widthMm: s.width_mm,
      heightMm: s.height_mm,
      directionDeg: s.direction_deg,
      revision: s.revision,
    })),
  };
}

export async function restoreFinish(context: Context, id: string) {
  const row = await store.setFinishRemoved(context.database, id, false);
  if (!row) throw notFound('finish', id);
  return describe(context, row);
}

/** Saves a draft over the version that was read. When another one came between, both are offered. */
export async function saveDraft(context: Context, id: string, ifMatch: string | undefined, recipe: unknown) {
  const wanted = readRecipe(recipe);
  const [samples, row] = await Promise.all([
    samplesOf(context, wanted),
    store.getFinish(context.database, id),
  ]);
  if (!row) throw notFound('finish', id);
  const version = versionIn(ifMatch);
  if (version === null)
    throw new Problem(
      428,
      'Version missing',
      "Send the ETag of the draft you read in the header If-Match, so that nobody else's work is overwritten.",
    );
  const headline = await headlineOf(context, wanted, row.category as Category, samples);
  const saved = await store.replaceDraft(context.database, id, version, wanted, headline);
  if (!saved) {
    const now = (await store.getFinish(context.database, id))!;
    // One's own answer may have been lost: the same again is no conflict.
    if (now.version === version + 1 && sameRecipe(now.draft, wanted))
      return { recipe: wanted, etag: etagOf(now.version) };
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
  context.changed?.(id);
  return { recipe: wanted, etag: etagOf(saved.version) };
}

/** Which method of making a repeat suits a finish; where asked, it is written into the draft as it was when it was looked at. */
export async function repeatAdvice(context: Context, id: string, apply: boolean) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const advice = await looks.repeatAdvice(context, id);
  if (!apply) return advice;
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  return {
    ...advice,
    draft: await saveDraft(context, id, etagOf(row.version), {
      ...recipe,
      repeat: { ...recipe.repeat, ...advice.settings },
    }),
  };
}

/** Broken pieces of the repeat, re-laid; where asked, it is written into the draft as it was when it was looked at. */
export async function relaidPieces(context: Context, id: string, apply: boolean) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const relaid = await looks.relaidPieces(context, id);
  if (!apply) return relaid;
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  const repeat = { ...recipe.repeat, arrangements: relaid.arrangements };
  return { ...relaid, draft: await saveDraft(context, id, etagOf(row.version), { ...recipe, repeat }) };
}

/** The pieces that the leading sample shows; where asked, the draft is laid of them. */
export async function pickedPieces(context: Context, id: string, apply: boolean) {
  const row = await store.getFinish(context.database, id);
  if (!row) throw notFound('finish', id);
  const picked = await looks.pickedPieces(context, id);
  if (!apply) return { picked };
  if (!picked)
    throw new Problem(
      409,
      'No pieces',
      'The sample shows no pieces that joints part on all sides, and no boards. Draw areas by hand, or straighten the sample first.',
    );
  const recipe = storedRecipe(row.draft, `The draft of ${row.name}`);
  let count = 0;
  const laid = laidOfPicked(recipe, picked, () => `piece-${(count += 1)}`);
  return { picked, draft: await saveDraft(context, id, etagOf(row.version), laid) };
}

export async function renameFinish(
  context: Context,
  id: string,
  ifMatch: string | undefined,
  change: { name?: string | undefined; category?: string | undefined; state?: store.FinishState | undefined },
) {
  const wanted = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
  const version = ifMatch === undefined ? null : (versionIn(ifMatch) ?? 0);
  if (change.state === 'issued') {
    const revisions = await store.listRevisions(context.database, [id]);
    if (revisions.length === 0)
      throw new Problem(409, 'Nothing issued', 'A finish becomes issued when a revision of it is issued.');
  }
  const row =
    Object.keys(wanted).length > 0
      ? await store.changeFinish(context.database, id, version, {
          ...wanted,
          ...(change.category ? { category_words: CATEGORIES[change.category as Category].name } : {}),
        })
      : await store.getFinish(context.database, id);
  if (!row) {
    const now = await store.getFinish(context.database, id);
    if (!now) throw notFound('finish', id);
    throw new Problem(
      412,
      'Changed meanwhile',
      `Name, category or state were changed somewhere else since you read them: now it is “${now.name}”, ${now.state}.`,
      {
        current: {
          name: now.name,
          category: now.category,
          state: now.state,
          etag: etagOf(now.details_version),
        },
      },
    );
  }
  return describe(context, row);
}
