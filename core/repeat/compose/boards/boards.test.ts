import fc from 'fast-check';
import { makeColourPicture, makePlane, seededRandom, type ColourPicture } from '../../../raster';
import { applyCells } from '../../cells';
import {
  boardsIn,
  cellsOfBoards,
  changedBetween,
  findBoards,
  layBoards,
  relayBoards,
  withoutTaken,
  type Board,
  type BoardsTask,
  type BoardStock,
  type CoursesOfSample,
  type LaidBoards,
} from './index';

/** A floor whose truth is known: joints at these places of each course, mm, 2 mm wide. */
const ENDS = [[310, 905], [120, 640], [470], [], [250, 820]] as const;
const [WIDTH_MM, PITCH_MM, FIRST_MM, JOINT_MM] = [1000, 80, 17, 2] as const;
const HEIGHT_MM = FIRST_MM + ENDS.length * PITCH_MM + 30;
const PER_MM = 1.25;
const COURSES: CoursesOfSample = { along: 'across', pitchMm: PITCH_MM, firstMm: FIRST_MM };

/** Grain runs along; every board has a tone of its own; knots lie here and there. Blue tells course and place along it. */
function floor(knots = true): ColourPicture {
  const p = makeColourPicture(Math.round(WIDTH_MM * PER_MM), Math.round(HEIGHT_MM * PER_MM));
  const random = seededRandom(5);
  const grain = Float64Array.from({ length: p.heightPx }, () => 0.03 * random.normal());
  const tones = ENDS.map((ends) => Array.from({ length: ends.length + 1 }, () => random.between(0.2, 0.3)));
  for (let y = 0; y < p.heightPx; y++)
    for (let x = 0; x < p.widthPx; x++) {
      const [xMm, yMm] = [(x + 0.5) / PER_MM, (y + 0.5) / PER_MM - FIRST_MM];
      const course = Math.floor(yMm / PITCH_MM);
      const ends: readonly number[] = ENDS[course] ?? [];
      const inJoint =
        yMm - course * PITCH_MM < JOINT_MM || ends.some((end) => xMm >= end && xMm < end + JOINT_MM);
      const board = ends.filter((end) => xMm >= end).length;
      const tone = tones[course]?.[board] ?? 0.25;
      const knot = knots && Math.hypot((xMm % 230) - 60, (yMm % PITCH_MM) - 40) < 9 ? 0.5 : 1;
      const i = y * p.widthPx + x;
      p.r[i] = inJoint ? 0.01 : knot * (tone + grain[y]!);
      p.g[i] = inJoint ? 0.01 : knot * (0.8 * tone + grain[y]!);
      p.b[i] = course + xMm / WIDTH_MM;
    }
  return p;
}
const light = (picture: ColourPicture): ColourPicture => ({
  ...picture,
  b: picture.g.map((v) => 0.8 * v),
});
const FLOOR = floor();
const found = (keptOut = null as Parameters<typeof findBoards>[3], picture = FLOOR) =>
  findBoards(light(picture), { x: PER_MM, y: PER_MM }, COURSES, keptOut);
const STOCK = found()!;

const task = (seed: number, more: Partial<BoardsTask> = {}): BoardsTask => ({
  stock: STOCK,
  cells: 500,
  cellMm: 2,
  courses: 5,
  closed: { along: true, courses: true },
  seed,
  ...more,
});

