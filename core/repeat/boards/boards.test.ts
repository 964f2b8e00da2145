import fc from 'fast-check';
import { coursesOfFloor, FLOOR_ENDS, FLOOR_MM, knownFloor, standing } from '../../test-pictures';
import { atOnce } from '../../steps';
import { boardsOfPicture, cellsOfBoards, countBoards, layBoards, layBoardsAnew } from './index';
import type { BoardsTask, LaidCourse, Lying } from './lay-boards';

const PER_MM = { x: FLOOR_MM.perMm, y: FLOOR_MM.perMm };
const SHOWN = boardsOfPicture(knownFloor(), coursesOfFloor(), PER_MM)!;
const AS_IT_LIES: Lying[] = [{ along: 1, across: 1 }];
const TURNED: Lying[] = [...AS_IT_LIES, { along: -1, across: -1 }];
const task = (change: Partial<BoardsTask> = {}): BoardsTask => ({
  ...SHOWN,
  cells: 1000,
  cellMm: 1,
  courses: 6,
  pitchMm: FLOOR_MM.pitchMm,
  lyings: AS_IT_LIES,
  ...change,
});
const laid = (of: BoardsTask, seed: number): LaidCourse[] => atOnce(layBoards(of, seed))!;

test('boards of a picture are known with their joints, in mm', () => {
  expect(SHOWN.joints).toHaveLength(FLOOR_ENDS.flat().length);
  expect(SHOWN.boards).toHaveLength(FLOOR_ENDS.flat().length + FLOOR_ENDS.length);
  for (const { fromMm, toMm } of SHOWN.joints) {
    expect(Math.min(...FLOOR_ENDS.flat().map((end) => Math.abs(end - fromMm)))).toBeLessThan(1.2);
    expect(Math.abs(toMm - fromMm - FLOOR_MM.jointMm)).toBeLessThan(2.1);
  }
  const whole = SHOWN.boards.filter((b) => b.joints.before && b.joints.after);
  expect(whole.map((b) => Math.round((b.toMm - b.fromMm) / 10))).toEqual([59, 52, 57]);
});

test('boards that stand are known as those that lie', () => {
  const upright = boardsOfPicture(standing(knownFloor()), { ...coursesOfFloor(), along: 'up' }, PER_MM)!;
  // Tones are summed in another order.
  const places = ({ boards }: typeof SHOWN) => boards.map(({ tone: _, ...board }) => board);
  expect(places(upright)).toEqual(places(SHOWN));
});

test('without joints across them, or in a few lengths as bricks have, they are no boards', () => {
  const of = (ends: readonly (readonly number[])[]) =>
    boardsOfPicture(knownFloor(ends), coursesOfFloor(), PER_MM);
  expect(of(FLOOR_ENDS.map(() => []))).toBeNull();
  const inBond = FLOOR_ENDS.map((_, k) => [0, 1, 2, 3].map((n) => 100 + 220 * n + 110 * (k % 2)));
  expect(of(inBond)).toBeNull();
});

test('courses are filled whole, by boards that the picture shows, each ending in a joint, none cut too short', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 1e6 }),
      fc.integer({ min: 400, max: 3000 }),
      fc.integer({ min: 1, max: 9 }),
      fc.boolean(),
      (seed, cells, courses, turns) => {
        const of = task({ cells, courses, lyings: turns ? TURNED : AS_IT_LIES });
        const floor = laid(of, seed);
        expect(floor).toHaveLength(courses);
        for (const course of floor) {
          expect(course.reduce((sum, board) => sum + board.cells, 0)).toBe(cells);
          // One begins where the one before it ends.
          course.forEach((board, n) => {
            const next = course[(n + 1) % course.length]!;
            expect(next.at).toBe((board.at + board.cells) % cells);
          });
          for (const board of course) {
            const source = of.boards[board.board]!;
            expect(board.fromMm).toBeGreaterThan(source.fromMm - 1e-6);
            expect(board.toMm).toBeLessThan(source.toMm + 1e-6);
            // 2.5 widths, as the shortest whole board is longer, but two always have room.
            expect(board.cells).toBeGreaterThanOrEqual(Math.floor(Math.min(200, 0.3 * cells)));
            const turned = board.lying.along < 0;
            const ends = turned ? source.joints.before : source.joints.after;
            expect(board.joint === 'own').toBe(ends);
            if (ends)
              expect(turned ? board.fromMm : board.toMm).toBeCloseTo(turned ? source.fromMm : source.toMm, 6);
          }
        }
      },
    ),
    { numRuns: 60 },
  );
});

