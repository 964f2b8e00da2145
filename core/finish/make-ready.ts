import { closeByCut } from '../repeat';
import { keyOfSources, makeArranged, prepared, run, WORKING_PX, type Arranged } from './arranged';
import type { StageCache } from './cache';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import type { RepeatSource } from './joined';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/**
 * The sample made ready for ways that lay it as it is: its keep-outs filled from elsewhere in it, and where one axis is
 * closed by a cut and the other is not, that axis closed.
 *
 * @param from the sample
 * @returns null when nothing is kept out or cut
 */
export async function mended(
  sources: Sources,
  cache: StageCache,
  from: RepeatSource,
  recipe: Pick<Recipe, 'sample'>,
  { cutFirst, across, up }: RepeatGeometry,
  step: (share: number) => Promise<void>,
): Promise<Arranged | null> {
  const cut = cutFirst.across || cutFirst.up;
  if (recipe.sample.keepOuts.length === 0 && !cut) return null;
  const { laidMm } = from;
  const sizeMm = {
    width: cutFirst.across ? across.repeatMm : laidMm.width,
    height: cutFirst.up ? up.repeatMm : laidMm.height,
  };
  const key = hashOf('mended', keyOfSources([from], recipe.sample), sizeMm, cutFirst);
  const known = cache.get<Arranged>(key);
  if (known) return known;
  const density = WORKING_PX / Math.max(laidMm.width, laidMm.height);
  const { dense, toCompose } = await prepared(sources, cache, [from], recipe, { x: density, y: density });
  const [{ picture, pxPerMm }] = dense as [(typeof dense)[0]];
  const task = {
    sources: toCompose,
    widthPx: cutFirst.across ? Math.round(sizeMm.width * pxPerMm.x) : picture.widthPx,
    heightPx: cutFirst.up ? Math.round(sizeMm.height * pxPerMm.y) : picture.heightPx,
    closed: cutFirst,
  };
  const torus = await run(closeByCut(task), step);
  return cache.keep(key, makeArranged(key, { torus, repeatMm: sizeMm, pxPerMm, dense }));
}