describe('the joints of a floor', () => {
  test('all are found where they are, and nothing else is', () => {
    expect(STOCK.joints).toHaveLength(ENDS.flat().length);
    for (const [course, ends] of ENDS.entries())
      for (const [k, end] of [...ends].sort((a, b) => a - b).entries()) {
        const joint = STOCK.joints.filter((j) => j.course === course)[k]!;
        expect(Math.abs(joint.fromMm - end)).toBeLessThan(1);
        expect(Math.abs(joint.toMm - end - JOINT_MM)).toBeLessThan(1.2);
      }
  });

  test('courses begin with their joint; one that does not lie whole in the sample is none', () => {
    expect([...STOCK.beginsMm.keys()]).toEqual([0, 1, 2, 3, 4]);
    for (const [course, mm] of STOCK.beginsMm)
      expect(Math.abs(mm - FIRST_MM - course * PITCH_MM)).toBeLessThan(0.8);
  });

  test('boards without joints across them have none', () => {
    const endless = { ...FLOOR, r: FLOOR.r.slice(), g: FLOOR.g.slice() };
    for (let y = 0; y < endless.heightPx; y++)
      for (let x = 0; x < endless.widthPx; x++)
        for (const c of ['r', 'g'] as const)
          endless[c][y * endless.widthPx + x] = FLOOR[c][y * endless.widthPx + 600]!;
    expect(found(null, endless)).toBeNull();
  });

  test('what stands across is found standing', () => {
    const upright = makeColourPicture(FLOOR.heightPx, FLOOR.widthPx);
    const flat = light(FLOOR);
    for (const c of ['r', 'g', 'b'] as const)
      for (let y = 0; y < FLOOR.heightPx; y++)
        for (let x = 0; x < FLOOR.widthPx; x++)
          upright[c][x * FLOOR.heightPx + y] = flat[c][y * FLOOR.widthPx + x]!;
    const stock = findBoards(upright, { x: PER_MM, y: PER_MM }, { ...COURSES, along: 'up' }, null)!;
    expect(stock.runs).toEqual(STOCK.runs);
  });

  test('what is kept out is in no run, and a joint beside it is not shown', () => {
    const keptOut = makePlane(FLOOR.widthPx, FLOOR.heightPx);
    // From 300 to 330 mm, over the joint at 310 mm of the first course only.
    for (let y = 40; y < 80; y++) for (let x = 375; x < 412; x++) keptOut.data[y * keptOut.widthPx + x] = 1;
    const first = found(keptOut)!.runs.filter((r) => r.course === 0);
    for (const run of first) expect(run.toMm <= 300.5 || run.fromMm >= 329).toBe(true);
    expect(first.find((r) => r.toMm < 301)!.jointAfterMm).toBe(0);
    // Nor is it borrowed.
    expect(found(keptOut)!.joints).toEqual(STOCK.joints.filter((j) => j.course > 0 || j.fromMm > 400));
    expect(first.find((r) => r.fromMm > 328)!.jointBeforeMm).toBe(0);
    expect(found(keptOut)!.runs.filter((r) => r.course > 0)).toEqual(STOCK.runs.filter((r) => r.course > 0));
  });
});

/** Whether a board shows its sample from where it may, and as it says. */
function holds(stock: BoardStock, cellMm: number, b: Board): boolean {
  const [from, to] = [b.startMm, b.startMm + b.cells * cellMm];
  if (b.shows === 'joint')
    return stock.joints.some((j) => j.course === b.course && j.fromMm < to && j.toMm > from);
  const near = 1e-6;
  return stock.runs.some(
    (r) =>
      r.course === b.course &&
      from >= r.fromMm - (b.shows === 'before' ? r.jointBeforeMm : 0) - near &&
      to <= r.toMm + (b.shows === 'after' ? r.jointAfterMm : 0) + near &&
      (b.shows !== 'before' || Math.abs(from - r.fromMm + r.jointBeforeMm) < near) &&
      (b.shows !== 'after' || Math.abs(to - r.toMm - r.jointAfterMm) < near),
  );
}

/** How many joints are shown where one board meets the next. */
const shownBetween = (a: Board, b: Board) =>
  (a.shows === 'after' || a.shows === 'joint' ? 1 : 0) +
  (b.shows === 'before' || b.shows === 'joint' ? 1 : 0);

