import { finishSizeMm, leadingPicture, namedSamples, openRecipe, type Recipe } from '@jossel/core/finish';
import { faultOfSet } from '@jossel/core/sample';
import { isRefusal } from '@jossel/core/surface';
import { z } from 'zod';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Context } from './context';

/** Recipes as they come from outside, as they are stored, and the pictures they name. */

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
    throw new Problem(422, title, before + error.issues.map(sentenceOfIssue).join(' '), {
      errors,
    });
  }
}

/** Units at the end of a setting's name. */
const UNIT_OF_NAME = /(Mm|Deg|Gu|Px|Lx)$/;

/** Where in a recipe something is, in words: `relief.contributions.0.depthMm` is "relief, contributions 1, depth". */
export const placeInWords = (path: readonly PropertyKey[]): string =>
  path
    .map((step) =>
      typeof step === 'number'
        ? ` ${step + 1}`
        : `, ${String(step)
            .replace(UNIT_OF_NAME, '')
            .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)}`,
    )
    .join('')
    .replace(/^, /, '');

/** What is wrong at which place; the value's own members are not worth a word. */
const sentenceOfIssue = ({ path, message }: z.core.$ZodIssue): string => {
  const place = placeInWords(path.filter((step) => step !== 'value'));
  return place ? `In ${place}: ${message}` : message;
};

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
export async function samplesOf({ database }: Context, recipe: Recipe): Promise<store.SampleRow[]> {
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
  if (recipe.generated || (lead && recipe.repeat.from.length > 0))
    try {
      finishSizeMm(recipe, lead && shapeOf(lead));
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

/** What the geometry needs to know of a sample. */
export const shapeOf = (row: store.SampleRow) => ({
  widthPx: row.width_px,
  heightPx: row.height_px,
  focalPx: row.focal_px,
});

/** A finish to compute: its draft, or an issued revision with what it was made by. */
export async function recipeOf(context: Context, finishId: string, letter?: string | null) {
  const row = await store.getFinish(context.database, finishId);
  if (!row) throw notFound('finish', finishId);
  if (!letter)
    return {
      row,
      letter: 'draft',
      recipe: storedRecipe(row.draft, `The draft of ${row.name}`),
      issued: null,
    };
  const revision = await store.getRevision(context.database, finishId, letter);
  if (!revision) throw notFound(`revision of ${row.name}`, letter);
  const solved = revision.solved_sha256
    ? (await store.getBlob(context.database, revision.solved_sha256))!.bytes
    : null;
  return {
    row,
    letter,
    recipe: storedRecipe(revision.recipe, `Revision ${letter} of ${row.name}`),
    issued: { versions: revision.stage_versions, solved },
  };
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
