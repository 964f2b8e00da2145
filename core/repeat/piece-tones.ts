import { makeColourPicture, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import { runsOn, type Cells } from './placement';

/** A piece larger than this share of the repeat is none: the joints about it are not closed. */
const LARGEST_PIECE = 0.25;
const CHANNELS = ['r', 'g', 'b'] as const;

/** At its edge a piece is half joint: its tone is told by cells that lie so far inside, and by so many at least. */
const RIM = 2;
const LEAST_CELLS = 6;
/** Of a narrow part, which has none so far inside, by those beside the edge. */
const RIM_OF_NARROW = 1;

/** The pieces that the cells of a repeat show. */
export interface PiecesOfCells {
  /** Number of the piece of each cell; in joints each cell has its own. */
  pieceOf: Int32Array;
  /** Whether a cell lies inside its piece, whichever copy it is from, and so many cells from its edge. */
  isInner: (p: number, rim?: number) => boolean;
}

/** Finds the pieces of a repeat: connected cells that lie in pieces of the sample. */
export function piecesIn(cells: Cells & { inPiece: Uint8Array }): PiecesOfCells {
  const { inPiece } = cells;
  const pieceOf = connected(cells, (p, q) => inPiece[p] === 1 && inPiece[q] === 1);
  const isInside = innerOf(cells, pieceOf);
  return { pieceOf, isInner: (p, rim = RIM) => inPiece[p] === 1 && isInside(p, rim) };
}

/** What is known of a part of a piece that comes from one copy. */
interface Side {
  piece: number;
  cells: number;
  /** Cells away from the edge of the piece, by which its tone is told, and sums over them, with what was added to them before. */
  inner: number;
  shown: [number, number, number];
  added: [number, number, number];
  /** It was evened out before, and stays as it is. */
  isFixed: boolean;
}

/**
 * What brings pieces that are made of parts of several copies to one tone: to each part is added, evenly, by what its mean differs from that
 * of the largest part. Joints, and pieces that come from one copy, stay as they are.
 *
 * @param cells which copy lies where; it must know where pieces are
 * @param pieces them, as found by {@link piecesIn}
 * @param shown what lies at each cell, in the square root of linear light
 * @param kept where it was evened out before, and is to stay so but for `free`
 * @returns what is added, of the shape of the cells; where it was evened out before, the mean of that over each part
 */
export const pieceTones = (...of: Parameters<typeof pieceToneSteps>): ColourPicture =>
  atOnce(pieceToneSteps(...of));

/** The same in steps. */
export function* pieceToneSteps(
  cells: Cells & { inPiece: Uint8Array },
  { pieceOf, isInner }: PiecesOfCells,
  repeatMm: { width: number; height: number },
  shown: ColourPicture,
  kept?: { free: Uint8Array; evened: ColourPicture },
): Steps<ColourPicture> {
  const { widthPx: w, heightPx: h, inPiece, copy, placements } = cells;
  const isFixed = (p: number) => kept !== undefined && kept.free[p] === 0;
  const sideOf = connected(cells, (p, q) => {
    if (inPiece[p] === 0 || inPiece[q] === 0 || isFixed(p) !== isFixed(q)) return false;
    // The next cell lies before this one only over an edge.
    const [dx, dy] = [q % w < p % w ? repeatMm.width : 0, q < p - w ? repeatMm.height : 0];
    return runsOn(placements[copy[p]!]!, placements[copy[q]!]!, dx, dy);
  });
  yield;
  const sides = new Map<number, Side>();
  for (let p = 0; p < w * h; p++) {
    if (inPiece[p] === 0) continue;
    let side = sides.get(sideOf[p]!);
    if (!side) {
      side = {
        piece: pieceOf[p]!,
        cells: 0,
        inner: 0,
        shown: [0, 0, 0],
        added: [0, 0, 0],
        isFixed: isFixed(p),
      };
      sides.set(sideOf[p]!, side);
    }
    side.cells++;
  }
  const addUp = (isOf: (side: Side) => boolean, rim: number) => {
    for (let p = 0; p < w * h; p++) {
      const side = sides.get(sideOf[p]!);
      if (!side || !isOf(side) || !isInner(p, rim)) continue;
      side.inner++;
      for (const [c, channel] of CHANNELS.entries()) {
        side.shown[c]! += shown[channel][p]!;
        if (side.isFixed) side.added[c]! += kept!.evened[channel][p]!;
      }
    }
  };
  yield;
  addUp(() => true, RIM);
  yield;
  const narrow = new Set([...sides.values()].filter((side) => side.inner < LEAST_CELLS));
  for (const side of narrow) Object.assign(side, { inner: 0, shown: [0, 0, 0], added: [0, 0, 0] });
  addUp((side) => narrow.has(side), RIM_OF_NARROW);
  yield;
  const toAdd = additions(sides, LARGEST_PIECE * w * h);
  const out = makeColourPicture(w, h);
  for (let p = 0; p < w * h; p++) {
    const added = inPiece[p] === 1 ? toAdd.get(sideOf[p]!) : undefined;
    if (added) for (const [c, channel] of CHANNELS.entries()) out[channel][p] = added[c]!;
  }
  return out;
}

/** What is added to each side that needs it. */
function additions(sides: ReadonlyMap<number, Side>, mostCells: number): Map<number, readonly number[]> {
  const pieces = new Map<number, [number, Side][]>();
  for (const [k, side] of sides)
    if (side.inner >= LEAST_CELLS) pieces.set(side.piece, [...(pieces.get(side.piece) ?? []), [k, side]]);
  const mean = ({ shown, added, inner }: Side, c: number) => (shown[c]! + added[c]!) / inner;
  const out = new Map<number, readonly number[]>();
  for (const parts of pieces.values()) {
    const cells = parts.reduce((sum, [, side]) => sum + side.cells, 0);
    // What stays as it is leads; among equals, the larger.
    const lead = parts
      .map(([, side]) => side)
      .sort((a, b) => Number(b.isFixed) - Number(a.isFixed) || b.cells - a.cells)[0]!;
    for (const [k, side] of parts)
      if (side.isFixed)
        out.set(
          k,
          side.added.map((sum) => sum / side.inner),
        );
      else if (side !== lead && cells <= mostCells)
        out.set(
          k,
          [0, 1, 2].map((c) => mean(lead, c) - mean(side, c)),
        );
  }
  return out;
}

/** Whether a cell lies inside its piece, whichever copy it is from, and not at its edge. */
function innerOf(
  { widthPx: w, heightPx: h, closed }: Cells,
  pieceOf: Int32Array,
): (p: number, rim: number) => boolean {
  const same = (p: number, dx: number, dy: number) => {
    const [x, y] = [(p % w) + dx, Math.floor(p / w) + dy];
    if ((!closed.across && (x < 0 || x >= w)) || (!closed.up && (y < 0 || y >= h))) return false;
    return pieceOf[((y + h) % h) * w + ((x + w) % w)] === pieceOf[p];
  };
  return (p, rim) => same(p, rim, 0) && same(p, -rim, 0) && same(p, 0, rim) && same(p, 0, -rim);
}

/** The number of the connected region each cell belongs to: that of one of its cells. Over edges that meet as well. */
function connected(
  { widthPx: w, heightPx: h, closed }: Cells,
  isJoined: (p: number, q: number) => boolean,
): Int32Array {
  const root = Int32Array.from({ length: w * h }, (_, p) => p);
  const find = (p: number): number => {
    while (root[p] !== p) p = root[p] = root[root[p]!]!;
    return p;
  };
  const join = (p: number, q: number) => {
    if (!isJoined(p, q)) return;
    const [a, b] = [find(p), find(q)];
    if (a !== b) root[Math.max(a, b)] = Math.min(a, b);
  };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const p = y * w + x;
      if (x + 1 < w || closed.across) join(p, y * w + ((x + 1) % w));
      if (y + 1 < h || closed.up) join(p, ((y + 1) % h) * w + x);
    }
  return root.map((_, p) => find(p));
}
