import { distanceSteps } from '../raster';
import { atOnce, type Steps } from '../steps';
import { basins } from './basins';
import { Neighbours } from './neighbours';

/**
 * Pieces between joints whose places are known. They are the basins of the distance to the joints, flooded from their middles
 * (watershed, Meyer 1994); basins over a low saddle are one piece, so that a gap in a joint fuses what it parts only when it is
 * nearly as wide as they are.
 */

/** A piece. Lengths are in pixels; places may lie beyond the edges of a picture that wraps. */
export interface Piece {
  areaPx: number;
  /** Its extent along both axes. */
  widthPx: number;
  heightPx: number;
  /** Left and upper end. */
  left: number;
  top: number;
  /** It touches an edge that does not wrap, so that the rest of it is not seen. */
  cutOff: boolean;
}

export interface Pieces {
  widthPx: number;
  heightPx: number;
  /** Number of the piece of every pixel; −1 in joints. */
  label: Int32Array;
  pieces: readonly Piece[];
}

/** Smaller than this share of the median of pieces is dirt in a joint. */
const LEAST_PIECE = 0.02;

/** Pixels are square: distances count alike along both axes. */
export const SQUARE = { x: 1, y: 1 };

/** Pieces that joints part: a gap in a joint fuses two only where it is nearly as wide as they are. @param joints 1 in joints, else 0 */
export const piecesBetween = (joints: Uint8Array, w: number, h: number, wraps: boolean): Pieces =>
  atOnce(partingBetween(joints, w, h, wraps));

/** The same in steps. */
export function* partingBetween(joints: Uint8Array, w: number, h: number, wraps: boolean): Steps<Pieces> {
  const far = (yield* distanceSteps(joints, w, h, SQUARE, wraps)).data;
  yield;
  // Where there are no joints at all, everything is one piece.
  for (let i = 0; i < far.length; i++) far[i] = Math.min(far[i]!, w + h);
  const label = basins(far, new Neighbours(w, h, wraps));
  yield;
  return measured(label, w, h, wraps);
}

/** Numbers basins from 0, in the order in which they begin in the picture. @returns the number of each basin; −1: it is a speck */
function numbered(label: Int32Array): { numbers: Int32Array; count: number } {
  let last = -1;
  for (const k of label) last = Math.max(last, k);
  const areas = new Int32Array(last + 1);
  const begun: number[] = [];
  for (const k of label) if (k >= 0 && areas[k]!++ === 0) begun.push(k);
  const sizes = begun.map((k) => areas[k]!).sort((a, b) => a - b);
  const least = Math.max(4, LEAST_PIECE * (sizes[Math.floor(0.7 * sizes.length)] ?? 0));
  const numbers = new Int32Array(areas.length).fill(-1);
  let count = 0;
  for (const k of begun) if (areas[k]! >= least) numbers[k] = count++;
  return { numbers, count };
}

/** Numbers pieces from 0 and measures them; specks go to the joints. */
function measured(label: Int32Array, w: number, h: number, wraps: boolean): Pieces {
  const { numbers, count } = numbered(label);
  // Columns and rows in which a piece has pixels.
  const [columns, rows] = [new Uint8Array(count * w), new Uint8Array(count * h)];
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const k = label[i]! < 0 ? -1 : numbers[label[i]!]!;
      label[i] = k;
      if (k < 0) continue;
      columns[k * w + x] = 1;
      rows[k * h + y] = 1;
    }
  const pieces = Array.from({ length: count }, (_, k): Piece => {
    const [x, y] = [
      stretchOf(columns.subarray(k * w, (k + 1) * w)),
      stretchOf(rows.subarray(k * h, (k + 1) * h)),
    ];
    const ends = !wraps && (x.from === 0 || y.from === 0 || x.to === w - 1 || y.to === h - 1);
    return {
      areaPx: 0,
      widthPx: x.to - x.from + 1,
      heightPx: y.to - y.from + 1,
      left: x.from,
      top: y.from,
      cutOff: ends,
    };
  });
  for (const k of label) if (k >= 0) pieces[k]!.areaPx++;
  return { widthPx: w, heightPx: h, label, pieces };
}

/** The shortest stretch of a circle of places that holds all that are 1: it begins behind the longest gap. */
function stretchOf(places: Uint8Array): { from: number; to: number } {
  const n = places.length;
  const first = places.indexOf(1);
  const last = places.lastIndexOf(1);
  let [gap, from] = [first + n - last, first];
  for (let k = first + 1, before = first; k <= last; k++) {
    if (!places[k]) continue;
    if (k - before > gap) [gap, from] = [k - before, k];
    before = k;
  }
  return { from, to: from + n - gap };
}