describe('laying boards', () => {
  test('courses are filled, every board comes from a run, and between two boards there is one joint', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.integer({ min: 120, max: 900 }),
        fc.integer({ min: 1, max: 7 }),
        fc.boolean(),
        fc.boolean(),
        (seed, cells, courses, along, all) => {
          const asked = task(seed, { cells, courses, closed: { along, courses: all } });
          const boards = layBoards(asked)!;
          expect(boards).toHaveLength(courses);
          for (const course of boards) {
            expect(course.reduce((sum, b) => sum + b.cells, 0)).toBe(cells);
            for (const [i, b] of course.entries()) {
              expect(holds(STOCK, asked.cellMm, b)).toBe(true);
              const last = i === course.length - 1;
              const next = course[(i + 1) % course.length]!;
              expect((b.from + b.cells) % cells).toBe(next.from % cells);
              if (last && !along) continue;
              expect(shownBetween(b, next)).toBe(1);
            }
          }
        },
      ),
      { numRuns: 25 },
    );
  });

  test('joints of neighbouring courses keep apart', () => {
    for (const seed of [1, 2, 3]) {
      const boards = layBoards(task(seed))!;
      const ends = boards.map((course) =>
        course.map((b) =>
          b.shows === 'after' ? (b.from + b.cells) % 500 : b.shows === 'none' ? -1 : b.from,
        ),
      );
      for (const [k, own] of ends.entries())
        for (const a of own)
          for (const b of ends[(k + 1) % 5]!) {
            if (a < 0 || b < 0) continue;
            const off = Math.abs(a - b);
            expect(2 * Math.min(off, 500 - off)).toBeGreaterThan(PITCH_MM / 2);
          }
    }
  });

  test('where the sample holds enough, hardly anything is shown twice', () => {
    const boards = layBoards(task(4, { cells: 300, courses: 4 }))!.flat();
    let twice = 0;
    for (const [i, a] of boards.entries())
      for (const b of boards.slice(i + 1)) {
        if (a.course !== b.course || a.shows === 'joint' || b.shows === 'joint') continue;
        const both =
          Math.min(a.startMm + 2 * a.cells, b.startMm + 2 * b.cells) - Math.max(a.startMm, b.startMm);
        twice += Math.max(0, both);
      }
    // 2400 mm are laid of 5000 mm.
    expect(twice).toBeLessThan(360);
  });

  test('the same seed lays the same boards, another seed others', () => {
    expect(layBoards(task(7))).toEqual(layBoards(task(7)));
    expect(layBoards(task(8))).not.toEqual(layBoards(task(7)));
  });

  test('where no run is left there are no boards', () => {
    expect(layBoards(task(1, { stock: { ...STOCK, runs: [] } }))).toBeNull();
  });
});

const laidOf = (asked: BoardsTask, begins = { x: 0, y: 0 }): LaidBoards => ({
  boards: layBoards(asked)!,
  courses: COURSES,
  beginsMm: STOCK.beginsMm,
  widthPx: asked.cells,
  heightPx: 40 * asked.courses,
  repeatMm: { width: asked.cells * asked.cellMm, height: asked.courses * PITCH_MM },
  closed: { across: true, up: true },
  begins,
});

