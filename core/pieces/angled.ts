import { squared } from '../exact';
import type { PieceCorners, PlacePx } from './rectangles';
import type { Piece, Pieces } from './pieces-between';
import { median } from './statistics';

/** Rectangular pieces that lie at an angle to the picture: herringbone laid diagonally, tiles on their corner. */

export interface AngledPieces {
  /** Corners without the pixel at the edge; the first two follow a long side. */
  corners: readonly PieceCorners[];
  /** Usual size, px. */
  lengthPx: number;
  widthPx: number;
  /** Directions of the long sides, degrees anticlockwise, −90 to 90: one, or two at right angles. */
  directionsDeg: readonly number[];
}

/** A piece is a rectangle when it covers this share of the box along it. */
const RECTANGULAR = 0.86;
/** Shorter pieces have no direction that could be told from chance. */
const LEAST_ASPECT = 1.5;
/** Of all whole pieces at least this share are such rectangles. */
const LEAST_SHARE = 0.7;
const LEAST_PIECES = 6;
/** Directions of pieces that lie alike differ by less, degrees. */
const ALIKE_DEG = 6;
/** At each end so many pixels of a piece are left out of its extent, as a share: corners are worn, outlines waver. */
const WORN = 0.02;
const EDGE_PX = 1;

/**
 * The rectangles among segmented pieces, at one angle or at two that are square to each other.
 * @param pieces of a straightened picture whose edges do not meet
 * @returns null where most pieces are no rectangles, or lie all ways
 */
export function angledPieces(pieces: Pieces): AngledPieces | null {
  const whole = pieces.pieces.flatMap((piece, label) => (piece.cutOff ? [] : [{ piece, label }]));
  const found = whole
    .map(({ piece, label }) => boxAlong(pieces, piece, label))
    .filter((box) => box !== null)
    .filter((box) => box.fill >= RECTANGULAR && box.length >= LEAST_ASPECT * box.width);
  if (found.length < LEAST_PIECES || found.length < LEAST_SHARE * whole.length) return null;
  const directionsDeg = directionsOf(found.map(({ deg }) => deg));
  if (!directionsDeg) return null;
  return {
    corners: found.map((box) => box.corners),
    lengthPx: median(found.map(({ length }) => length))!,
    widthPx: median(found.map(({ width }) => width))!,
    directionsDeg,
  };
}

/** The box of a piece along its longer principal axis. */
function boxAlong({ widthPx: w, label }: Pieces, { left, top, widthPx, heightPx }: Piece, own: number) {
  const places: PlacePx[] = [];
  for (let y = top; y < top + heightPx; y++)
    for (let x = left; x < left + widthPx; x++) if (label[y * w + x] === own) places.push([x + 0.5, y + 0.5]);
  const mean = (c: 0 | 1) => places.reduce((sum, p) => sum + p[c], 0) / places.length;
  const [mx, my] = [mean(0), mean(1)];
  let [xx, yy, xy] = [0, 0, 0];
  for (const [x, y] of places) {
    xx += squared(x - mx);
    yy += squared(y - my);
    xy += (x - mx) * (y - my);
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const extent = (value: (p: PlacePx) => number) => {
    const sorted = places.map(value).sort((a, b) => a - b);
    const worn = Math.floor(WORN * sorted.length);
    // What is left out at the ends of evenly spread places is so much of their extent.
    const [from, to] = [sorted[worn]!, sorted[sorted.length - 1 - worn]!];
    const beyond = ((to - from) * WORN) / (1 - 2 * WORN);
    return [from - beyond, to + beyond] as const;
  };
  const [from, to] = extent(([x, y]) => c * (x - mx) + s * (y - my));
  const [low, high] = extent(([x, y]) => c * (y - my) - s * (x - mx));
  const [length, width] = [to - from, high - low];
  if (Math.min(length, width) <= 2 * EDGE_PX) return null;
  const at = (along: number, across: number): PlacePx => [
    mx + c * along - s * across,
    my + s * along + c * across,
  ];
  const [f, t, l, h] = [from + EDGE_PX, to - EDGE_PX, low + EDGE_PX, high - EDGE_PX];
  const corners: PieceCorners = [at(f, l), at(t, l), at(t, h), at(f, h)];
  return { corners, length, width, fill: places.length / (length * width), deg: (-angle * 180) / Math.PI };
}

/** One direction or two at right angles that all pieces keep to; null: there are others. */
function directionsOf(degrees: readonly number[]): number[] | null {
  const apart = (a: number, b: number) => {
    const off = Math.abs(a - b) % 180;
    return Math.min(off, 180 - off);
  };
  const first = degrees[0]!;
  const alike = degrees.filter((deg) => apart(deg, first) < ALIKE_DEG);
  const square = degrees.filter((deg) => apart(deg, first + 90) < ALIKE_DEG);
  if (alike.length + square.length < 0.9 * degrees.length) return null;
  // About the first one, so that −89° and 89° are not averaged to level.
  const mean = (values: readonly number[]) => {
    const around = values.map((deg) => deg - values[0]! - 180 * Math.round((deg - values[0]!) / 180));
    return values[0]! + around.reduce((sum, v) => sum + v, 0) / values.length;
  };
  return [alike, square].filter((one) => one.length >= 0.15 * degrees.length).map(mean);
}
