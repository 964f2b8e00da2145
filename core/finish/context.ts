import { openRecipe, type Recipe } from './recipe';
import { sizeOfFinishMm } from './geometry';
import { refusing, RenderContext, type Asked, type ContextOptions, type Pictures } from '../surface';
import { layoutSizeMm } from '../layout';
import { FINISH } from './stages';

/** What computing a finish works in, and how it gets at other finishes that it is laid of. */

/** Density at which the faces of pieces are made: that of the layout; null: the finish is not laid of pieces. */
const facesDensity = ({ layout }: Recipe, widthPx: number): number | null =>
  layout && widthPx / refusing('layout', 'layout', () => layoutSizeMm(layout)).width;

/** The context of a finish. @throws Refusal when it cannot be laid */
export function contextOf(
  recipe: Recipe,
  pictures: Pictures,
  asked: Omit<Asked, 'facesPxPerMm'>,
  options: ContextOptions,
): RenderContext {
  const { cache, signal, pause, solvedBefore } = options;
  const shared = {
    ...(cache ? { cache } : {}),
    ...(signal ? { signal } : {}),
    ...(pause ? { pause } : {}),
    ...(solvedBefore ? { solvedBefore } : {}),
  };
  const surfaceOf: ContextOptions['surfaceOf'] = async ({ recipe: stored, versions }, pxPerMm) => {
    const other = openRecipe(stored);
    const sizeMm = await sizeOfFinishMm(other, pictures);
    const widthPx = Math.max(8, Math.round(sizeMm.width * pxPerMm));
    const own = { widthPx, way: null, category: null };
    const inner = contextOf(other, pictures, own, { ...shared, versions });
    return (await FINISH.run(inner, other, async (surface) => surface, new Set())).wanted;
  };
  return new RenderContext(
    pictures,
    { ...asked, facesPxPerMm: facesDensity(recipe, asked.widthPx) },
    { ...options, surfaceOf },
  );
}
