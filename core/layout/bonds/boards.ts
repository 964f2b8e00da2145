import { z } from 'zod';
import { rectangle, type Cell } from '../cell';
import { turnedBy, type Point } from '../polygon';
import { bond, moduleOf, typical, type Sizes, type SizesThatClose } from './bond';
import { repeatedUnit, unitOfLattice } from './periodic';
import { coursesSteps } from './courses';

/** Laying patterns of boards and blocks. */

const none = z.object({});

export const lengthSchema = (what: string) =>
  z
    .number(`${what}: give a length in mm.`)
    .min(1, `${what} is at least 1 mm.`)
    .max(100000, `${what} is at most 100 000 mm.`)
    .describe(`${what}, mm`);
export const staggerSchema = z
  .number()
  .min(0, 'A stagger is 0 mm or more.')
  .max(100000)
  .describe('Least distance of end joints in neighbouring courses, mm');

const randomLength = bond({
  kind: 'random-length',
  name: 'Random-length boards',
  family: 'Boards',
  settings: z.object({ shortestMm: lengthSchema('The shortest board'), staggerMm: staggerSchema }),
  typical: typical(1800, 180, 0, 3600, 1620),
  sized: 'both',
  random: true,
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const { shortestMm, staggerMm } = asked.settings;
    const shortest = Math.min(l, shortestMm + asked.joint.acrossMm);
    const up = Math.max(1, Math.round(asked.repeatMm.height / w));
    const heights = Array<number>(up).fill(w);
    return coursesSteps(heights, { shortest, longest: l, stagger: staggerMm }, asked);
  },
});

/**
 * Sizes by which a piece's length and as many widths come to the same.
 * @param strips pieces that lie side by side where a length meets widths
 * @param most different ratios of length to width that close; the first is the plainest
 */
function lengthsOfWidths({ lengthMm, widthMm, joint }: Sizes, strips: number, ratios: readonly number[]) {
  const l = lengthMm + joint.acrossMm;
  const w = strips * (widthMm + joint.alongMm);
  const asked = { lengthMm, widthMm, joint };
  const out: { sizes: SizesThatClose; change: number }[] = [];
  for (const n of ratios) {
    const whole = Math.max(n, Math.round((l * n) / w));
    for (const widths of [whole, whole + 1, whole - 1].filter((k) => k >= n)) {
      const length = (widths * w) / n - joint.acrossMm;
      const width = (l * n) / (widths * strips) - joint.alongMm;
      if (length > 0)
        out.push({ sizes: { ...asked, lengthMm: length }, change: Math.abs(length - lengthMm) / lengthMm });
      if (width > 0)
        out.push({ sizes: { ...asked, widthMm: width }, change: Math.abs(width - widthMm) / widthMm });
    }
  }
  out.sort((a, b) => a.change - b.change);
  return out
    .filter(({ sizes }, k) => out.findIndex((o) => sameSizes(o.sizes, sizes)) === k)
    .slice(0, 3)
    .map(({ sizes, change }) => (change < 1e-9 ? asked : sizes));
}

const sameSizes = (a: Sizes, b: Sizes) =>
  Math.abs(a.lengthMm - b.lengthMm) < 1e-6 && Math.abs(a.widthMm - b.widthMm) < 1e-6;

const stripsSchema = z
  .number()
  .int()
  .min(1, 'At least one strip lies side by side.')
  .max(4, 'At most four strips lie side by side.')
  .describe('Pieces that lie side by side: 1 single, 2 double herringbone');

const herringbone = bond({
  kind: 'herringbone',
  name: 'Herringbone',
  family: 'Boards',
  settings: z.object({
    strips: stripsSchema,
    diagonal: z
      .boolean()
      .describe(
        'True: pieces lie at 45° to the room, the points along it; false: pieces lie square to the room',
      ),
  }),
  typical: typical(490, 70, 0, 1386, 1386),
  sized: 'both',
  random: false,
  // Square to the room it closes where lengths and widths have a common multiple; diagonally by any sizes.
  closing(asked, { strips, diagonal }) {
    const { l, w } = moduleOf(asked);
    if (l <= strips * w)
      throw new RangeError(
        `A piece of ${round(asked.lengthMm)} mm is not longer than ${strips === 1 ? 'it is wide' : `${strips} are wide`}: herringbone needs longer pieces, or narrower ones.`,
      );
    return diagonal ? [{ ...asked }] : lengthsOfWidths(asked, strips, [1, 2, 3]);
  },
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const { strips, diagonal } = asked.settings;
    const band = strips * w;
    const { alongMm, acrossMm } = asked.joint;
    const cells: Cell[] = [];
    for (let k = 0; k < strips; k++) {
      const lying = { alongMm, acrossMm, course: 0, directionDeg: 0, kind: 'lying' };
      const standing = {
        alongMm: acrossMm,
        acrossMm: alongMm,
        course: 0,
        directionDeg: 90,
        kind: 'standing',
      };
      cells.push(rectangle([0, k * w], { width: l, height: w }, lying));
      cells.push(rectangle([k * w, band], { width: w, height: l }, standing));
    }
    const [a, b]: Point[] = [
      [band, band],
      [l, -l],
    ];
    if (diagonal) {
      const turned = cells.map((cell) => turnedCell(cell, 45));
      const side = { widthMm: l * Math.SQRT2, heightMm: band * Math.SQRT2, courses: 1 };
      const [ta, tb] = turnedBy([a!, b!], 45);
      return repeatedUnit(unitOfLattice(ta!, tb!, side, turned), asked.repeatMm);
    }
    const times = [1, 2, 3].find((n) => Math.abs((l * n) / band - Math.round((l * n) / band)) < 1e-6) ?? 1;
    const side = 2 * times * l;
    const unit = { widthMm: side, heightMm: side, courses: 1 };
    return repeatedUnit(unitOfLattice(a!, b!, unit, cells), asked.repeatMm);
  },
});

