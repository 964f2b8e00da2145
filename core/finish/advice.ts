import { adviseRepeat, leadOf, type Advice } from '../repeat';
import { lookStraight, sampleGeometry, structureOfSample, type SampleToLookAt } from '../sources';
import type { Pictures } from '../surface';
import { countedPeriods } from './counted';
import { lead, type Recipe } from './recipe';

/** Pixels at which it is judged how a sample is best made a repeat. */
const ADVICE_SIDE_PX = 512;

/** Which method of making a repeat suits a finish, and why. @throws Refusal when its frame cannot be */
export async function adviceForRepeat(
  pictures: Pictures,
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
): Promise<Advice> {
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: first.sampleId, ...(await pictures.info(first.sampleId)) };
  const geometry = sampleGeometry(first, leadOf(recipe.repeat).area, sample);
  const { used, usedMm } = geometry;
  const found = await structureOfSample(pictures, sample, first.preparation);
  const { picture } = await lookStraight(pictures, sample, used, [], ADVICE_SIDE_PX);
  return adviseRepeat(picture, found, usedMm, recipe.repeat, countedPeriods(first, geometry));
}
