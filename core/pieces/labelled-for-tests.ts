import type { Pieces } from './pieces-between';

/**
 * Pieces as somebody would have labelled them.
 * @param at number of the piece at a place, px; below 0: a joint
 */
export function labelledPieces(
  widthPx: number,
  heightPx: number,
  at: (x: number, y: number) => number,
): Pieces {
  const numbers = new Map<number, number>();
  const label = Int32Array.from({ length: widthPx * heightPx }, (_, i) => {
    const piece = at((i % widthPx) + 0.5, Math.floor(i / widthPx) + 0.5);
    if (piece < 0) return -1;
    if (!numbers.has(piece)) numbers.set(piece, numbers.size);
    return numbers.get(piece)!;
  });
  const boxes = Array.from({ length: numbers.size }, () => ({
    left: widthPx,
    right: 0,
    top: heightPx,
    bottom: 0,
    areaPx: 0,
  }));
  label.forEach((k, i) => {
    if (k < 0) return;
    const [x, y, box] = [i % widthPx, Math.floor(i / widthPx), boxes[k]!];
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x);
    box.top = Math.min(box.top, y);
    box.bottom = Math.max(box.bottom, y);
    box.areaPx++;
  });
  const pieces = boxes.map(({ left, right, top, bottom, areaPx }) => ({
    areaPx,
    widthPx: right - left + 1,
    heightPx: bottom - top + 1,
    left,
    top,
    cutOff: left === 0 || top === 0 || right === widthPx - 1 || bottom === heightPx - 1,
  }));
  return { widthPx, heightPx, label, pieces };
}
