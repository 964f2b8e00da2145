import type { Piece, Pieces } from './segment';

/** Rectangular pieces of a sample: bricks, tiles, slabs. */

/** A place of a picture, px from its upper left corner. */
export type PlacePx = readonly [x: number, y: number];

/** A piece by its corners: upper left, upper right, lower right, lower left. Its sides need not be quite level. */
export type PieceCorners = readonly [PlacePx, PlacePx, PlacePx, PlacePx];

export interface RectangularPieces {
  /** Every piece that the sample shows whole, without its joints and the pixel at their edge; row after row. */
  corners: readonly PieceCorners[];
  /** Usual size of the largest pieces with their edge pixels. */
  sizePx: { width: number; height: number };
  /** Usual distance between neighbours in a course, and between courses, px. */
  jointPx: { across: number; up: number };
}

/** A piece is a rectangle when it covers this share of its box. */
const RECTANGULAR = 0.82;
/** Of pieces of any outline, so many are rectangles by chance. */
const LEAST_SHARE = 0.6;
/** The middle share of a side by which it is fitted: corners are worn. */
const SIDE_USED = 0.7;
/** Pieces at least this share of the longest in length are full ones; headers and cut pieces are not. */
const FULL = 0.85;
/** Neighbours overlap by this share on the other axis, or more: those of the next course do so in a bond. */
const BESIDE = 0.3;
/** Pixels at the edge of a piece that belong to a joint in part. */
const EDGE_PX = 1;

/**
 * The rectangles among segmented pieces.
 * @param pieces of a straightened picture whose edges do not meet
 * @returns null where most pieces are no rectangles
 */
export function rectangularPieces(pieces: Pieces): RectangularPieces | null {
  const whole = pieces.pieces.flatMap((piece, k) => (piece.cutOff ? [] : [{ piece, k }]));
  const found = whole
    .filter(isRectangle)
    .map(({ piece, k }) => cornersOf(pieces, piece, k))
    .filter((corners) => corners !== null);
  if (found.length < 2 || found.length < LEAST_SHARE * whole.length) return null;
  const sized = found.map((corners): Sized => ({ corners, ...boxOf(corners) }));
  const widthOf = ({ left, right }: Sized) => right - left;
  const least = FULL * quantile(sized.map(widthOf), 0.9);
  const full = sized.filter((one) => widthOf(one) >= least);
  const edges = 2 * EDGE_PX;
  const height = quantile(
    full.map(({ top, bottom }) => bottom - top),
    0.5,
  );
  const inRows = [...sized].sort(
    (a, b) => Math.round((a.top - b.top) / Math.max(1, height / 2)) || a.left - b.left,
  );
  return {
    corners: inRows.map((one) => one.corners),
    sizePx: { width: quantile(full.map(widthOf), 0.5) + edges, height: height + edges },
    jointPx: {
      across: Math.max(0, gap(sized, 'left', 'right', 'top', 'bottom') - edges),
      up: Math.max(0, gap(sized, 'top', 'bottom', 'left', 'right') - edges),
    },
  };
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
interface Sized extends Box {
  corners: PieceCorners;
}

const isRectangle = ({ piece }: { piece: Piece }) =>
  piece.areaPx >= RECTANGULAR * piece.widthPx * piece.heightPx;

const quantile = (values: readonly number[], q: number): number =>
  values.length === 0 ? 0 : [...values].sort((a, b) => a - b)[Math.floor(q * (values.length - 1))]!;

/** The level rectangle between the middles of the sides. */
function boxOf([[ax, ay], [bx, by], [cx, cy], [dx, dy]]: PieceCorners): Box {
  return { left: (ax + dx) / 2, right: (bx + cx) / 2, top: (ay + by) / 2, bottom: (cy + dy) / 2 };
}

/** A side: the other coordinate at a place along it is `at + slope · place`. */
interface Side {
  at: number;
  slope: number;
}

/** Corners where lines fitted to the four sides of a piece meet; null where the piece is too small for that. */
function cornersOf(
  { label, widthPx: w }: Pieces,
  { left, top, widthPx, heightPx }: Piece,
  k: number,
): PieceCorners | null {
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
      from!.push([line + 0.5, first + EDGE_PX]);
      to!.push([line + 0.5, last + 1 - EDGE_PX]);
    }
    return [fitted(from!), fitted(to!)] as const;
  };
  const [west, east] = ends(heightPx, widthPx, (row, x) => (top + row) * w + left + x);
  const [north, south] = ends(widthPx, heightPx, (column, y) => (top + y) * w + left + column);
  if (!west || !east || !north || !south) return null;
  const meet = (upright: Side, level: Side): PlacePx => {
    const y = (level.at + level.slope * upright.at) / (1 - level.slope * upright.slope);
    return [left + upright.at + upright.slope * y, top + y];
  };
  return [meet(west, north), meet(east, north), meet(east, south), meet(west, south)];
}

/** Places farther than this from a side's first line are chips or dirt, px; with many of them it is fitted to all. */
const OFF_PX = 1.5;
const LEAST_FITTED = 4;

/** A line through places, by least squares; once more without those that lie off it. */
function fitted(places: readonly PlacePx[]): Side | null {
  if (places.length < LEAST_FITTED) return null;
  const first = lineThrough(places);
  const offset = quantile(
    places.map(([x, y]) => y - first.at - first.slope * x),
    0.5,
  );
  const near = places.filter(([x, y]) => Math.abs(y - first.at - first.slope * x - offset) <= OFF_PX);
  return near.length >= LEAST_FITTED && near.length >= places.length / 2 ? lineThrough(near) : first;
}

function lineThrough(places: readonly PlacePx[]): Side {
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
function gap(boxes: readonly Box[], from: keyof Box, to: keyof Box, low: keyof Box, high: keyof Box): number {
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
