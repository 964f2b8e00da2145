import type { Point } from './homography';
import type { Triple } from '../colour';

/**
 * Jossel's own target card: white, 120 × 80 mm, with a ring mark in each corner and a field of patches between them.
 * Places are in mm from its top left corner. The mark at the top left has a larger dot, so the card knows its way up.
 */
export const CARD_MM = { width: 120, height: 80 } as const;

/** Centres of the ring marks: top left, top right, bottom right, bottom left. */
export const CARD_MARKS_MM: readonly Point[] = [
  [9, 9],
  [111, 9],
  [111, 71],
  [9, 71],
];

/** A black disc, in it a white disc, in it a black dot; radii in mm. */
export const MARK_MM = { black: 5.6, white: 3.7, dot: 1.5, firstDot: 2.5 } as const;

export interface CardPatch {
  name: string;
  /** CIELAB under D65, 2°. */
  lab: Triple;
  leftMm: number;
  topMm: number;
  widthMm: number;
  heightMm: number;
}

export const CARD_WHITE: Triple = [95, 0, 1];
export const CARD_BLACK: Triple = [18, 0, 0];

const GREYS: readonly number[] = [92, 80, 68, 56, 44, 32, 22];
/** Three rows: warm finishes, cool finishes, strong colours. */
const COLOURS: readonly (readonly Triple[])[] = [
  [
    [78, 4, 18],
    [66, 10, 26],
    [55, 16, 30],
    [44, 20, 30],
    [34, 14, 20],
    [60, 28, 34],
    [38, 34, 24],
  ],
  [
    [82, -4, 6],
    [70, -10, 4],
    [58, -16, 10],
    [46, -18, 4],
    [60, -8, -16],
    [46, -4, -24],
    [34, 4, -28],
  ],
  [
    [48, 54, 34],
    [66, 22, 58],
    [80, 0, 68],
    [56, -42, 32],
    [52, -30, -18],
    [36, 16, -44],
    [48, 48, -12],
  ],
];
const patch = (name: string, lab: Triple, column: number, row: number): CardPatch => ({
  name,
  lab,
  leftMm: 18 + column * 12.2,
  topMm: 5 + row * 18,
  widthMm: 10.8,
  heightMm: 16,
});

/** All patches: a row of greys and three rows of colours. */
export const CARD_PATCHES: readonly CardPatch[] = [
  ...GREYS.map((l, i) => patch(`Grey ${i + 1}`, [l, 0, 0], i, 0)),
  ...COLOURS.flatMap((row, r) => row.map((lab, i) => patch(`${'ABC'[r]}${i + 1}`, lab, i, r + 1))),
];

/** What is printed at a place of the card; null beside it. */
export function cardAt(xMm: number, yMm: number): Triple | null {
  if (xMm < 0 || yMm < 0 || xMm > CARD_MM.width || yMm > CARD_MM.height) return null;
  for (let i = 0; i < 4; i++) {
    const r = Math.hypot(xMm - CARD_MARKS_MM[i]![0], yMm - CARD_MARKS_MM[i]![1]);
    if (r > MARK_MM.black) continue;
    const dark = r > MARK_MM.white || r < (i === 0 ? MARK_MM.firstDot : MARK_MM.dot);
    return dark ? CARD_BLACK : CARD_WHITE;
  }
  for (const p of CARD_PATCHES)
    if (xMm >= p.leftMm && xMm < p.leftMm + p.widthMm && yMm >= p.topMm && yMm < p.topMm + p.heightMm)
      return p.lab;
  return CARD_WHITE;
}
