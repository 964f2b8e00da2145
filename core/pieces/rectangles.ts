import type { PieceBox } from './boards';
import { bondOfPieces, type FoundBond } from './bond';
import type { Piece, Pieces } from './pieces-between';

/** Rectangular pieces of a sample: bricks, tiles, slabs. */

/** A place of a picture, px from its upper left corner. */
export type PlacePx = readonly [x: number, y: number];

/** A piece by its corners: upper left, upper right, lower right, lower left. Its sides need not be quite level. */
export type PieceCorners = readonly [PlacePx, PlacePx, PlacePx, PlacePx];

export interface RectangularPieces {
  /** Pieces that the sample shows whole, without their joints and the pixel at their edge; row after row. */
  corners: readonly PieceCorners[];
  /** Usual size of the largest pieces. */
  sizePx: { width: number; height: number };
  /** Usual distance between neighbours in a course, and between courses, px. */
  jointPx: { across: number; up: number };
  /** The bond they are laid in, along their length; null: too few lie one above another. */
  bond: FoundBond | null;
}

/** A piece is a rectangle when it covers this share of its box. */
const RECTANGULAR = 0.82;
/** Of pieces of any outline, so many are rectangles by chance. */
const LEAST_SHARE = 0.6;
/** The middle share of a side by which it is fitted: corners are worn. */
const SIDE_USED = 0.7;
/** Pieces at least this share of the longest in length are full ones; headers and cut pieces are not. */
const FULL = 0.85;
/** Where there are enough, only pieces about as large as usual are picked: what is smaller would have to be continued. */
const AS_LARGE = 0.96;
const ENOUGH = 8;
/** Neighbours overlap by this share on the other axis, or more: those of the next course do so in a bond. */
const BESIDE = 0.3;
/** Pixels at the edge of a piece that belong to a joint in part: corners lie within them. */
const EDGE_PX = 1;

/**
 * The rectangles among segmented pieces.
 * @param pieces of a straightened picture whose edges do not meet
 * @returns null where most pieces are no rectangles
 */
export function rectangularPieces(pieces: Pieces): RectangularPieces | null {
  const seen = pieces.pieces.flatMap((piece, k) => (piece.cutOff ? [] : [{ piece, k }]));
  const sized = seen
    .filter(isRectangle)
    .map(({ piece, k }) => sidesOf(pieces, piece, k))
    .filter((sides) => sides !== null);
  if (sized.length < 2 || sized.length < LEAST_SHARE * seen.length) return null;
  const widthOf = ({ left, right }: Sized) => right - left;
  const heightOf = ({ top, bottom }: Sized) => bottom - top;
  const least = FULL * quantile(sized.map(widthOf), 0.9);
  const full = sized.filter((one) => widthOf(one) >= least);
  const [width, height] = [quantile(full.map(widthOf), 0.5), quantile(full.map(heightOf), 0.5)];
  const whole = full.filter((one) => widthOf(one) >= AS_LARGE * width && heightOf(one) >= AS_LARGE * height);
  const inRows = [...(whole.length >= ENOUGH ? whole : sized)].sort(
    (a, b) => Math.round((a.top - b.top) / Math.max(1, height / 2)) || a.left - b.left,
  );
  const jointPx = {
    across: gap(sized, 'left', 'right', 'top', 'bottom'),
    up: gap(sized, 'top', 'bottom', 'left', 'right'),
  };
  return {
    corners: inRows.map((one) => one.corners),
    sizePx: { width, height },
    jointPx,
    bond:
      width >= height
        ? bondOfPieces(sized, width, jointPx)
        : bondOfPieces(sized.map(onItsSide), height, { across: jointPx.up, up: jointPx.across }),
  };
}

/** Pieces that stand, as if they lay. */
const onItsSide = ({ left, top, right, bottom }: PieceBox): PieceBox => ({
  left: top,
  top: left,
  right: bottom,
  bottom: right,
});

interface Sized extends PieceBox {
  /** Within its sides by as much as they waver. */
  corners: PieceCorners;
}

const isRectangle = ({ piece }: { piece: Piece }) =>
  piece.areaPx >= RECTANGULAR * piece.widthPx * piece.heightPx;

const quantile = (values: readonly number[], q: number): number =>
  values.length === 0 ? 0 : [...values].sort((a, b) => a - b)[Math.floor(q * (values.length - 1))]!;

/** The level rectangle between the middles of the sides. */
function boxOf([[ax, ay], [bx, by], [cx, cy], [dx, dy]]: PieceCorners): PieceBox {
  return { left: (ax + dx) / 2, right: (bx + cx) / 2, top: (ay + by) / 2, bottom: (cy + dy) / 2 };
}

