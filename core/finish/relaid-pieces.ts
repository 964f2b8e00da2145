import {
  arrangementOf,
  withRedone,
  type BrokenPiece,
  type PiecesJudged,
  type Redone,
  type RepeatSettings,
} from '../repeat';
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
const MOST_PIECES = 12;
/** How far about a broken piece is re-laid, as shares of its shorter side: what did not help is tried larger. */
const AROUND = [0.3, 0.6, 1] as const;
/** Seeds of one press and the next do not meet. */
const SEEDS_OF_ROUND = 100;

/**
 * Re-lays the broken pieces of a repeat, each with what lies about it, up to three times, and keeps what makes pieces whole. Asked again,
 * it tries other ways.
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
  const judge = async (repeat: RepeatSettings): Promise<PiecesJudged | null> => {
    if (!known) return null;
    const as = { ...recipe, repeat };
    const draw = (px: number) => repeatToJudge(as, pictures, px, options);
    return (await judgedInRepeat(as, pictures, known, draw)).judged;
  };
  const first = await judge(recipe.repeat);
  if (!first)
    throw new Refusal(
      'no-pieces',
      'The sample shows no pieces that can be judged, so none can be re-laid. Outline areas by hand under “re-lay”.',
      'repeat',
    );
  let [repeat, judged] = [recipe.repeat, first];
  for (const around of AROUND) {
    if (judged.broken.length === 0) break;
    const better = await roundOf(repeat, judged, around, judge);
    if (better) ({ repeat, judged } = better);
  }
  return {
    arrangements: repeat.arrangements,
    pieces: judged.pieces,
    brokenBefore: first.broken.length,
    broken: judged.broken.length,
  };
}

type Judge = (repeat: RepeatSettings) => Promise<PiecesJudged | null>;

/** Re-lays every broken piece once, and takes back what did not help. @returns null where no fewer are broken then */
async function roundOf(repeat: RepeatSettings, { broken }: PiecesJudged, around: number, judge: Judge) {
  const before = arrangementOf(repeat).redone;
  const fresh = broken
    .slice(0, MOST_PIECES)
    .map((piece, k) => relaid(piece, around, SEEDS_OF_ROUND * (before.length + 1) + k));
  const tryWith = async (items: readonly Redone[]) => {
    const next = withRedone(repeat, [...before, ...items]);
    const judged = await judge(next);
    return judged && { repeat: next, judged };
  };
  const all = await tryWith(fresh);
  if (!all) return null;
  const helped = fresh.filter((item) => !all.judged.broken.some((piece) => isIn(piece, item)));
  if (helped.length === 0) return null;
  // What did not help may have broken others.
  const tried = helped.length === fresh.length ? all : await tryWith(helped);
  return tried && tried.judged.broken.length < broken.length ? tried : null;
}

/** A box round a broken piece, to be re-laid. */
function relaid(piece: BrokenPiece, around: number, seed: number): Redone {
  const margin = around * Math.min(piece.width, piece.height);
  const held = (v: number) => Math.min(2, Math.max(-1, v));
  const [left, top] = [held(piece.left - margin), held(piece.top - margin)];
  const [right, bottom] = [held(piece.left + piece.width + margin), held(piece.top + piece.height + margin)];
  const box: [number, number][] = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
  return { id: `piece-${seed}`, seed, areas: [box], taken: [] };
}

/** Whether the middle of a piece lies in the box of an area, however often round the repeat. */
function isIn(piece: BrokenPiece, { areas: [box] }: Redone): boolean {
  const [[left, top], , [right, bottom]] = box as [[number, number], unknown, [number, number]];
  const inside = (at: number, from: number, to: number) => at - Math.floor(at - from) <= to;
  return (
    inside(piece.left + piece.width / 2, left, right) && inside(piece.top + piece.height / 2, top, bottom)
  );
}
