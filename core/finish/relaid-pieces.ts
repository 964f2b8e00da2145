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
/** One way of re-laying broken pieces. */
export interface Attempt {
  /** How far about each piece is re-laid, as a share of its shorter side. */
  around: number;
  /** Only pieces that are broken in this way; left out: all. */
  only?: BrokenPiece['kind'];
}
/**
 * What did not help is tried larger, then with fewer pieces: where these are large, re-laying all of them breaks others beside them.
 * At last otherwise.
 */
const ATTEMPTS: readonly Attempt[] = [
  { around: 0.3 },
  { around: 0.6 },
  { around: 0.3, only: 'cut' },
  { around: 0.3, only: 'fused' },
  { around: 1 },
  { around: 0.3 },
];
/** A suggestion does not take the time for more. */
const ATTEMPTS_OF_SUGGESTION = 5;
/** Seeds of one press and the next do not meet. */
const SEEDS_OF_PRESS = 100;

/**
 * Re-lays the broken pieces of a repeat with what lies about them, up to six times, and keeps each time by which it is better. Asked
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
  const { repeat, now } = (await relaidUntilWhole(recipe.repeat, first, judge, ATTEMPTS)) ?? {
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
 * @param attempts one after the other
 * @returns the repeat in which fewer pieces are broken, or as many but fewer joints end in pieces; null: there is none
 * @throws whatever `judge` does
 */
export async function relaidUntilWhole(
  repeat: RepeatSettings,
  now: JudgedRepeat,
  judge: (repeat: RepeatSettings) => Promise<JudgedRepeat>,
  attempts: readonly Attempt[] = ATTEMPTS.slice(0, ATTEMPTS_OF_SUGGESTION),
): Promise<{ repeat: RepeatSettings; now: JudgedRepeat } | null> {
  let best = { repeat, now };
  for (const [k, { around, only }] of attempts.entries()) {
    const { broken } = best.now.judged!;
    if (broken.length === 0) break;
    const again = only ? broken.filter(({ kind }) => kind === only) : broken;
    if (again.length === 0) continue;
    const { redone } = arrangementOf(best.repeat);
    const seed = SEEDS_OF_PRESS * (redone.length + 1) + k;
    const item = relaid(again.slice(0, MOST_PIECES), around, seed);
    const next = withRedone(best.repeat, [...redone, item]);
    const tried = await judge(next);
    // What re-laying broke beside them counts as well.
    if (tried.judged && isBetter(tried.judged, best.now.judged!)) best = { repeat: next, now: tried };
  }
  return best.repeat === repeat ? null : best;
}

const isBetter = (a: PiecesJudged, b: PiecesJudged) =>
  a.broken.length < b.broken.length || (a.broken.length === b.broken.length && a.jointEnds < b.jointEnds);

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
