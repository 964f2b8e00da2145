import { makeColourPicture, seededRandom, type ColourPicture } from '../raster';
import { atOnce } from '../steps';
import { jointsOfLatticeSteps, piecesOfLatticeSteps, type CoursesOfLattice } from './joints-of-lattice';
import { fillCells, jointsOfPieces, labPlanes } from './index';

/** Parquet in half bond whose boards have grain as dark as their joints. */
const [LENGTH, WIDTH, JOINT] = [80, 20, 2];
const LATTICE: CoursesOfLattice = { acrossPx: LENGTH, upPx: WIDTH, stagger: 0.5, courses: 2 };

const mod = (a: number, n: number) => ((a % n) + n) % n;
const isInJoint = (x: number, y: number): boolean =>
  mod(y, WIDTH) < JOINT || mod(x + mod(Math.floor(y / WIDTH), 2) * (LENGTH / 2), LENGTH) < JOINT;

function parquet(widthPx: number, heightPx: number): ColourPicture {
  const p = makeColourPicture(widthPx, heightPx);
  const random = seededRandom(4);
  const boardTone = new Map<string, number>();
  const grain = new Map<string, number>();
  const of = (kept: Map<string, number>, key: string, make: () => number) => {
    if (!kept.has(key)) kept.set(key, make());
    return kept.get(key)!;
  };
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const course = Math.floor(y / WIDTH);
      const board = `${course} ${Math.floor((x + (course % 2) * (LENGTH / 2)) / LENGTH)}`;
      const tone = of(boardTone, board, () => random.between(0.25, 0.4));
      const line = of(grain, `${board} ${y}`, () => (random.next() < 0.3 ? 0.6 : 1));
      const v = tone * (isInJoint(x, y) ? 0.6 : line);
      const i = y * widthPx + x;
      [p.r[i], p.g[i], p.b[i]] = [v, 0.9 * v, 0.7 * v];
    }
  return p;
}
const FLOOR = parquet(640, 320);

test('joints as dark as the grain are seen in the mean of all cells', () => {
  const { joints, pieces } = atOnce(jointsOfLatticeSteps(FLOOR, LATTICE))!;
  let [right, all] = [0, 0];
  for (let y = 0; y < FLOOR.heightPx; y++)
    for (let x = 0; x < FLOOR.widthPx; x++) {
      const i = y * FLOOR.widthPx + x;
      // A pixel at the edge of a joint may be either.
      const joint = isInJoint(x, y);
      const beside = [[-1, 0], [1, 0], [0, -1], [0, 1]] as const; // prettier-ignore
      if (beside.some(([dx, dy]) => isInJoint(x + dx, y + dy) !== joint)) continue;
      all++;
      if (pieces.data[i] === (joint ? 0 : 1)) right++;
    }
  expect(right / all).toBeGreaterThan(0.97);
  const [course, board] = [Math.floor(5.5 * WIDTH), Math.floor(3.25 * LENGTH)];
  expect(joints.data[course * FLOOR.widthPx + board]).toBe(0);
});

test('they are told at the size that is asked for', () => {
  const { pieces } = atOnce(jointsOfLatticeSteps(FLOOR, LATTICE, { widthPx: 320, heightPx: 160 }))!;
  expect([pieces.widthPx, pieces.heightPx]).toEqual([320, 160]);
  expect(pieces.data[15 * 320 + 110]).toBe(1);
});

test('pieces of a lattice are parted one by one, over edges that meet as well', () => {
  const { pieces } = atOnce(piecesOfLatticeSteps(labPlanes(FLOOR), LATTICE, true))!;
  expect(pieces.pieces).toHaveLength((640 / LENGTH) * (320 / WIDTH));
  for (const { widthPx, heightPx } of pieces.pieces) {
    expect(Math.abs(widthPx - (LENGTH - JOINT))).toBeLessThanOrEqual(2);
    expect(Math.abs(heightPx - (WIDTH - JOINT))).toBeLessThanOrEqual(2);
  }
});

test('a lattice that is not there shows no joints; few large pieces are not those of a lattice of many cells', () => {
  const wrong = { ...LATTICE, acrossPx: 0.83 * LENGTH, upPx: 1.37 * WIDTH };
  const found = atOnce(piecesOfLatticeSteps(labPlanes(FLOOR), wrong, false));
  expect(found === null || found.pieces.pieces.length !== 128).toBe(true);
  expect(atOnce(jointsOfLatticeSteps(FLOOR, { ...LATTICE, acrossPx: 600, upPx: 300 }))).toBeNull();
  expect([fillCells(49, 350), fillCells(340, 350)]).toEqual([false, true]);
});

test('setts are parted through the grain of their granite, and stones of all sizes by joints that are clear', () => {
  const speckled = (inJoint: (x: number, y: number) => boolean, grainy: boolean) => {
    const random = seededRandom(9);
    const p = makeColourPicture(480, 360);
    for (let i = 0; i < p.r.length; i++) {
      const [x, y] = [i % 480, Math.floor(i / 480)];
      const face = grainy ? (random.next() < 0.3 ? 0.08 : 0.5) : 0.4;
      const v = inJoint(x, y) ? 0.12 : face;
      [p.r[i], p.g[i], p.b[i]] = [v, v, v];
    }
    return p;
  };
  const setts = (x: number, y: number) => y % 60 < 10 || (x + 17 * Math.floor(y / 60)) % 58 < 10;
  const { pieces, count } = jointsOfPieces(speckled(setts, true))!;
  expect(count).toBeGreaterThan(40);
  expect(count).toBeLessThan(66);
  expect(pieces.data[95 * 480 + 5]).toBe(setts(5, 95) ? 0 : 1);
  // Columns of 30, 60 and 120 px, rows of 40 and 100 px: areas differ by ten times.
  const edges = [0, 30, 150, 180, 240, 360, 390, 450];
  const rubble = (x: number, y: number) =>
    edges.some((edge) => x >= edge && x < edge + 5) ||
    [0, 40, 140, 180, 280, 320].some((e) => y >= e && y < e + 5);
  const stones = jointsOfPieces(speckled(rubble, false))!.count;
  expect(Math.abs(stones - edges.length * 6)).toBeLessThan(9);
});
