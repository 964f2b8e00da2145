import { seededRandom } from '../raster';
import { assigningKinds } from './blend';
import { atOnce, inTurns, type Steps } from '../steps';
import { layingSteps, sizeWithoutLaying, type LayoutGeometry } from './lay';
import type { LayoutSettings } from './settings';

/** A layout before it is drawn: where every piece lies, and of which kind it is. */
export interface SolvedLayout {
  geometry: LayoutGeometry;
  kindOf: Uint8Array;
}

const BLEND_SEED = 101;

/** The layouts that were solved last, by their settings: one drawing asks for the same one several times. */
const solved = new Map<string, SolvedLayout>();
const MOST_SOLVED = 6;
/** Sizes of layouts that were solved; lists of finishes ask for many. */
const sizes = new Map<string, LayoutGeometry['repeatMm']>();
const MOST_SIZES = 2000;

/** Settings that decide where pieces lie; how they look has no part in it. */
function keyOfPlaces({ joint, blend, arris: _, shade: __, faces: ___, ...placing }: LayoutSettings): string {
  const kinds = blend.others.map(({ share, kind }) => [share, kind]);
  return JSON.stringify([placing, blend.rule, kinds, joint.alongMm.value, joint.acrossMm.value]);
}

/**
 * Size of the repeat of a layout, mm. It is asked for where nothing may take long: of bonds that take seconds it is known before they
 * are laid.
 * @throws RangeError with a sentence where it cannot be laid, as far as that is known by then
 */
export function layoutSizeMm(settings: LayoutSettings): LayoutGeometry['repeatMm'] {
  const key = keyOfPlaces(settings);
  const known = sizes.get(key);
  if (known) return known;
  const repeatMm = sizeWithoutLaying(settings) ?? solveLayout(settings).geometry.repeatMm;
  sizes.set(key, repeatMm);
  if (sizes.size > MOST_SIZES) sizes.delete(sizes.keys().next().value!);
  return repeatMm;
}

/** @throws RangeError with a sentence where it cannot be laid */
export const solveLayout = (settings: LayoutSettings): SolvedLayout => atOnce(solvingSteps(settings));

/**
 * Solves a layout with turns for others in between: what asks for it after has it at once.
 * @param turn lets others in; may throw to stop
 * @throws RangeError as `solveLayout`
 */
export const solveLayoutInTurns = (
  settings: LayoutSettings,
  turn: () => Promise<void>,
): Promise<SolvedLayout> => inTurns(solvingSteps(settings), turn);

function* solvingSteps(settings: LayoutSettings): Steps<SolvedLayout> {
  const key = keyOfPlaces(settings);
  const known = solved.get(key);
  if (known) return known;
  const geometry = yield* layingSteps(settings);
  const kindOf = yield* assigningKinds(settings.blend, geometry, seededRandom(settings.seed + BLEND_SEED));
  solved.set(key, { geometry, kindOf });
  if (solved.size > MOST_SOLVED) solved.delete(solved.keys().next().value!);
  return { geometry, kindOf };
}
