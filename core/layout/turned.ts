import type { Steps } from '../steps';
import { turnedCell } from './bonds/boards';
import type { Sizes } from './bonds';
import type { Cell, LaidCells } from './cell';
import { movedBy, type Point } from './polygon';

/** Whole layouts turned as geometry, on a repeat whose sides stay level and upright. */

/** A bond laid on a repeat of about a size. */
type Lay = (repeatMm: { width: number; height: number }) => LaidCells | Steps<LaidCells>;

/** What is laid at once, or in steps, as steps. */
function* inSteps(laid: LaidCells | Steps<LaidCells>): Steps<LaidCells> {
  return 'cells' in laid ? laid : yield* laid;
}

export interface TurnedLayout extends LaidCells {
  /** What cells were stretched by so that they close: 1 where they close as they are. */
  stretched: { along: number; across: number };
}

const AS_LAID = { along: 1, across: 1 };

/**
 * Lays a bond and turns it.
 * @param wanted size of the repeat, as it is after turning
 * @param random whether chance has a part in it
 * @throws RangeError where it does not close at an angle
 */
export function* turningSteps(
  lay: Lay,
  turnedDeg: 0 | 45 | 90 | 135,
  wanted: { width: number; height: number },
  random: boolean,
): Steps<TurnedLayout> {
  if (turnedDeg === 0) return { ...(yield* inSteps(lay(wanted))), stretched: AS_LAID };
  if (turnedDeg === 90) {
    const laid = yield* inSteps(lay({ width: wanted.height, height: wanted.width }));
    return { ...upright(laid), stretched: AS_LAID };
  }
  return yield* diagonal(lay, turnedDeg, (wanted.width + wanted.height) / 2, random);
}

/** The whole layout turned by a quarter. */
function upright(laid: LaidCells): LaidCells {
  const { width, height } = laid.repeatMm;
  return {
    ...laid,
    repeatMm: { width: height, height: width },
    cells: laid.cells.map((c) => turnedBy(c, 90)),
  };
}

function turnedBy(cell: Cell, deg: number): Cell {
  const { lap } = cell;
  return {
    ...turnedCell(cell, deg),
    ...(lap ? { lap: { mm: lap.mm, directionDeg: (lap.directionDeg + deg) % 360 } } : {}),
  };
}

/** Sides of the square that are tried, as shares of the one that is wanted. */
const SIDES = [1, 0.93, 1.07, 0.86, 1.14, 0.79, 1.21, 0.7, 1.3, 0.6, 1.4, 1.7, 2, 2.5, 3];
/** A square within this share is not worth another try; where chance has a part, pieces are of all sizes anyway. */
const CLOSE_ENOUGH = { exact: 0.001, random: 0.012 };
/** Cells that are laid while looking for one, in all; each takes about a millisecond where stones are fitted. */
const MOST_TRIED_CELLS = 60_000;
/** Cells are stretched by at most this share so that a whole number of them makes a square. */
const MOST_STRETCH = 0.01;

/**
 * A layout turned by an eighth of a turn closes on level sides where it closes on a square: the repeat is then the square over its
 * diagonal, which holds the layout twice.
 * @param wantedMm side of the repeat
 */
function* diagonal(lay: Lay, turnedDeg: 45 | 135, wantedMm: number, random: boolean): Steps<TurnedLayout> {
  let best: { laid: LaidCells; off: number } | null = null;
  let tried = 0;
  for (const share of SIDES) {
    const side = (share * wantedMm) / Math.SQRT2;
    const laid = yield* inSteps(lay({ width: side, height: side }));
    const off = Math.abs(Math.log(laid.repeatMm.width / laid.repeatMm.height));
    if (!best || off < best.off - 1e-9) best = { laid, off };
    tried += laid.cells.length;
    if (best.off < (random ? CLOSE_ENOUGH.random : CLOSE_ENOUGH.exact) || tried > MOST_TRIED_CELLS) break;
  }
  const { laid, off } = best!;
  const { width, height } = laid.repeatMm;
  if (off / 2 > MOST_STRETCH)
    throw new RangeError(
      `Turned by ${turnedDeg}° this bond closes only on a square, and the nearest to one is ${printed(width)} × ${printed(height)} mm. Ask for a larger repeat, or change length or width of the pieces a little.`,
    );
  const side = Math.sqrt(width * height);
  const stretched = { along: side / width, across: side / height };
  const square = laid.cells.map((cell) => stretchedCell(cell, stretched));
  const turned = square.map((cell) => turnedBy(cell, turnedDeg));
  const half = side / Math.SQRT2;
  const again = turned.map((cell) => movedCell(cell, turnedDeg === 45 ? half : -half, half));
  return {
    repeatMm: { width: 2 * half, height: 2 * half },
    cells: [...turned, ...again],
    courses: laid.courses,
    stretched,
  };
}

const printed = (mm: number) => Math.round(mm * 10) / 10;

function stretchedCell(cell: Cell, { along, across }: TurnedLayout['stretched']): Cell {
  const { disc, outline, nominalMm, directionDeg } = cell;
  const lying = directionDeg % 180 === 0;
  const of = ([x, y]: Point): Point => [x * along, y * across];
  return {
    ...cell,
    outline: outline.map(of),
    nominalMm: {
      length: nominalMm.length * (lying ? along : across),
      width: nominalMm.width * (lying ? across : along),
    },
    ...(disc ? { disc: { ...disc, centre: of(disc.centre) } } : {}),
  };
}

function movedCell(cell: Cell, dx: number, dy: number): Cell {
  const { disc } = cell;
  return {
    ...cell,
    outline: movedBy(cell.outline, dx, dy),
    ...(disc ? { disc: { ...disc, centre: [disc.centre[0] + dx, disc.centre[1] + dy] as const } } : {}),
  };
}

/** Sizes of pieces whose cells were stretched; joints stay as wide as they were asked. */
export const stretchedSizes = (
  { lengthMm, widthMm, joint }: Sizes,
  { along, across }: TurnedLayout['stretched'],
): Sizes => ({
  lengthMm: (lengthMm + joint.acrossMm) * along - joint.acrossMm,
  widthMm: (widthMm + joint.alongMm) * across - joint.alongMm,
  joint,
});