test('ends of courses beside each other lie apart, also over the edge of the repeat', () => {
  let near = 0;
  for (let seed = 1; seed <= 20; seed++) {
    const floor = laid(task(), seed);
    floor.forEach((course, k) => {
      const next = floor[(k + 1) % floor.length]!;
      for (const { at } of course)
        for (const other of next) {
          const off = Math.abs(at - other.at);
          if (Math.min(off, 1000 - off) < FLOOR_MM.pitchMm / 2) near++;
        }
    });
  }
  // Of more than two hundred ends hardly one.
  expect(near).toBeLessThanOrEqual(3);
});

test('every cell shows the board that was laid there, also turned, and boards go on over the edge', () => {
  const of = task({ lyings: TURNED });
  const courses = laid(of, 3);
  const rows = 4;
  const cells = cellsOfBoards({ kind: 'boards', task: of, courses, rows, along: 'across' });
  const upright = cellsOfBoards({ kind: 'boards', task: of, courses, rows, along: 'up' });
  expect([cells.widthPx, cells.heightPx, upright.widthPx, upright.heightPx]).toEqual([1000, 24, 24, 1000]);
  let [offMm, notUpright] = [0, 0];
  courses.forEach((course, k) => {
    for (const board of course)
      for (let n = 0; n < board.cells - board.jointCells; n++) {
        const x = (board.at + n) % of.cells;
        const y = k * rows + 1;
        const placed = cells.placements[cells.copy[y * cells.widthPx + x]!]!;
        const sampleMm = placed.offsetXMm + placed.signX * (x + 0.5);
        const along = board.lying.along > 0 ? board.fromMm + n + 0.5 : board.toMm - n - 0.5;
        offMm = Math.max(offMm, Math.abs(sampleMm - along));
        const middle = placed.offsetYMm + placed.signY * (k + 0.5) * of.pitchMm;
        offMm = Math.max(offMm, Math.abs(middle - of.boards[board.board]!.middleMm));
        const stands = upright.placements[upright.copy[x * upright.widthPx + y]!]!;
        if (stands.offsetYMm !== placed.offsetXMm || stands.signY !== placed.signX) notUpright++;
      }
  });
  expect(offMm).toBeLessThan(5e-7);
  expect(notUpright).toBe(0);
});

test('what is laid anew is laid of other boards, all else stays', () => {
  const of = task();
  const before = laid(of, 5);
  const [course, first] = [2, before[2]![0]!];
  const now = atOnce(
    layBoardsAnew(
      of,
      before,
      (board) => board === first,
      () => true,
      9,
    ),
  )!;
  expect(now.filter((c, k) => c !== before[k])).toHaveLength(1);
  const others = before[course]!.filter((board) => board !== first);
  expect(now[course]).toEqual(expect.arrayContaining(others));
  expect(now[course]!.reduce((sum, board) => sum + board.cells, 0)).toBe(of.cells);
  expect(now[course]).not.toContain(first);
  // A board that may not be shown any more is nowhere.
  const without = first.board;
  const rest = atOnce(
    layBoardsAnew(
      of,
      before,
      (board) => board.board === without,
      (board) => board !== of.boards[without],
      9,
    ),
  )!;
  expect(rest.flat().some((board) => board.board === without)).toBe(false);
});

test('boards in their whole length are counted', () => {
  const courses = laid(task({ cells: 3000 }), 2);
  const { laid: all, whole } = countBoards(SHOWN, courses);
  expect(all).toBe(courses.flat().length);
  expect(whole).toBeGreaterThan(0);
  expect(whole).toBeLessThan(all);
});
