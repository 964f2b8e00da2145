import { leadOf, planRepeat, type RepeatPlan } from '../repeat';
import { sampleGeometry, type SampleGeometry } from '../sources';
import type { PictureShape } from '../straighten';
import { layoutSizeMm } from '../layout';
import { refusing } from '../surface';
import { lead, type Recipe } from './recipe';

/** The geometry of a finish, from its recipe and the shape of its leading picture; no pixel is touched. */

type Geometric = Pick<Recipe, 'sources' | 'repeat'>;

/** A finish as it is before its pieces are laid. */
export const unlaid = (recipe: Recipe): Recipe => (recipe.layout ? { ...recipe, layout: null } : recipe);

/** Frame, size and used part of the leading picture. @throws Refusal when corners, lines or marks cannot be */
export function leadGeometry(recipe: Geometric, picture: PictureShape): SampleGeometry {
  const { area } = leadOf(recipe.repeat);
  return sampleGeometry(lead(recipe), area, picture);
}

/** How the repeat closes and how large it is. @throws Refusal where something cannot be */
export const repeatGeometry = (recipe: Geometric, picture: PictureShape): RepeatPlan =>
  planRepeat(recipe.repeat, leadGeometry(recipe, picture));

/** Size on which the finish repeats: that of its layout, else of its repeat. @throws Refusal where something cannot be */
export function finishSizeMm(recipe: Recipe, picture: PictureShape): { width: number; height: number } {
  const { layout } = recipe;
  const unlaidMm = repeatGeometry(recipe, picture).repeatMm;
  return layout ? refusing('layout', 'layout', () => layoutSizeMm(layout)) : unlaidMm;
}
