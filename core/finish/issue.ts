import { readColour } from '../colour';
import { decodeKept, encodeKept, keptRepeat } from '../repeat';
import { hashOfBytes, type ContextOptions, type Pictures, type Surface } from '../surface';
import { contextOf } from './context';
import type { Recipe } from './recipe';
import type { RenderOptions } from './render';
import { FINISH, STAGE_VERSIONS } from './stages';

/** What is kept with a revision, so that it stays as it was issued. */
export interface IssuedFinish {
  /** Version of every stage. */
  versions: Readonly<Record<string, number>>;
  /** What had to be solved, as bytes; null: nothing had to be. */
  solved: Uint8Array | null;
  measured: Measured;
}

/** Colour of a repeat, as it measures. */
export interface Measured {
  lrv: number;
  lab: readonly [number, number, number];
}

/** Pixels of the longer side of a repeat when its colour is measured. */
export const MEASURED_PX = 512;

/** Width of a repeat in pixels so that its longer side has the given number. */
export const widthForLongSide = (repeatMm: { width: number; height: number }, longSidePx: number): number =>
  Math.max(8, Math.round(longSidePx * Math.min(1, repeatMm.width / repeatMm.height)));

/**
 * Solves and measures a finish, as it is issued.
 * @param widthPx width of the repeat at which its colour is measured
 * @throws Stopped, Refusal
 */
export async function issueFinish(
  recipe: Recipe,
  pictures: Pictures,
  widthPx: number,
  options: ContextOptions = {},
): Promise<IssuedFinish> {
  const ctx = contextOf(recipe, pictures, { widthPx, way: null, category: null }, options);
  const { wanted } = await FINISH.run(
    ctx,
    recipe,
    async (surface) => ({
      kept: await keptRepeat(surface, ''),
      // Reflectance is that of the faces as supplied, without joints.
      reading: readColour(await suppliedColour(surface).get()),
    }),
    new Set(),
  );
  const { kept, reading } = wanted;
  return {
    versions: STAGE_VERSIONS,
    solved: kept && encodeKept(kept),
    measured: { lrv: reading.shown.lrv, lab: reading.shown.meanLab },
  };
}

/** Colour as the finish is supplied: of its faces, before anything happened to it. */
const suppliedColour = (surface: Surface) =>
  surface.laid ? surface.laid.faces.fields.colour! : (surface.weathered?.supplied ?? surface.fields.colour!);

/**
 * Options by which an issued revision renders as it was issued.
 * @param versions of its stages; null: it was issued before they were written down
 * @param solved as it was kept; null: nothing was solved, or it was issued before that was kept
 */
export const asIssued = (
  versions: Readonly<Record<string, number>> | null,
  solved: Uint8Array | null,
): Pick<RenderOptions, 'versions' | 'kept'> => ({
  versions: versions ?? {},
  ...(solved ? { kept: { repeat: decodeKept(solved, hashOfBytes(solved)) } } : {}),
});
