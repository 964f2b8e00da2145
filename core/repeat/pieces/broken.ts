import { extremes } from '../../raster';
import { jointEnds, type Masonry } from './joint-ends';
import { inFewSizes, isGrain, type Piece, type Pieces } from '../../pieces';
import { piecesOfMixedTones, type TonedPieces } from './mixed-tones';
import { piecesWithSeams } from './seams-inside';

/**
 * A piece of a repeat that is no whole piece of the sample: cut short, fused with another, or made of parts of several whose tones
 * differ, where copies meet.
 */
export interface BrokenPiece {
  kind: 'cut' | 'fused' | 'mixed';
  /** Its box in shares of the repeat; may reach over the edges. */
  left: number;
  top: number;
  width: number;
  height: number;
}

/** How many pieces a repeat has, and which of those where copies of the sample meet are broken. */
export interface PiecesJudged {
  pieces: number;
  /** Of these, pieces in which copies meet; only they can be broken. */
  whereCopiesMeet: number;
  /** Joints that end in those pieces instead of meeting another joint: how often a piece is broken that was fused from several. */
  jointEnds: number;
  broken: readonly BrokenPiece[];
}

/** Pieces have to be known by so many whole ones. */
const LEAST_WHOLE = 5;
/** A piece is whole when it is like one of the sample's within this, in natural logarithms of its sides … */
const LIKE = 0.14;
/** … or within so many times what the sample's own pieces differ from the nearest other by. */
const OWN_SPREAD = 1.3;
/** Its outline is known to so many pixels. */
const OUTLINE_PX = 1.2;
/** Area differs by both sides; it counts by this share. */
const AREA = 0.6;
/** Where more of the pieces that cannot be broken look it, the segmentation is not good enough to judge. */
const MOST_MISTAKEN = 0.08;
/** No method breaks a larger share of pieces of all sizes. */
const MOST_BROKEN = 0.5;

/** A piece with natural logarithms of its measures, and what each of them is uncertain by. */
interface Measured {
  piece: Piece;
  logs: readonly [number, number, number];
  uncertain: readonly [number, number, number];
}

const measure = (piece: Piece): Measured => ({
  piece,
  logs: [Math.log(piece.widthPx), Math.log(piece.heightPx), Math.log(piece.areaPx)],
  uncertain: [
    (2 * OUTLINE_PX) / piece.widthPx,
    (2 * OUTLINE_PX) / piece.heightPx,
    (4 * OUTLINE_PX) / Math.sqrt(piece.areaPx),
  ],
});

/** How far two pieces differ, in natural logarithms, less what the outlines of the smaller are uncertain by. */
function differ(a: Measured, b: Measured): number {
  let most = 0;
  for (let k = 0; k < 3; k++) {
    const off = Math.abs(a.logs[k]! - b.logs[k]!) - Math.max(a.uncertain[k]!, b.uncertain[k]!);
    most = Math.max(most, k === 2 ? AREA * off : off);
  }
  return most;
}

/** Boards are long, and of any length: one that is cut to another length in a joint is whole. */
const LONG = 2.5;
const ANY_LENGTH = 0.3;

const middle = (values: number[], share = 0.5) =>
  values.sort((a, b) => a - b)[Math.floor(share * values.length)]!;

function areBoards(whole: readonly Piece[]): boolean {
  const lengths = whole.map((p) => Math.max(p.widthPx, p.heightPx));
  const aspect = middle(whole.map((p) => Math.max(p.widthPx / p.heightPx, p.heightPx / p.widthPx)));
  const differ = Math.log(middle([...lengths], 0.75) / middle([...lengths], 0.25)) > ANY_LENGTH;
  return aspect > LONG && differ && !inFewSizes(lengths);
}

function nearest(piece: Measured, among: readonly Measured[]): { off: number; piece: Piece } {
  let [least, found] = [Infinity, among[0]!];
  for (const other of among) {
    if (other === piece) continue;
    const off = differ(piece, other);
    if (off < least) [least, found] = [off, other];
  }
  return { off: least, piece: found.piece };
}

/** The outline of a piece may lie so far inside of what is seen of it. */
const INSIDE_PX = 1;

/** A piece that ends this near to an edge of the sample is cut by it, though its outline does not touch the edge. */
const reachesEdge = (p: Piece, { widthPx, heightPx }: Pieces): boolean =>
  p.left <= INSIDE_PX ||
  p.top <= INSIDE_PX ||
  p.left + p.widthPx >= widthPx - INSIDE_PX ||
  p.top + p.heightPx >= heightPx - INSIDE_PX;

/**
 * Judges the pieces of a repeat by those of the sample it is made from.
 * @param sample pieces of the sample, at the scale of the repeat
 * @param repeat pieces of the repeat
 * @param meet 1 where copies of the sample meet or are mixed, one for each pixel of the repeat
 * @returns null where pieces cannot be judged: too few are whole in the sample, they are boards or grain, or not segmented clearly
 */
