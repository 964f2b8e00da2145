import { open, wrong, type Check, type ContextOptions, type Pictures } from '../surface';
import { printNumber } from '../units';
import { neededSamples, type Recipe } from './recipe';
import { renderMaps, type RenderReport } from './render';

/** What stands between a finish and its issue or handover, beside what its stages check. */

/** What is known of a picture beside its pixels. */
export interface PictureRights {
  id: string;
  fileName: string;
  /** Permission to use it; empty: none is noted. */
  permission: string;
}

/**
 * Pictures that a finish is computed from, maps of its set included, of which no permission to use is noted. Such a
 * finish is not handed over.
 */
export function withoutPermission<P extends PictureRights>(
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
  pictures: readonly P[],
): P[] {
  const needed = new Set(neededSamples(recipe));
  return pictures.filter((p) => needed.has(p.id) && p.permission.trim() === '');
}

/** A finish without permission can be worked on and issued, but not handed over. */
export const checkPermission = (
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
  pictures: readonly PictureRights[],
): Check[] =>
  withoutPermission(recipe, pictures).map(({ id, fileName }) =>
    open(
      'sample',
      `permission-${id}`,
      `No permission to use ${fileName} is noted; until it is, the finish is not handed over.`,
    ),
  );

/** Shares of pixels that may be clipped without a word. */
const CLIPPED = 0.001;

/**
 * Colourways that are clipped at white, or that cannot be had from this picture at all.
 * @param widthPx width of the repeat at which they are looked at; a small one is enough for shares of pixels
 */
export async function checkColourways(
  recipe: Recipe,
  pictures: Pictures,
  widthPx: number,
  options: Omit<ContextOptions, 'onEarly'> = {},
): Promise<Check[]> {
  const checks: Check[] = [];
  for (const { id, name } of recipe.colour.ways) {
    try {
      const { report } = await renderMaps(recipe, pictures, { ...options, widthPx, maps: [], way: id }, [
        'colour',
      ]);
      const { high } = (report as RenderReport).clipped;
      if (high > CLIPPED)
        checks.push(
          open(
            'colour',
            `way-clipped-${id}`,
            `Colourway ${name}: ${printNumber(100 * high)} % of it is brighter than white and is clipped.`,
          ),
        );
    } catch (error) {
      if ((error as Error).name !== 'Refusal') throw error;
      checks.push(wrong('colour', `way-refused-${id}`, `Colourway ${name}: ${(error as Error).message}`));
    }
  }
  return checks;
}
