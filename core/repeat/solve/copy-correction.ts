import { allAtDensity, type LaidPicture } from '../../sources';
import { hashOf, withTurns, type RenderContext } from '../../surface';
import { makePlane, mapChannels, type ColourPicture, type Plane } from '../../raster';
import { correctionSteps } from '../screened-poisson-correction';
import type { Cells } from '../placement';
import { runsJointsOn } from '../version';
import type { SolvedRepeat } from './solved-repeat';

/** How far from an outline differences are spread, as a share of the shorter side of the repeat. */
const EVENED_REACH = 1 / 10;

/**
 * What evens out the copies of a solved repeat in one picture of each of its sources.
 * @param pictures the same picture of every source: their colour, or one map
 * @param steps the repeat as it was solved first, then after each area that was laid anew; outside such an area the step
 * before stays as it is
 * @returns null where copies meet in joints of their own, and nothing is evened out
 */
export async function copyCorrection(
  ctx: RenderContext,
  pictures: readonly LaidPicture[],
  steps: readonly SolvedRepeat[],
): Promise<ColourPicture | null> {
  let evened: ColourPicture | null = null;
  for (const [k, step] of steps.entries()) {
    if (step.map.cells.sharp) return null;
    const before: Before = step.free && evened ? { free: step.free, evened } : undefined;
    // Each step goes on from the one before, so that its key covers all of them.
    const keys = steps.slice(0, k + 1).map((s) => s.key);
    evened = step.asSolvedFirst
      ? await rolledFrom(ctx, pictures, step, step.asSolvedFirst)
      : await solved(ctx, pictures, step, step.map.cells, keys, before);
  }
  return evened;
}

type Before = { free: Uint8Array; evened: ColourPicture } | undefined;

async function solved(
  ctx: RenderContext,
  pictures: readonly LaidPicture[],
  { map: { repeatMm }, pxPerMm }: SolvedRepeat,
  cells: Cells,
  keys: readonly string[],
  before?: Before,
): Promise<ColourPicture> {
  const dense = await allAtDensity(ctx, pictures, pxPerMm);
  const tonesOnly = runsJointsOn(ctx);
  const key = hashOf(
    'evened',
    dense.map((d) => d.key),
    keys,
    tonesOnly,
  );
  const reach = Math.max(6, Math.round(EVENED_REACH * Math.min(cells.widthPx, cells.heightPx)));
  return ctx.known(key, () =>
    withTurns(ctx.options, correctionSteps(cells, repeatMm, dense, reach, before, tonesOnly)),
  );
}

/** A repeat that begins elsewhere is evened out as it was solved. */
async function rolledFrom(
  ctx: RenderContext,
  pictures: readonly LaidPicture[],
  step: SolvedRepeat,
  asSolvedFirst: NonNullable<SolvedRepeat['asSolvedFirst']>,
): Promise<ColourPicture> {
  const asSolved = await solved(ctx, pictures, step, asSolvedFirst.cells, [asSolvedFirst.key]);
  return mapChannels(asSolved, (plane) => rolled(plane, asSolvedFirst));
}

/** A plane that closes on itself, begun so many pixels further. */
function rolled({ widthPx: w, heightPx: h, data }: Plane, { x: dx, y: dy }: { x: number; y: number }): Plane {
  const out = makePlane(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) out.data[y * w + x] = data[((y + dy) % h) * w + ((x + dx) % w)]!;
  return out;
}