export function brokenPieces(
  sample: Masonry & TonedPieces,
  repeat: Masonry & TonedPieces,
  meet: Uint8Array,
): PiecesJudged | null {
  const whole = sample.pieces.pieces.filter((p) => !p.cutOff && !reachesEdge(p, sample.pieces));
  if (whole.length < LEAST_WHOLE || areBoards(whole) || isGrain(whole)) return null;
  const known = whole.map(measure);
  const own = known.map((p) => nearest(p, known).off).sort((a, b) => a - b);
  const limit = Math.max(LIKE, OWN_SPREAD * own[Math.floor(0.95 * own.length)]!);
  const { pieces } = repeat;
  const met = piecesMet(pieces, meet);
  const broken = new Map<number, BrokenPiece['kind']>();
  let mistaken = 0;
  pieces.pieces.forEach((piece, k) => {
    const { off, piece: like } = nearest(measure(piece), known);
    if (off <= limit) return;
    if (!met.has(k)) mistaken++;
    else broken.set(k, piece.areaPx < like.areaPx ? 'cut' : 'fused');
  });
  const others = pieces.pieces.length - met.size;
  if (mistaken > Math.max(1, MOST_MISTAKEN * others)) return null;
  // Where pieces are of all sizes and nearly all look broken, it is the telling apart that failed.
  if (limit > LIKE && broken.size > MOST_BROKEN * pieces.pieces.length) return null;
  const ended = endedIn(sample, repeat, met);
  for (const k of ended) if (!broken.has(k)) broken.set(k, 'fused');
  for (const k of piecesOfMixedTones(sample, whole, repeat, met, meet))
    if (!broken.has(k)) broken.set(k, 'mixed');
  return {
    pieces: pieces.pieces.length,
    whereCopiesMeet: met.size,
    jointEnds: ended.length,
    broken: [...broken].map(([k, kind]) => ({ kind, ...boxOf(pieces, k) })),
  };
}

/**
 * Judges the pieces of a repeat that keeps to the lattice of its sample: they lie where they should, so that only what they show tells
 * whether one is made of parts of several.
 */
export function brokenInLattice(
  sample: Pick<Masonry, 'pieces'> & TonedPieces,
  repeat: Pick<Masonry, 'pieces'> & TonedPieces,
  meet: Uint8Array,
): PiecesJudged | null {
  const whole = sample.pieces.pieces.filter((p) => !p.cutOff && !reachesEdge(p, sample.pieces));
  if (whole.length < LEAST_WHOLE || isGrain(whole)) return null;
  const { pieces } = repeat;
  const met = piecesMet(pieces, meet);
  const mixed = new Set([
    ...piecesOfMixedTones(sample, whole, repeat, met, meet),
    ...piecesWithSeams(pieces, repeat.lab, meet),
  ]);
  return {
    pieces: pieces.pieces.length,
    whereCopiesMeet: met.size,
    jointEnds: 0,
    broken: [...mixed].map((k) => ({ kind: 'mixed', ...boxOf(pieces, k) })),
  };
}

/** Its box in shares of the repeat. */
function boxOf({ pieces, widthPx, heightPx }: Pieces, k: number): Omit<BrokenPiece, 'kind'> {
  const piece = pieces[k]!;
  return {
    left: piece.left / widthPx,
    top: piece.top / heightPx,
    width: piece.widthPx / widthPx,
    height: piece.heightPx / heightPx,
  };
}

/** Where the sample's own joints end in more of its pieces, ends say nothing. A face of the mortar's tone may show many: it counts once. */
const MOST_OWN_ENDS = 0.06;

/**
 * Pieces where copies meet that a joint ends in, once for each end: what was two pieces has become one, whatever its size. Where
 * pieces are of all sizes, as in crazy paving, only that tells.
 */
function endedIn(sample: Masonry, repeat: Masonry, met: ReadonlySet<number>): number[] {
  const ofSample = new Set(jointEnds(sample, false).map(({ piece }) => piece));
  if (ofSample.size > MOST_OWN_ENDS * sample.pieces.pieces.length) return [];
  return jointEnds(repeat, true).flatMap(({ piece }) => (met.has(piece) ? [piece] : []));
}

/** Copies may meet in a joint: pieces on both sides of it count, px. */
const BESIDE_PX = 4;

/** Numbers of the pieces in which copies meet, or that end there. */
function piecesMet({ widthPx, heightPx, label }: Pieces, meet: Uint8Array): Set<number> {
  const near = extremes({ widthPx, heightPx, data: Float32Array.from(meet) }, BESIDE_PX, 'greatest', true);
  const met = new Set<number>();
  for (let i = 0; i < meet.length; i++) if (near.data[i]! > 0 && label[i]! >= 0) met.add(label[i]!);
  return met;
}
