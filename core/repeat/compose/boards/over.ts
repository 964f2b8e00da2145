import type { Cells, Placement } from '../../placement';
import type { Atlas } from '../atlas';
import type { Torus } from '../torus';
import type { CoursesOfSample } from './ends';
import type { Board, Boards } from './lay';

/** Boards laid in the courses of a repeat. */
export interface LaidBoards {
  boards: Boards;
  courses: CoursesOfSample;
  /** Where each course of the sample begins. */
  beginsMm: ReadonlyMap<number, number>;
  /** Cells of the repeat, and its size. */
  widthPx: number;
  heightPx: number;
  repeatMm: { width: number; height: number };
  closed: { across: boolean; up: boolean };
  /** Cell of the laid boards at which the repeat begins. */
  begins: { x: number; y: number };
}

/** How many courses a repeat has, the last one perhaps in part; the first begins where the repeat begins. */
export const coursesOver = ({ pitchMm }: CoursesOfSample, lengthMm: number): number =>
  Math.max(1, Math.ceil(lengthMm / pitchMm - 1e-3));

/** Which course a cell of the other axis lies in, and how far from where that begins to where the cell begins. */
function courseAt(
  { courses: { along, pitchMm }, widthPx, heightPx, repeatMm, begins }: LaidBoards,
  cell: number,
): { course: number; intoMm: number } {
  const [n, mm, begun] =
    along === 'across'
      ? [heightPx, repeatMm.height / heightPx, begins.y]
      : [widthPx, repeatMm.width / widthPx, begins.x];
  const atMm = ((cell + begun) % n) * mm;
  const course = Math.floor((atMm + mm / 2) / pitchMm);
  return { course, intoMm: atMm - course * pitchMm };
}

interface At {
  board: Board;
  /** Where in the sample a cell begins, along the course and across it. */
  alongMm: number;
  crossMm: number;
}

/** What lies at each cell of the repeat. */
function eachCell(laid: LaidBoards, visit: (x: number, y: number, at: At) => void): void {
  const { boards, courses, beginsMm, widthPx: W, heightPx: H, repeatMm, begins } = laid;
  const run = courses.along === 'across';
  const [cells, crossCells] = run ? [W, H] : [H, W];
  const cellMm = run ? repeatMm.width / W : repeatMm.height / H;
  // Which board lies at each cell of a course.
  const index = boards.map((course) => {
    const at = new Int32Array(cells);
    for (const [i, b] of course.entries()) for (let k = 0; k < b.cells; k++) at[(b.from + k) % cells] = i;
    return at;
  });
  for (let c = 0; c < crossCells; c++) {
    const { course, intoMm } = courseAt(laid, c);
    for (let a = 0; a < cells; a++) {
      const place = (a + (run ? begins.x : begins.y)) % cells;
      const board = boards[course]![index[course]![place]!]!;
      visit(run ? a : c, run ? c : a, {
        board,
        alongMm: board.startMm + ((place - board.from + cells) % cells) * cellMm,
        crossMm: beginsMm.get(board.course)! + intoMm,
      });
    }
  }
}

/** Laid boards as a raster of copies, each exactly where it lies; they are not mixed where they meet. */
export function cellsOfBoards(laid: LaidBoards): Cells {
  const { widthPx: W, heightPx: H, repeatMm, closed, courses } = laid;
  const run = courses.along === 'across';
  const mm = { x: repeatMm.width / W, y: repeatMm.height / H };
  const copy = new Uint16Array(W * H);
  const placements: Placement[] = [];
  const known = new Map<string, number>();
  eachCell(laid, (x, y, { alongMm, crossMm }) => {
    const offsetXMm = (run ? alongMm : crossMm) - x * mm.x;
    const offsetYMm = (run ? crossMm : alongMm) - y * mm.y;
    const key = `${offsetXMm.toFixed(6)} ${offsetYMm.toFixed(6)}`;
    let at = known.get(key);
    if (at === undefined) {
      at = placements.length;
      known.set(key, at);
      placements.push({ sourceIndex: 0, signX: 1, signY: 1, offsetXMm, offsetYMm });
    }
    copy[y * W + x] = at;
  });
  return {
    widthPx: W,
    heightPx: H,
    copy,
    placements,
    closed,
    parted: { rows: new Uint8Array(H), columns: new Uint8Array(W) },
    sharp: true,
  };
}

/** Laid boards as a repeat at the working resolution: to the pixel only. */
export function torusOfBoards(laid: LaidBoards, atlas: Atlas, pxPerMm: { x: number; y: number }): Torus {
  const { widthPx: W, heightPx: H, closed, courses, begins } = laid;
  const run = courses.along === 'across';
  const part = atlas.parts[0]!;
  const place = new Int32Array(W * H);
  const within = (v: number, n: number) => Math.min(n - 1, Math.max(0, Math.round(v)));
  eachCell(laid, (x, y, { alongMm, crossMm }) => {
    const u = within((run ? alongMm : crossMm) * pxPerMm.x, part.widthPx);
    const v = within((run ? crossMm : alongMm) * pxPerMm.y, part.heightPx);
    place[y * W + x] = part.first + v * atlas.stride + u;
  });
  // Between two courses it is joint, everywhere else it is not.
  const cross = run ? H : W;
  const joints = Int32Array.from({ length: cross }, (_, c) =>
    courseAt(laid, c).course === courseAt(laid, (c + 1) % cross).course ? 1 : 0,
  );
  return {
    widthPx: W,
    heightPx: H,
    closed,
    place,
    atlas,
    off: run ? { row: joints, column: new Int32Array(W) } : { row: new Int32Array(H), column: joints },
    begins,
  };
}

/** Whether boards meet an area of the repeat: for each board that does, `true`. */
export function boardsIn(laid: LaidBoards, area: Uint8Array): Set<Board> {
  const out = new Set<Board>();
  eachCell(laid, (x, y, { board }) => {
    if (area[y * laid.widthPx + x] === 1) out.add(board);
  });
  return out;
}

/** 1 where what lies in the repeat is another than before. */
export function changedBetween(before: Cells, now: Cells): Uint8Array {
  return Uint8Array.from(now.copy, (k, p) => {
    const [a, b] = [before.placements[before.copy[p]!]!, now.placements[k]!];
    return Math.abs(a.offsetXMm - b.offsetXMm) + Math.abs(a.offsetYMm - b.offsetYMm) > 1e-6 ? 1 : 0;
  });
}
