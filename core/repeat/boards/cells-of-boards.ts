import type { Cells, Placement } from '../placement';
import { type BoardsTask, type LaidBoard, type LaidCourse } from './lay-boards';

/** Boards as they lie in a repeat, as the cells that pictures are laid by. */

/** Boards of a repeat as they are laid. */
export interface LaidFloor {
  kind: 'boards';
  task: BoardsTask;
  /** From the top, or from the left where they run up. */
  courses: readonly LaidCourse[];
  /** Cells across a course. */
  rows: number;
  along: 'across' | 'up';
}

/** A stretch of a course, along it, and where in the picture it comes from. */
interface Shown {
  at: number;
  cells: number;
  /** Place in the picture of the first cell's beginning, and the middle of its course, mm. */
  fromMm: number;
  middleMm: number;
  lying: LaidBoard['lying'];
}

/** A copy index is of 16 bits. */
const MOST_COPIES = 65536;

/** @throws RangeError when there are more boards than a map can name */
export function cellsOfBoards({ task, courses, rows, along }: LaidFloor): Cells {
  const lies = along === 'across';
  const height = rows * courses.length;
  const copy = new Uint16Array(task.cells * height);
  const placements: Placement[] = [];
  const boardOf: number[] = [];
  let boards = 0;
  courses.forEach((course, k) => {
    for (const board of course) {
      for (const part of shownOf(task, board).flatMap((shown) => partsWithin(task.cells, shown))) {
        if (placements.length === MOST_COPIES)
          throw new RangeError('The repeat has more boards than can be kept. Make it smaller.');
        const number = placements.push(placementOf(task, part, k, lies)) - 1;
        boardOf.push(boards);
        for (let y = k * rows; y < (k + 1) * rows; y++)
          for (let x = part.at; x < part.at + part.cells; x++)
            copy[lies ? y * task.cells + x : x * height + y] = number;
      }
      boards++;
    }
  });
  const [widthPx, heightPx] = lies ? [task.cells, height] : [height, task.cells];
  return {
    widthPx,
    heightPx,
    copy,
    placements,
    closed: { across: true, up: true },
    parted: { rows: new Uint8Array(heightPx), columns: new Uint8Array(widthPx) },
    sharp: 'by-area',
    boardOf,
  };
}

/** A board with its own joint, or a board and then the joint that is put after it. */
function shownOf({ boards, joints, cellMm }: BoardsTask, laid: LaidBoard): Shown[] {
  const { lying, at, cells, jointCells } = laid;
  const board = boards[laid.board]!;
  const { middleMm } = board;
  const isTurned = lying.along < 0;
  const first = isTurned ? laid.toMm : laid.fromMm;
  const shown = { at, cells: cells - jointCells, fromMm: first, middleMm, lying };
  if (laid.joint === 'own') return [shown];
  const joint = joints[laid.joint]!;
  // Cells are a little wider than the joint: it lies in their middle.
  const over = (jointCells * cellMm - (joint.toMm - joint.fromMm)) / 2;
  const fromMm = isTurned ? joint.toMm + over : joint.fromMm - over;
  return [shown, { at: at + cells - jointCells, cells: jointCells, fromMm, middleMm: joint.middleMm, lying }];
}

/** What goes on over the end of the course comes in at its beginning. */
function partsWithin(cells: number, shown: Shown): (Shown & { startCell: number })[] {
  const at = shown.at % cells;
  const here = Math.min(shown.cells, cells - at);
  const parts = [{ ...shown, at, cells: here, startCell: at }];
  if (here < shown.cells) parts.push({ ...shown, at: 0, cells: shown.cells - here, startCell: at - cells });
  return parts;
}

function placementOf(
  { cellMm, pitchMm }: BoardsTask,
  { startCell, fromMm, middleMm, lying }: Shown & { startCell: number },
  k: number,
  lies: boolean,
): Placement {
  const alongMm = fromMm - lying.along * startCell * cellMm;
  const acrossMm = middleMm - lying.across * (k + 0.5) * pitchMm;
  return {
    sourceIndex: 0,
    signX: lies ? lying.along : lying.across,
    signY: lies ? lying.across : lying.along,
    offsetXMm: lies ? alongMm : acrossMm,
    offsetYMm: lies ? acrossMm : alongMm,
  };
}