describe('boards over the repeat', () => {
  const source = [{ picture: FLOOR, pxPerMm: { x: PER_MM, y: PER_MM } }];

  test('drawn finely, each board is its part of the sample, with its joints whole, wherever the repeat begins', () => {
    const begins = { x: 137, y: 80 };
    const laid = laidOf(task(3), begins);
    const [w, h] = [laid.repeatMm.width * PER_MM, laid.repeatMm.height * PER_MM];
    const drawn = applyCells(cellsOfBoards(laid), laid.repeatMm, source, w, h, null);
    for (const [k, course] of laid.boards.entries()) {
      // In the middle of the course, blue says which course of the sample it is, and how far along.
      const yMm = (((k * PITCH_MM + PITCH_MM / 2 - begins.y * 2) % 400) + 400) % 400;
      const row = Math.floor(yMm * PER_MM) * w;
      for (const b of course) {
        if (b.shows === 'joint') continue;
        const atMm = 0.5 * b.cells * 2;
        const xMm = (b.from * 2 + atMm - begins.x * 2 + 1000) % 1000;
        const told = drawn.b[row + Math.floor(xMm * PER_MM)]!;
        expect(Math.floor(told)).toBe(b.course);
        expect(Math.abs((told % 1) * WIDTH_MM - b.startMm - atMm)).toBeLessThan(2);
      }
      // Every joint is shown, as dark as it is and as wide; and no other: knots lie elsewhere.
      const dark = Array.from({ length: w }, (_, x) => drawn.r[row + x]! < 0.03);
      const starts = dark.filter((d, x) => d && !dark[(x + w - 1) % w]).length;
      expect(starts).toBe(course.filter((b) => b.shows !== 'none').length);
    }
  });

  test('between two courses there is one joint everywhere', () => {
    const laid = laidOf(task(9));
    const [w, h] = [500, laid.repeatMm.height * PER_MM];
    const drawn = applyCells(cellsOfBoards(laid), laid.repeatMm, source, w, h, null);
    for (let x = 5; x < w; x += 17) {
      for (let k = 0; k < 5; k++) {
        const top = k * PITCH_MM * PER_MM;
        const lines = [-3, -2, -1, 0, 1, 2, 3].map((d) => drawn.r[((top + d + h) % h) * w + x]!);
        expect(Math.min(...lines)).toBeLessThan(0.1);
      }
    }
  });
});

describe('boards laid anew', () => {
  test('only what lies in the area, or shows what is taken out, changes', () => {
    const asked = task(5);
    const laid = laidOf(asked);
    const area = new Uint8Array(laid.widthPx * laid.heightPx);
    area[20 * laid.widthPx + 250] = 1;
    const touched = boardsIn(laid, area);
    expect(touched.size).toBe(1);
    const boards = relayBoards({ ...asked, seed: 77 }, laid.boards, (b) => touched.has(b))!;
    expect(boards.slice(1)).toEqual(laid.boards.slice(1));
    for (const b of laid.boards[0]!)
      if (!touched.has(b) && b.shows !== 'joint') expect(boards[0]).toContainEqual(b);
    const [before, now] = [cellsOfBoards(laid), cellsOfBoards({ ...laid, boards })];
    const free = changedBetween(before, now);
    const [gone] = touched;
    const outside = [...free.keys()].filter((p) => {
      const [x, y] = [p % laid.widthPx, Math.floor(p / laid.widthPx)];
      return free[p] === 1 && !(y < 40 && (x - gone!.from + 500) % 500 < gone!.cells);
    });
    expect(outside).toEqual([]);
    expect(free.includes(1)).toBe(true);
    for (const [i, b] of boards[0]!.entries())
      expect(shownBetween(b, boards[0]![(i + 1) % boards[0]!.length]!)).toBe(1);
  });

  test('nothing that is taken out is shown any more; when all is taken out, it is said', () => {
    const asked = task(6);
    const boards = layBoards(asked)!;
    const taken = makePlane(FLOOR.widthPx, FLOOR.heightPx);
    const out = (fromMm: number, toMm: number, course: number) => {
      const y0 = Math.round((FIRST_MM + (course + 0.3) * PITCH_MM) * PER_MM);
      for (let y = y0; y < y0 + 30; y++)
        for (let x = fromMm * PER_MM; x < toMm * PER_MM; x++) taken.data[y * taken.widthPx + x] = 1;
    };
    out(400, 480, 3);
    const stock = withoutTaken(STOCK, taken, { x: PER_MM, y: PER_MM }, COURSES);
    const shows = (b: Board) => b.course === 3 && b.startMm < 480 && b.startMm + 2 * b.cells > 400;
    const again = relayBoards({ ...asked, stock, calm: true }, boards, shows)!;
    expect(again.flat().some(shows)).toBe(false);
    expect(boards.flat().some(shows)).toBe(true);
    for (let course = 0; course < 5; course++) out(0, 1000, course);
    const nothing = withoutTaken(STOCK, taken, { x: PER_MM, y: PER_MM }, COURSES);
    expect(nothing.runs).toEqual([]);
    expect(relayBoards({ ...asked, stock: nothing }, boards, () => true)).toBeNull();
  });
});
