import {
  brokenHoldPx,
  cellsOf,
  cellsOfBoards,
  type Cells,
  type ComposeSource,
  type Pitch,
  type PlacedSource,
  type Placement,
  type PlacementMap,
  type Steps,
  type Torus,
} from '../repeat';
import { drawHoldLines } from '../sample';
import type { StageCache } from './cache';
import { allAtDensity } from './density';
import { keptOutOfSource, type RepeatSource } from './joined';
import type { BoardsLaid } from './boards';
import type { Recipe } from './recipe';
import type { Sources } from './result';

/** What all solving of placements shares: what comes out, what it works on, and how it is run. */

/** A repeat whose placement was solved from the pixels of its sources. */
export interface Arranged {
  map: PlacementMap & { cells: Cells };
  key: string;
  /** Density at which it was solved. */
  pxPerMm: { x: number; y: number };
  /** How many copies it is cut from. */
  copies: number;
  /** Over what length hold lines are broken where copies meet. */
  brokenHoldMm: number;
  /** The repeat as solved, for what is laid anew in it, and where its copies lie by name. */
  solved: { torus: Torus; laid: Map<string, Placement> };
  /** Where it is laid of whole boards; null: it is cut from copies. */
  boards: BoardsLaid | null;
  /** The same repeat begun so many cells earlier, from which what evens it out is taken; null: none. */
  begunFrom: { arranged: Arranged; x: number; y: number } | null;
  /** What it was before something was laid anew, and where that was; null: nothing was. */
  before: { arranged: Arranged; free: Uint8Array } | null;
}

/** Pixels of the longer side at which a placement is solved. */
export const WORKING_PX = 512;

/** The sources of a repeat at its working resolution. */
export async function prepared(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  recipe: Pick<Recipe, 'sample'>,
  pxPerMm: { x: number; y: number },
) {
  const { holdLines } = recipe.sample;
  const dense = await allAtDensity(sources, cache, from, pxPerMm);
  return {
    dense,
    toCompose: dense.map(({ picture }, k): ComposeSource => {
      const { widthPx: w, heightPx: h } = picture;
      const { pictureNumber, picture: of } = from[k]!;
      return {
        picture,
        keptOut: keptOutOfSource(recipe, from[k]!, w, h),
        held: pictureNumber === 0 && holdLines.length > 0 ? drawHoldLines(of.frame, holdLines, w, h) : null,
      };
    }),
  };
}

/** What hangs on the sources of a repeat. */
export const keyOfSources = (from: readonly RepeatSource[], { keepOuts, holdLines }: Recipe['sample']) => [
  from.map(({ picture: { info, frame }, change, laidMm }) => [
    info.sha256,
    frame.plane,
    frame.bow,
    laidMm,
    change.key,
  ]),
  keepOuts,
  holdLines,
];

/** Fewer pixels of a hold line are no break: lines are drawn softly. */
const SOFT_PX = 6;

function brokenHoldMm(torus: Torus, pxPerMm: { x: number; y: number }): number {
  const px = brokenHoldPx(torus);
  return px > SOFT_PX ? (2 * px) / (pxPerMm.x + pxPerMm.y) : 0;
}

/** Time after which others have their turn. */
const TURN_MS = 60;

/** Does work in steps, with a turn for others in between. @param look shown what is there so far */
export async function run<T>(
  steps: Steps<T>,
  step: (share: number) => Promise<void>,
  look?: (soFar: Torus) => void,
): Promise<T> {
  let last = Date.now();
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    const { share, soFar } = next.value;
    if (soFar) look?.(soFar);
    else if (Date.now() - last < TURN_MS) continue;
    await step(share);
    last = Date.now();
  }
}

/**
 * What a solved repeat is.
 * @param key names it in the cache
 * @param solved the repeat at its working resolution, of a size and density, from sources of a density
 * @param laid where copies lay before something was laid anew
 */
export function makeArranged(
  key: string,
  solved: {
    torus: Torus;
    repeatMm: { width: number; height: number };
    pxPerMm: { x: number; y: number };
    dense: readonly PlacedSource[];
    pitchMm?: Pitch | undefined;
    boards?: BoardsLaid | null;
  },
  laid = new Map<string, Placement>(),
  before: Arranged['before'] = null,
): Arranged {
  const { torus, repeatMm, pxPerMm, dense, pitchMm, boards = null } = solved;
  const cells = boards
    ? cellsOfBoards(boards.laid)
    : cellsOf(
        torus,
        repeatMm,
        dense.map((d) => d.pxPerMm),
        pitchMm,
        laid,
      );
  return {
    map: { repeatMm, layers: [], cells },
    key,
    pxPerMm,
    copies: cells.placements.length,
    brokenHoldMm: brokenHoldMm(torus, pxPerMm),
    solved: { torus, laid },
    boards,
    begunFrom: null,
    before,
  };
}
