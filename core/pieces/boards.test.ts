import { makePlane } from '../raster';
import { coursesOfFloor, FLOOR_ENDS, FLOOR_MM, knownFloor, standing } from '../test-pictures';
import { findBoards, type BoardsOfSample, type PieceBox } from './boards';

const COURSES = coursesOfFloor();
const {
  firstMm: FIRST_MM,
  pitchMm: PITCH_MM,
  widthMm: WIDTH_MM,
  jointMm: JOINT_MM,
  perMm: PER_MM,
} = FLOOR_MM;
const ENDS = FLOOR_ENDS;
const floor = knownFloor;
const FLOOR = floor();
const BOARDS = findBoards(FLOOR, COURSES)!;

const inMm = (px: number) => px / PER_MM;
/** The boards of a course, from left to right. */
const ofCourse = ({ boards }: BoardsOfSample, course: number): PieceBox[] =>
  boards.filter((b) => Math.floor((inMm((b.top + b.bottom) / 2) - FIRST_MM) / PITCH_MM) === course);

test('every board lies between its joints, within a pixel', () => {
  expect(BOARDS.boards).toHaveLength(ENDS.flat().length + ENDS.length);
  for (const [course, ends] of ENDS.entries()) {
    const own = ofCourse(BOARDS, course);
    expect(own).toHaveLength(ends.length + 1);
    const sides = [0, ...ends.flatMap((end) => [end, end + JOINT_MM]), WIDTH_MM];
    own.forEach((board, k) => {
      expect(Math.abs(inMm(board.left) - sides[2 * k]!)).toBeLessThan(1.2);
      expect(Math.abs(inMm(board.right) - sides[2 * k + 1]!)).toBeLessThan(1.2);
      const top = FIRST_MM + course * PITCH_MM;
      expect(Math.abs(inMm(board.top) - top - JOINT_MM)).toBeLessThan(1);
      expect(Math.abs(inMm(board.bottom) - top - PITCH_MM)).toBeLessThan(1);
    });
  }
  expect(inMm(BOARDS.jointPx.along)).toBeCloseTo(JOINT_MM, 0);
});

test('boards without joints across them reach from edge to edge', () => {
  const { boards, jointPx } = findBoards(floor(ENDS.map(() => [])), COURSES)!;
  expect(boards).toHaveLength(ENDS.length);
  for (const { left, right } of boards) expect([left, right]).toEqual([0, FLOOR.widthPx]);
  expect(jointPx.across).toBe(0);
});

test('boards that stand are found as those that lie', () => {
  const upright = standing(FLOOR);
  const { boards } = findBoards(upright, { ...COURSES, along: 'up' })!;
  expect(boards).toEqual(
    BOARDS.boards.map(({ left, top, right, bottom }) => ({
      left: top,
      top: left,
      right: bottom,
      bottom: right,
    })),
  );
});

test('what is kept out belongs to no board, and splits the one it lies in', () => {
  const keptOut = makePlane(FLOOR.widthPx, FLOOR.heightPx);
  // From 500 to 530 mm, in the first course only.
  for (let y = 40; y < 80; y++) for (let x = 625; x < 662; x++) keptOut.data[y * keptOut.widthPx + x] = 1;
  const found = findBoards(FLOOR, COURSES, keptOut)!;
  const first = ofCourse(found, 0);
  expect(first).toHaveLength(4);
  for (const { left, right } of first) expect(right <= 625.5 || left >= 661.5).toBe(true);
  for (const course of [1, 2, 3, 4]) expect(ofCourse(found, course)).toEqual(ofCourse(BOARDS, course));
});

test('grain beside a line is not taken for it: courses are as wide as the others', () => {
  const striped = { ...FLOOR, r: FLOOR.r.slice(), g: FLOOR.g.slice(), b: FLOOR.b.slice() };
  // A stripe as dark as a joint, 3 mm below one.
  const row = Math.round((FIRST_MM + 2 * PITCH_MM + 3) * PER_MM);
  for (let x = 0; x < FLOOR.widthPx; x++)
    for (const c of ['r', 'g', 'b'] as const) striped[c][row * FLOOR.widthPx + x] = 0.004;
  const tops = findBoards(striped, COURSES)!.boards.map((b) => inMm(b.top) - FIRST_MM - JOINT_MM);
  for (const top of tops) expect(Math.abs(top - PITCH_MM * Math.round(top / PITCH_MM))).toBeLessThan(1.6);
});
