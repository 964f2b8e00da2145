import { generatedSizeMm } from '../generate';
import { leadOf, planRepeat, type RepeatPlan } from '../repeat';
import { sampleGeometry, type SampleGeometry } from '../sources';
import type { PictureShape } from '../straighten';
import { layoutSizeMm } from '../layout';
import { refusing, type Pictures } from '../surface';
import { lead, leadingPicture, type Recipe } from './recipe';

/** The geometry of a finish, from its recipe and the shape of its leading picture; no pixel is touched. */

type Geometric = Pick<Recipe, 'sources' | 'repeat'> & Partial<Pick<Recipe, 'generated'>>;

/** A finish as it is before its pieces are laid and before anything happened to it. */
export const unlaid = (recipe: Recipe): Recipe =>
  recipe.layout || recipe.weathering.length > 0 ? { ...recipe, layout: null, weathering: [] } : recipe;

/** Frame, size and used part of the leading picture. @throws Refusal when corners, lines or marks cannot be */
export function leadGeometry(recipe: Geometric, picture: PictureShape): SampleGeometry {
  const { area } = leadOf(recipe.repeat);
  return sampleGeometry(lead(recipe), area, picture);
}

/** How the repeat closes and how large it is. @throws Refusal where something cannot be */
export const repeatGeometry = (recipe: Geometric, picture: PictureShape): RepeatPlan =>
  planRepeat(recipe.repeat, leadGeometry(recipe, picture));

/**
 * Size on which the finish repeats: that of its layout, else of its repeat.
 * @param picture shape of the leading picture; undefined: the finish is generated
 * @throws Refusal where something cannot be, or there is no picture
 */
export function finishSizeMm(
  recipe: Recipe,
  picture: PictureShape | undefined,
): { width: number; height: number } {
  const { layout, generated } = recipe;
  const unlaidMm = generated
    ? generatedSizeMm(generated)
    : repeatGeometry(recipe, shown(recipe, picture)).repeatMm;
  return layout ? refusing('layout', 'layout', () => layoutSizeMm(layout)) : unlaidMm;
}

/** The shape of the leading picture. @throws Refusal when the finish has none */
function shown(recipe: Geometric, picture: PictureShape | undefined): PictureShape {
  if (picture) return picture;
  lead(recipe);
  throw new Error('The shape of the leading picture was not handed over.');
}

/** Size on which the finish repeats, with the shape of its leading picture looked up. @throws Refusal */
export async function sizeOfFinishMm(
  recipe: Recipe,
  pictures: Pictures,
): Promise<{ width: number; height: number }> {
  const first = leadingPicture(recipe);
  return finishSizeMm(recipe, first && (await pictures.info(first.sampleId)));
}
