import { adviseRepeat, leadOf, withCounted, type Advice } from '../repeat';
import { lookStraight, sampleGeometry, structureOfSample, type SampleToLookAt } from '../sources';
import { checkpoint, type Pictures } from '../surface';
import { countedPeriods } from './counted';
import { piecesOfSample } from './pieces';
import { lead, type Recipe } from './recipe';
import type { RenderOptions } from './render';
import { withoutRelaidPieces } from './relaid-pieces';
import {
  candidates,
  triedWords,
  tryMethods,
  type MethodSettings,
  type SolvedMethod,
  type TriedMethod,
} from './tried-methods';

/** Pixels at which it is judged how a sample is best made a repeat. */
const ADVICE_SIDE_PX = 512;

/** The method suggested, and those that were tried for it, the best first. */
export interface TriedAdvice<Method extends TriedMethod = SolvedMethod> extends Advice {
  settings: MethodSettings;
  tried: readonly Method[];
}

/**
 * Which method of making a repeat suits a finish, and why: the likeliest are solved at small size, and the one is suggested that breaks the
 * fewest pieces, and whose repeat looks most like the sample.
 * @throws Refusal when its frame cannot be; Stopped when the signal asks
 */
export async function adviceForRepeat(
  pictures: Pictures,
  asked: Recipe,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'> = {},
): Promise<TriedAdvice> {
  // Pieces that were re-laid before are whole or broken otherwise in a repeat that is made anew.
  const recipe = { ...asked, repeat: withoutRelaidPieces(asked.repeat) };
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: first.sampleId, ...(await pictures.info(first.sampleId)) };
  const geometry = sampleGeometry(first, leadOf(recipe.repeat).area, sample);
  const { used, usedMm } = geometry;
  const found = await structureOfSample(pictures, sample, first.preparation, options);
  await checkpoint(options);
  const { picture } = await lookStraight(pictures, sample, used, [], ADVICE_SIDE_PX);
  const counted = countedPeriods(first, geometry);
  const advice = adviseRepeat(picture, found, usedMm, recipe.repeat, counted);
  const advised = advice.settings;
  const known = await piecesOfSample(recipe, pictures, options);
  await checkpoint(options);
  const methods = candidates(advised, withCounted(found, counted).structure, {
    inPieces: known !== null,
    sizeMm: usedMm,
  });
  const tried = await tryMethods(recipe, pictures, methods, known, options);
  const best: MethodSettings = tried[0]?.settings ?? advised;
  const { arrangements = recipe.repeat.arrangements } = best;
  // Where another one turns out better, what spoke for the one advised does not hold.
  const why = best === advised ? advised.why : advised.why.filter((sentence) => sentence !== advice.reason);
  const settings = {
    ...best,
    ...(arrangements === asked.repeat.arrangements ? {} : { arrangements }),
    why: [...why, ...triedWords(tried)],
  };
  return { reason: advice.reason, settings, tried };
}