/** A side: the other coordinate at a place along it is `at + slope · place`. */
interface Side {
  at: number;
  slope: number;
  /** How far it wavers inwards, px. */
  wavers: number;
}

/** Lines fitted to the four sides of a piece, and the corners within them; null where the piece is too small for that. */
function sidesOf(
  { label, widthPx: w }: Pieces,
  { left, top, widthPx, heightPx }: Piece,
  k: number,
): Sized | null {
  const ends = (count: number, length: number, at: (line: number, along: number) => number) => {
    const [from, to]: PlacePx[][] = [[], []];
    const skip = Math.floor(((1 - SIDE_USED) / 2) * count);
    for (let line = skip; line < count - skip; line++) {
      let [first, last] = [-1, -1];
      for (let along = 0; along < length; along++)
        if (label[at(line, along)] === k) {
          if (first < 0) first = along;
          last = along;
        }
      if (first < 0) continue;
      from!.push([line + 0.5, first]);
      to!.push([line + 0.5, last + 1]);
    }
    return [fitted(from!, 1), fitted(to!, -1)] as const;
  };
  const [west, east] = ends(heightPx, widthPx, (row, x) => (top + row) * w + left + x);
  const [north, south] = ends(widthPx, heightPx, (column, y) => (top + y) * w + left + column);
  if (!west || !east || !north || !south) return null;
  const quad = (inwards: (side: Side, sign: 1 | -1) => number): PieceCorners => {
    const moved = (side: Side, sign: 1 | -1): Side => ({ ...side, at: side.at + sign * inwards(side, sign) });
    const [w1, e1, n1, s1] = [moved(west, 1), moved(east, -1), moved(north, 1), moved(south, -1)];
    const meet = (upright: Side, level: Side): PlacePx => {
      const y = (level.at + level.slope * upright.at) / (1 - level.slope * upright.slope);
      return [left + upright.at + upright.slope * y, top + y];
    };
    return [meet(w1, n1), meet(e1, n1), meet(e1, s1), meet(w1, s1)];
  };
  return { ...boxOf(quad(() => 0)), corners: quad(({ wavers }) => EDGE_PX + wavers) };
}

/** Of a side that wavers, this share lies outside of the corners. */
const OUTSIDE = 0.9;

/** Places farther than this from a side's first line are chips or dirt, px; with many of them it is fitted to all. */
const OFF_PX = 1.5;
const LEAST_FITTED = 4;

/**
 * A line through places, by least squares; once more without those that lie off it.
 * @param sign which way is inwards
 */
function fitted(places: readonly PlacePx[], sign: 1 | -1): Side | null {
  if (places.length < LEAST_FITTED) return null;
  const line = steadyLine(places);
  const inwards = places.map(([x, y]) => sign * (y - line.at - line.slope * x));
  return { ...line, wavers: Math.max(0, quantile(inwards, OUTSIDE)) };
}

function steadyLine(places: readonly PlacePx[]): Pick<Side, 'at' | 'slope'> {
  const first = lineThrough(places);
  const offset = quantile(
    places.map(([x, y]) => y - first.at - first.slope * x),
    0.5,
  );
  const near = places.filter(([x, y]) => Math.abs(y - first.at - first.slope * x - offset) <= OFF_PX);
  return near.length >= LEAST_FITTED && near.length >= places.length / 2 ? lineThrough(near) : first;
}

function lineThrough(places: readonly PlacePx[]): Pick<Side, 'at' | 'slope'> {
  const n = places.length;
  const mean = (c: 0 | 1) => places.reduce((sum, p) => sum + p[c], 0) / n;
  const [mx, my] = [mean(0), mean(1)];
  let [xx, xy] = [0, 0];
  for (const [x, y] of places) {
    xx += (x - mx) * (x - mx);
    xy += (x - mx) * (y - my);
  }
  const slope = xx > 0 ? xy / xx : 0;
  return { at: my - slope * mx, slope };
}

/** Usual distance between a piece and the next one beside it. */
function gap(
  boxes: readonly PieceBox[],
  from: keyof PieceBox,
  to: keyof PieceBox,
  low: keyof PieceBox,
  high: keyof PieceBox,
): number {
  const gaps: number[] = [];
  for (const box of boxes) {
    let nearest = Infinity;
    for (const other of boxes) {
      const apart = other[from] - box[to];
      const shared = Math.min(box[high], other[high]) - Math.max(box[low], other[low]);
      const shorter = Math.min(box[high] - box[low], other[high] - other[low]);
      if (apart > -2 && shared >= BESIDE * shorter) nearest = Math.min(nearest, Math.max(0, apart));
    }
    if (nearest < box[to] - box[from]) gaps.push(nearest);
  }
  return quantile(gaps, 0.5);
}
