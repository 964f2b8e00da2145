import { hashOf, type RenderContext } from '../../surface';
import { closeByCut } from '../compose';
import type { LayeredPlan } from '../plan';
import {
  keyOfSources,
  makeSolvedRepeat,
  sourcesToCompose,
  run,
  WORKING_PX,
  type SolvedRepeat,
} from './solved-repeat';
import type { RepeatSource } from './places';

/** What a picture that is made ready depends on; null: it is laid as it is. */
export function inpaintedKey(from: RepeatSource, plan: LayeredPlan): string | null {
  const { cutFirst, areas } = plan;
  // Areas that pieces are cut from are used as they are, or not at all.
  if (areas) return null;
  const cut = cutFirst.across || cutFirst.up;
  if (from.source.settings.preparation.keepOuts.length === 0 && !cut) return null;
  return hashOf('mended', keyOfSources([from]), inpaintedMm(from, plan), cutFirst);
}

/** Its size then. */
const inpaintedMm = ({ laidMm }: RepeatSource, { cutFirst, across, up }: LayeredPlan) => ({
  width: cutFirst.across ? across.repeatMm : laidMm.width,
  height: cutFirst.up ? up.repeatMm : laidMm.height,
});

/**
 * The sample made ready for ways that lay it as it is: its keep-outs filled from elsewhere in it, and where one axis is
 * closed by a cut and the other is not, that axis closed.
 *
 * @param from the sample
 * @returns null when nothing is kept out or cut
 */
export async function inpaintKeepOuts(
  ctx: RenderContext,
  from: RepeatSource,
  plan: LayeredPlan,
  step: (share: number) => Promise<void>,
): Promise<SolvedRepeat | null> {
  const key = inpaintedKey(from, plan);
  if (key === null) return null;
  return ctx.known(key, async () => {
    const { cutFirst } = plan;
    const sizeMm = inpaintedMm(from, plan);
    const density = WORKING_PX / Math.max(from.laidMm.width, from.laidMm.height);
    const { dense, toCompose } = await sourcesToCompose(ctx, [from], { x: density, y: density });
    const [{ picture, pxPerMm }] = dense as [(typeof dense)[0]];
    const task = {
      sources: toCompose,
      widthPx: cutFirst.across ? Math.round(sizeMm.width * pxPerMm.x) : picture.widthPx,
      heightPx: cutFirst.up ? Math.round(sizeMm.height * pxPerMm.y) : picture.heightPx,
      closed: cutFirst,
    };
    const torus = await run(closeByCut(task), step);
    return makeSolvedRepeat(key, { torus, repeatMm: sizeMm, pxPerMm, dense });
  });
}
