import {
  arrangementOf,
  withRedone,
  type BrokenPiece,
  type PiecesJudged,
  type Redone,
  type RepeatSettings,
} from '../repeat';
import type { ColourPicture } from '../raster';
import { Refusal, type Pictures } from '../surface';
import { judgedInRepeat, piecesOfSample, repeatToJudge } from './pieces';
import type { Recipe } from './recipe';
import type { RenderOptions } from './render';

/** Broken pieces of a composed repeat, re-laid until they are whole. */

/** What re-laying came to. */
export interface RelaidPieces {
  /** With the areas that were re-laid; as they were where that helped no piece. */
  arrangements: RepeatSettings['arrangements'];
  pieces: number;
  brokenBefore: number;
  broken: number;
}

/** So many broken pieces are re-laid at once. */
const MOST_PIECES = 24;
/** How far about a broken piece is re-laid, as shares of its shorter side: what did not help is tried larger, then otherwise. */
const AROUND = [0.3, 0.6, 1, 0.3, 0.6, 1] as const;
/** Seeds of one press and the next do not meet. */
const SEEDS_OF_PRESS = 100;

/**
 * Re-lays the broken pieces of a repeat with what lies about them, up to six times, and keeps each time by which fewer are broken. Asked
 * again, it tries other ways.
 * @throws Refusal when the repeat is not composed, its sample shows no pieces, or something has to be changed first; Stopped when the
 * signal asks
 */
export async function relayBrokenPieces(
  pictures: Pictures,
  recipe: Recipe,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'> = {},
): Promise<RelaidPieces> {
  if (recipe.repeat.method !== 'composed')
    throw new Refusal(
      'not-composed',
      'Only pieces of a composed repeat are re-laid. Compose the repeat first.',
      'repeat.method',
    );
  const known = await piecesOfSample(recipe, pictures, options);
  const judge = (repeat: RepeatSettings) => {
    const as = { ...recipe, repeat };
    return judgedInRepeat(as, pictures, known!, (px) => repeatToJudge(as, pictures, px, options));
  };
  const first = known && (await judge(recipe.repeat));
  if (!first?.judged)
    throw new Refusal(
      'no-pieces',
      'The sample shows no pieces that can be judged, so none can be re-laid. Outline areas by hand under “re-lay”.',
      'repeat',
    );
  const { repeat, now } = (await relaidUntilWhole(recipe.repeat, first, judge, AROUND)) ?? {
    repeat: recipe.repeat,
    now: first,
  };
  return {
    arrangements: repeat.arrangements,
    pieces: now.judged!.pieces,
    brokenBefore: first.judged.broken.length,
    broken: now.judged!.broken.length,
  };
}

/** A repeat as it was drawn, with what is wrong with its pieces; null: they cannot be judged. */
export interface JudgedRepeat {
  colour: ColourPicture;
  judged: PiecesJudged | null;
}

/**
 * @param repeat composed
 * @param now what it looks like
 * @param judge draws it with other settings, and judges its pieces
 * @param times how far about broken pieces is re-laid, one time after the other
 * @returns the repeat in which fewer pieces are broken; null: there is none
 * @throws whatever `judge` does
 */
export async function relaidUntilWhole(
  repeat: RepeatSettings,
  now: JudgedRepeat,
  judge: (repeat: RepeatSettings) => Promise<JudgedRepeat>,
  times: readonly number[] = AROUND.slice(0, 4),
): Promise<{ repeat: RepeatSettings; now: JudgedRepeat } | null> {
  let best = { repeat, now };
  for (const [k, around] of times.entries()) {
    const { broken } = best.now.judged!;
    if (broken.length === 0) break;
    const { redone } = arrangementOf(best.repeat);
    const seed = SEEDS_OF_PRESS * (redone.length + 1) + k;
    const item = relaid(broken.slice(0, MOST_PIECES), around, seed);
    const next = withRedone(best.repeat, [...redone, item]);
    const tried = await judge(next);
    // What re-laying broke beside them counts as well.
    if (tried.judged && tried.judged.broken.length < broken.length) best = { repeat: next, now: tried };
  }
  return best.repeat === repeat ? null : best;
}

/** Areas that were re-laid for the sake of broken pieces begin with this in their names. */
const OF_PIECES = 'pieces-';

/** The same repeat without areas that were re-laid for the sake of broken pieces. */
export function withoutRelaidPieces(repeat: RepeatSettings): RepeatSettings {
  const { redone } = arrangementOf(repeat);
  const others = redone.filter(({ id }) => !id.startsWith(OF_PIECES));
  return others.length === redone.length ? repeat : withRedone(repeat, others);
}

/** Boxes round broken pieces, to be re-laid together. */
function relaid(broken: readonly BrokenPiece[], around: number, seed: number): Redone {
  return {
    id: `${OF_PIECES}${seed}`,
    seed,
    areas: broken.map((piece) => boxAround(piece, around)),
    taken: [],
  };
}

function boxAround(piece: BrokenPiece, around: number): [number, number][] {
  const margin = around * Math.min(piece.width, piece.height);
  const held = (v: number) => Math.min(2, Math.max(-1, v));
  const [left, top] = [held(piece.left - margin), held(piece.top - margin)];
  const [right, bottom] = [held(piece.left + piece.width + margin), held(piece.top + piece.height + margin)];
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}