const round = (mm: number) => Math.round(mm * 10) / 10;

/** A cell turned about the origin. */
export function turnedCell(cell: Cell, deg: number): Cell {
  const { disc } = cell;
  return {
    ...cell,
    outline: turnedBy(cell.outline, deg),
    directionDeg: (((cell.directionDeg + deg) % 360) + 360) % 360,
    ...(disc ? { disc: { ...disc, centre: turnedBy([disc.centre], deg)[0]! } } : {}),
  };
}

const chevron = bond({
  kind: 'chevron',
  name: 'Chevron',
  family: 'Boards',
  settings: z.object({
    cutDeg: z
      .number()
      .min(20, 'The cut is between 20° and 80°.')
      .max(80, 'The cut is between 20° and 80°.')
      .describe('Angle of the mitre between the edge of a board and its end'),
  }),
  typical: typical(600, 90, 0, 2078, 831),
  sized: 'both',
  random: false,
  lay(asked) {
    const { joint, lengthMm, widthMm, settings } = asked;
    const rise = ((90 - settings.cutDeg) * Math.PI) / 180;
    const [cos, sin] = [Math.cos(rise), Math.sin(rise)];
    // Columns stand upright; the joint between them is the end joint.
    const column = lengthMm * cos + joint.acrossMm;
    const pitch = (widthMm + joint.alongMm) / cos;
    const up = (column * sin) / cos;
    const { alongMm, acrossMm } = joint;
    const cell = (x: number, from: number, to: number, directionDeg: number): Cell => ({
      outline: [
        [x, from],
        [x + column, to],
        [x + column, to + pitch],
        [x, from + pitch],
      ],
      jointMm: [alongMm, acrossMm, alongMm, acrossMm],
      course: 0,
      directionDeg,
      nominalMm: { length: lengthMm, width: widthMm },
      kind: directionDeg === 0 ? 'piece' : directionDeg < 180 ? 'rising' : 'falling',
    });
    const deg = 90 - settings.cutDeg;
    const cells = [cell(0, 0, up, deg), cell(column, up, 0, 360 - deg)];
    return repeatedUnit({ widthMm: 2 * column, heightMm: pitch, cells, courses: 1 }, asked.repeatMm);
  },
});

const basket = bond({
  kind: 'basket',
  name: 'Basket weave',
  family: 'Boards',
  settings: none,
  typical: typical(240, 80, 0, 960, 960),
  sized: 'both',
  random: false,
  closing: (asked) => lengthsOfWidths(asked, 1, [1]),
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const strips = Math.max(1, Math.round(l / w));
    const cells = [0, 1].flatMap((row) =>
      [0, 1].flatMap((column) =>
        block([column * l, row * l], l, w, strips, (row + column) % 2 === 1, asked, row),
      ),
    );
    return repeatedUnit({ widthMm: 2 * l, heightMm: 2 * l, cells, courses: 2 }, asked.repeatMm);
  },
});

/** Pieces side by side that fill a square. */
function block(
  [x, y]: Point,
  l: number,
  w: number,
  strips: number,
  standing: boolean,
  { joint: { alongMm, acrossMm } }: Sizes,
  course: number,
): Cell[] {
  return Array.from({ length: strips }, (_, k) =>
    standing
      ? rectangle(
          [x + k * w, y],
          { width: w, height: l },
          { alongMm: acrossMm, acrossMm: alongMm, course, directionDeg: 90, kind: 'standing' },
        )
      : rectangle([x, y + k * w], { width: l, height: w }, { alongMm, acrossMm, course, kind: 'lying' }),
  );
}

const ladder = bond({
  kind: 'ladder',
  name: 'Ladder',
  family: 'Boards',
  settings: none,
  typical: typical(300, 60, 0, 1200, 720),
  sized: 'both',
  random: false,
  closing: (asked) => lengthsOfWidths(asked, 1, [1]),
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const { alongMm, acrossMm } = asked.joint;
    const strips = Math.max(1, Math.round(l / w));
    const rail = rectangle([0, 0], { width: l, height: w }, { alongMm, acrossMm, course: 0, kind: 'rail' });
    const rungs = block([0, w], l, w, strips, true, asked, 1).map((c) => ({ ...c, kind: 'rung' }));
    return repeatedUnit({ widthMm: l, heightMm: l + w, cells: [rail, ...rungs], courses: 2 }, asked.repeatMm);
  },
});

export const BOARDS = [randomLength, herringbone, chevron, basket, ladder] as const;
