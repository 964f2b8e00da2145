import type { LaidPiece, LayoutGeometry } from './lay';
import { areaOf, boxOf, cutOff, turnedBy, type Outline } from './polygon';

/** What a layout needs on a field of a given size: whole pieces, and those cut at its edges. */

export const SETTING_OUT_POINTS = ['corner', 'middle'] as const;
/** Where laying begins. corner: the repeat begins in the lower left corner; middle: its middle lies on the middle of the field. */
export type SettingOutPoint = (typeof SETTING_OUT_POINTS)[number];

export interface FieldTakeOff {
  whole: number;
  cut: number;
  /** The least that is left of the length or width of a piece that is cut, mm; null: none is cut so. */
  narrowestCutMm: number | null;
  /** What is cut off at the edges, as a share of all that is bought, 0–1; pieces are bought whole. */
  cutOff: number;
}

/** Beyond this many pieces a field is counted by its repeat. */
const MOST_PIECES = 500_000;
/** A piece that reaches over an edge by less is whole, and one that reaches in by less is not laid, mm. */
const SEEN_MM = 0.5;

/**
 * Counts the pieces of a field.
 * @throws RangeError with a sentence where the field is no area, or holds too many pieces to be counted
 */
export function takeOffOfField(
  { pieces, repeatMm }: Pick<LayoutGeometry, 'pieces' | 'repeatMm'>,
  fieldMm: { width: number; height: number },
  settingOutPoint: SettingOutPoint,
): FieldTakeOff {
  const { width, height } = fieldMm;
  if (!(width > 0 && height > 0)) throw new RangeError('A field is wider and higher than 0 mm.');
  const about = (pieces.length * width * height) / (repeatMm.width * repeatMm.height);
  if (about > MOST_PIECES)
    throw new RangeError(
      `A field of ${Math.round(width)} × ${Math.round(height)} mm holds about ${Math.round(about)} pieces; at most ${MOST_PIECES} are counted.`,
    );
  const begin =
    settingOutPoint === 'corner'
      ? { x: 0, y: 0 }
      : { x: (width - repeatMm.width) / 2, y: (height - repeatMm.height) / 2 };
  const counted = { whole: 0, cut: 0, narrowest: Infinity, boughtMm2: 0, laidMm2: 0 };
  for (const piece of pieces) countPiece(counted, piece, repeatMm, begin, fieldMm);
  const { whole, cut, narrowest, boughtMm2, laidMm2 } = counted;
  return {
    whole,
    cut,
    narrowestCutMm: narrowest < Infinity ? narrowest : null,
    cutOff: boughtMm2 > 0 ? 1 - laidMm2 / boughtMm2 : 0,
  };
}

interface Counted {
  whole: number;
  cut: number;
  narrowest: number;
  boughtMm2: number;
  laidMm2: number;
}

/** Every copy of a piece that reaches into the field. */
function countPiece(
  counted: Counted,
  { outline, areaMm2, directionDeg }: LaidPiece,
  repeatMm: { width: number; height: number },
  begin: { x: number; y: number },
  { width, height }: { width: number; height: number },
): void {
  const box = boxOf(outline);
  const range = (low: number, high: number, start: number, step: number, end: number) => [
    Math.ceil((SEEN_MM - high - start) / step),
    Math.floor((end - SEEN_MM - low - start) / step),
  ];
  const [left, right] = range(box.left, box.right, begin.x, repeatMm.width, width) as [number, number];
  const [bottom, top] = range(box.bottom, box.top, begin.y, repeatMm.height, height) as [number, number];
  for (let i = left; i <= right; i++)
    for (let j = bottom; j <= top; j++) {
      const [dx, dy] = [begin.x + i * repeatMm.width, begin.y + j * repeatMm.height];
      const over = Math.max(-box.left - dx, box.right + dx - width, -box.bottom - dy, box.top + dy - height);
      if (over <= SEEN_MM) {
        counted.whole++;
        counted.boughtMm2 += areaMm2;
        counted.laidMm2 += areaMm2;
        continue;
      }
      const part = cutToField(outline, dx, dy, width, height);
      if (!part) continue;
      const left = shortenedSide(outline, part, directionDeg);
      if (left <= SEEN_MM) continue;
      counted.cut++;
      counted.narrowest = Math.min(counted.narrowest, left);
      counted.boughtMm2 += areaMm2;
      counted.laidMm2 += areaOf(part);
    }
}

function cutToField(outline: Outline, dx: number, dy: number, width: number, height: number) {
  let part: Outline = outline;
  for (const [at, normal] of [
    [
      [-dx, 0],
      [-1, 0],
    ],
    [
      [width - dx, 0],
      [1, 0],
    ],
    [
      [0, -dy],
      [0, -1],
    ],
    [
      [0, height - dy],
      [0, 1],
    ],
  ] as const)
    part = cutOff(part, at, normal);
  return part.length > 2 && areaOf(part) > 0 ? part : null;
}

/** What is left of the length or the width of a piece that was cut, whichever is less, mm; Infinity: only a corner is off. */
function shortenedSide(whole: Outline, part: Outline, directionDeg: number): number {
  const sides = (outline: Outline) => {
    const box = boxOf(turnedBy(outline, -directionDeg));
    return [box.right - box.left, box.top - box.bottom] as const;
  };
  const [before, after] = [sides(whole), sides(part)];
  return Math.min(...after.filter((mm, k) => mm < before[k]! - SEEN_MM), Infinity);
}
