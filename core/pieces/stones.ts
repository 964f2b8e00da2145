import { squared } from '../exact';
import type { PieceCorners } from './rectangles';
import type { Piece, Pieces } from './pieces-between';
import { median } from './statistics';

/** Pieces of any outline: rubble, cobbles, crazy paving. */

export interface IrregularPieces {
  /** The largest level rectangle within each whole piece, by its corners; in the order of the pieces. */
  corners: readonly PieceCorners[];
  /** Mean size of a piece and the joint around it, px: their product is what one piece takes of the surface. */
  cellPx: { width: number; height: number };
  /** Mean width of the joints, px. */
  jointPx: number;
  /** Standard deviation of the areas as a share of their mean. */
  areasVary: number;
}

/** Fewer whole pieces say too little. */
const LEAST_PIECES = 6;
/** Pieces with less than this share of the median area are fragments. */
const FRAGMENT = 0.2;
/** Pixels at the edge of a piece that belong to a joint in part. */
const EDGE_PX = 1;
/** Steps along pixel edges are longer than the outline they follow, on average over all directions by 4/π. */
const STEPS_OVER_LENGTH = 4 / Math.PI;

/**
 * The pieces of a picture that are parted by joints but are no rectangles.
 * @param pieces of a straightened picture whose edges do not meet
 * @param widened 1 where a joint widens into what was segmented as a piece
 * @returns null where too few are whole
 */
export function irregularPieces(segmented: Pieces, widened?: Uint8Array): IrregularPieces | null {
  const pieces = widened ? withoutJoints(segmented, widened) : segmented;
  const whole = pieces.pieces.flatMap((piece, label) => (piece.cutOff ? [] : [{ piece, label }]));
  const usual = median(whole.map(({ piece }) => piece.areaPx)) ?? 0;
  const stones = whole.filter(({ piece }) => piece.areaPx >= FRAGMENT * usual);
  if (stones.length < LEAST_PIECES) return null;
  const steps = outlineSteps(pieces);
  const areas = stones.map(({ piece }) => piece.areaPx);
  const mean = areas.reduce((sum, v) => sum + v, 0) / areas.length;
  const jointShare = steps.jointPx / pieces.label.length;
  const aspect = median(stones.map(({ piece }) => piece.widthPx / piece.heightPx))!;
  const cell = mean / (1 - jointShare);
  return {
    corners: stones
      .map(({ piece, label }) => largestRectangle(pieces, piece, label))
      .filter((corners) => corners !== null),
    cellPx: { width: Math.sqrt(cell * aspect), height: Math.sqrt(cell / aspect) },
    // A joint lies between two outlines.
    jointPx: (2 * steps.jointPx * STEPS_OVER_LENGTH) / Math.max(1, steps.all),
    areasVary: Math.sqrt(areas.reduce((sum, v) => sum + squared(v - mean), 0) / areas.length) / mean,
  };
}

function withoutJoints(segmented: Pieces, widened: Uint8Array): Pieces {
  const label = segmented.label.map((piece, i) => (widened[i] ? -1 : piece));
  const areas = new Float64Array(segmented.pieces.length);
  for (const piece of label) if (piece >= 0) areas[piece]!++;
  return {
    ...segmented,
    label,
    pieces: segmented.pieces.map((piece, k) => ({ ...piece, areaPx: areas[k]! })),
  };
}

/** Pixel edges between pieces and joints, and the pixels of the joints. */
function outlineSteps({ widthPx: w, heightPx: h, label }: Pieces) {
  let [all, jointPx] = [0, 0];
  const step = (a: number, b: number) => {
    if (a === b) return;
    all += (a >= 0 ? 1 : 0) + (b >= 0 ? 1 : 0);
  };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const own = label[y * w + x]!;
      if (own < 0) jointPx++;
      if (x + 1 < w) step(own, label[y * w + x + 1]!);
      if (y + 1 < h) step(own, label[(y + 1) * w + x]!);
    }
  return { all, jointPx };
}

/**
 * The largest level rectangle within a piece, without the pixels at its edge: the largest under a histogram of the heights above
 * each row, by a stack.
 */
function largestRectangle(
  { widthPx: w, label }: Pieces,
  { left, top, widthPx, heightPx }: Piece,
  own: number,
): PieceCorners | null {
  const heights = new Int32Array(widthPx + 1);
  let best = { area: 0, left: 0, right: 0, top: 0, bottom: 0 };
  for (let row = 0; row < heightPx; row++) {
    for (let x = 0; x < widthPx; x++)
      heights[x] = label[(top + row) * w + left + x] === own ? heights[x]! + 1 : 0;
    const open: { from: number; height: number }[] = [];
    for (let x = 0; x <= widthPx; x++) {
      let from = x;
      while (open.length > 0 && open.at(-1)!.height >= heights[x]!) {
        const { from: start, height } = open.pop()!;
        const area = height * (x - start);
        if (area > best.area)
          best = {
            area,
            left: left + start,
            right: left + x,
            top: top + row + 1 - height,
            bottom: top + row + 1,
          };
        from = start;
      }
      open.push({ from, height: heights[x]! });
    }
  }
  const [l, r, t, b] = [best.left + EDGE_PX, best.right - EDGE_PX, best.top + EDGE_PX, best.bottom - EDGE_PX];
  return r - l < 2 || b - t < 2
    ? null
    : [
        [l, t],
        [r, t],
        [r, b],
        [l, b],
      ];
}
