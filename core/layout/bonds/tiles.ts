import { z } from 'zod';
import { printMm } from '../../units';
import { rectangle, type Cell } from '../cell';
import type { Point } from '../polygon';
import { bond, moduleOf, typical } from './bond';
import { repeatedUnit, unitOfLattice } from './periodic';

/** Tiles in courses and tiles of one shape that fit each other. */

const none = z.object({});

const stack = bond({
  kind: 'stack',
  name: 'Stack bond',
  family: 'Tiles',
  settings: none,
  typical: typical(200, 100, 3, 800, 400),
  sized: 'both',
  random: false,
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const cells = [rectangle([0, 0], { width: l, height: w }, { ...asked.joint, course: 0 })];
    return repeatedUnit({ widthMm: l, heightMm: w, cells, courses: 1 }, asked.repeatMm);
  },
});

/** Shifts are fractions with at most this denominator, so that the pattern repeats after as many courses. */
const MOST_COURSES = 12;

/** The fraction nearest to a share, the plainest of those within a thousandth. */
export function fractionNear(share: number): { over: number; of: number } {
  let best = { over: 0, of: 1, off: Infinity };
  for (let of = 1; of <= MOST_COURSES; of++) {
    const over = Math.round(share * of);
    const off = Math.abs(over / of - share);
    if (off < best.off - 1e-3) best = { over, of, off };
  }
  return { over: best.over % best.of, of: best.of };
}

const running = bond({
  kind: 'running',
  name: 'Running bond',
  family: 'Tiles',
  settings: z.object({
    shift: z
      .number()
      .min(0, 'A shift is a share of the piece from 0 to 1.')
      .max(1, 'A shift is a share of the piece from 0 to 1.')
      .describe('Shift of each course over the one below, as a share of the piece with its joint'),
    rising: z
      .boolean()
      .describe('True: every course is shifted on from the one below; false: every second course is shifted'),
    scatterMm: z
      .number()
      .min(0, 'A scatter is 0 mm or more.')
      .max(10000)
      .describe('How far a course may stand off its shift, mm either way'),
  }),
  typical: typical(215, 65, 10, 900, 450),
  sized: 'both',
  random: false,
  lay(asked) {
    const { l, w } = moduleOf(asked);
    const { shift, rising, scatterMm } = asked.settings;
    const fraction = fractionNear(shift);
    const courses = rising ? fraction.of : shift % 1 === 0 ? 1 : 2;
    const across = Math.max(1, Math.round(asked.repeatMm.width / l));
    const up = courses * Math.max(1, Math.round(asked.repeatMm.height / (courses * w)));
    const cells: Cell[] = [];
    for (let course = 0; course < up; course++) {
      const share = rising ? (course * fraction.over) / fraction.of : (course % 2) * shift;
      const off = scatterMm > 0 ? asked.random.between(-scatterMm, scatterMm) : 0;
      const start = (share - Math.floor(share)) * l + off;
      for (let k = 0; k < across; k++)
        cells.push(
          rectangle([start + k * l, course * w], { width: l, height: w }, { ...asked.joint, course }),
        );
    }
    return { repeatMm: { width: across * l, height: up * w }, cells, courses: up };
  },
});

const ROOT3 = Math.sqrt(3);

/** A regular polygon's corner k of n, the first at an angle. */
const corner = (n: number, k: number, firstDeg: number, radius: number): Point => {
  const angle = ((firstDeg + (360 * k) / n) * Math.PI) / 180;
  return [radius * Math.cos(angle), radius * Math.sin(angle)];
};

const hexagon = bond({
  kind: 'hexagon',
  name: 'Hexagons',
  family: 'Tiles',
  settings: none,
  typical: typical(173.2, 150, 3, 620, 530),
  sized: 'width',
  random: false,
  lay(asked) {
    const w = asked.widthMm + asked.joint.alongMm;
    const outline = Array.from({ length: 6 }, (_, k) => corner(6, k, -90, w / ROOT3));
    const cell: Cell = {
      outline,
      jointMm: Array<number>(6).fill(asked.joint.alongMm),
      course: 0,
      directionDeg: 0,
      nominalMm: { length: (2 * asked.widthMm) / ROOT3, width: asked.widthMm },
      kind: 'piece',
    };
    const unit = { widthMm: w, heightMm: w * ROOT3, courses: 2 };
    return repeatedUnit(unitOfLattice([w, 0], [w / 2, (w * ROOT3) / 2], unit, [cell]), asked.repeatMm);
  },
});

const octagon = bond({
  kind: 'octagon',
  name: 'Octagon and dot',
  family: 'Tiles',
  settings: z.object({
    dotMm: z.number().min(1, 'A dot is at least 1 mm wide.').max(10000).describe('Side of the dot, mm'),
  }),
  typical: typical(200, 200, 3, 812, 812),
  sized: 'width',
  random: false,
  lay(asked) {
    const { widthMm, joint, settings } = asked;
    const [j, p] = [joint.alongMm, widthMm + joint.alongMm];
    // The dot stands on its corner; its cell cuts this much off every corner of the square.
    const cut = (settings.dotMm + j) / Math.SQRT2;
    if (cut >= 0.48 * p)
      throw new RangeError(
        `A dot of ${printMm(settings.dotMm)} mm leaves no octagon of ${printMm(widthMm)} mm. Make it at most ${Math.floor(0.48 * p * Math.SQRT2 - j)} mm.`,
      );
    const h = p / 2;
    const big: Point[] = [
      [h, -h + cut],
      [h, h - cut],
      [h - cut, h],
      [-h + cut, h],
      [-h, h - cut],
      [-h, -h + cut],
      [-h + cut, -h],
      [h - cut, -h],
    ];
    const small: Point[] = [
      [cut, 0],
      [0, cut],
      [-cut, 0],
      [0, -cut],
    ];
    const cell = (outline: Point[], dx: number, kind: string, side: number): Cell => ({
      outline: outline.map(([x, y]) => [x + dx, y + dx]),
      jointMm: Array<number>(outline.length).fill(j),
      course: 0,
      directionDeg: kind === 'dot' ? 45 : 0,
      nominalMm: { length: side, width: side },
      kind,
    });
    const cells = [cell(big, h, 'octagon', widthMm), cell(small, 0, 'dot', settings.dotMm)];
    return repeatedUnit({ widthMm: p, heightMm: p, cells, courses: 1 }, asked.repeatMm);
  },
});

/** Straight pieces that a quarter of a circle is drawn by: within 0.2 % of its radius. */
const IN_A_QUARTER = 12;

/** Points on a circle; both ends are among them. */
export const arc = ([x, y]: Point, radius: number, fromDeg: number, toDeg: number, pieces: number): Point[] =>
  Array.from({ length: pieces + 1 }, (_, k) => {
    const angle = ((fromDeg + ((toDeg - fromDeg) * k) / pieces) * Math.PI) / 180;
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
  });

/** A fish scale of a width about the middle of its round end, which is up. */
export function scaleOutline(width: number): Point[] {
  const r = width / 2;
  return [
    ...arc([0, 0], r, 0, 180, 2 * IN_A_QUARTER),
    ...arc([-r, -r], r, 90, 0, IN_A_QUARTER).slice(1),
    ...arc([r, -r], r, 180, 90, IN_A_QUARTER).slice(1, -1),
  ];
}

const fishScale = bond({
  kind: 'fish-scale',
  name: 'Fish scale',
  family: 'Tiles',
  settings: none,
  typical: typical(120, 120, 3, 492, 492),
  sized: 'width',
  random: false,
  lay(asked) {
    const p = asked.widthMm + asked.joint.alongMm;
    const outline = scaleOutline(p);
    const cell: Cell = {
      outline,
      jointMm: Array<number>(outline.length).fill(asked.joint.alongMm),
      course: 0,
      directionDeg: 90,
      nominalMm: { length: asked.widthMm, width: asked.widthMm },
      kind: 'piece',
      roundMm: 0,
    };
    const unit = { widthMm: p, heightMm: p, courses: 2 };
    return repeatedUnit(unitOfLattice([p, 0], [p / 2, p / 2], unit, [cell]), asked.repeatMm);
  },
});

const penny = bond({
  kind: 'penny',
  name: 'Penny rounds',
  family: 'Tiles',
  settings: none,
  typical: typical(25, 25, 2, 189, 187),
  sized: 'width',
  random: false,
  lay(asked) {
    const { widthMm, joint } = asked;
    const p = widthMm + joint.alongMm;
    const cell: Cell = {
      outline: Array.from({ length: 6 }, (_, k) => corner(6, k, -90, p / ROOT3)),
      jointMm: Array<number>(6).fill(joint.alongMm),
      course: 0,
      directionDeg: 0,
      nominalMm: { length: widthMm, width: widthMm },
      kind: 'piece',
      disc: { centre: [0, 0], diameterMm: widthMm },
    };
    const unit = { widthMm: p, heightMm: p * ROOT3, courses: 2 };
    return repeatedUnit(unitOfLattice([p, 0], [p / 2, (p * ROOT3) / 2], unit, [cell]), asked.repeatMm);
  },
});

const pinwheel = bond({
  kind: 'pinwheel',
  name: 'Pinwheel',
  family: 'Tiles',
  settings: none,
  typical: typical(200, 98.5, 3, 1015, 1015),
  sized: 'both',
  random: false,
  // The dot's module is a whole share of the tile's: then the turned lattice closes on upright edges.
  closing({ lengthMm, widthMm, joint }) {
    const j = joint.alongMm;
    const tile = lengthMm + j;
    const shares = [2, 3, 4, 1.5, 4 / 3].map((n) => tile / n - j).filter((dot) => dot > 0);
    shares.sort((a, b) => Math.abs(a - widthMm) - Math.abs(b - widthMm));
    return shares.slice(0, 3).map((dot) => ({ lengthMm, widthMm: dot, joint }));
  },
  lay(asked) {
    const { lengthMm, widthMm, joint } = asked;
    const j = joint.alongMm;
    const [a, b] = [lengthMm + j, widthMm + j];
    const square = (x: number, y: number, side: number, kind: string) =>
      rectangle([x, y], { width: side, height: side }, { alongMm: j, acrossMm: j, course: 0, kind });
    const fraction = fractionOf(a / b);
    const side = (a * a + b * b) / (b / fraction.of);
    const cells = [square(0, 0, a, 'tile'), square(a, 0, b, 'dot')];
    const unit = { widthMm: side, heightMm: side, courses: 1 };
    return repeatedUnit(unitOfLattice([a, b], [-b, a], unit, cells), asked.repeatMm);
  },
});

/** A ratio of small whole numbers. */
function fractionOf(ratio: number): { over: number; of: number } {
  for (let of = 1; of <= 6; of++)
    if (Math.abs(ratio * of - Math.round(ratio * of)) < 1e-6) return { over: Math.round(ratio * of), of };
  return { over: Math.round(ratio), of: 1 };
}

const tumbling = bond({
  kind: 'tumbling',
  name: 'Tumbling blocks',
  family: 'Tiles',
  settings: none,
  typical: typical(100, 86.6, 3, 714, 618),
  sized: 'width',
  random: false,
  lay(asked) {
    const { widthMm, joint } = asked;
    // The width of the piece is the height of the rhombus; its side follows.
    const side = (2 * (widthMm + joint.alongMm)) / ROOT3;
    // Three about the middle of a hexagon that stands on its corner.
    const cells = (['top', 'left', 'right'] as const).map((kind, k): Cell => {
      const first = 30 + 120 * k;
      const [at, next, last] = [0, 60, 120].map((deg) => corner(1, 0, first + deg, side));
      return {
        outline: [[0, 0], at!, next!, last!],
        jointMm: Array<number>(4).fill(joint.alongMm),
        course: 0,
        directionDeg: { top: 30, left: 150, right: 90 }[kind],
        nominalMm: { length: (2 * widthMm) / ROOT3, width: widthMm },
        kind,
      };
    });
    const [width, height] = [ROOT3 * side, 3 * side];
    const unit = { widthMm: width, heightMm: height, courses: 2 };
    return repeatedUnit(unitOfLattice([width, 0], [width / 2, 1.5 * side], unit, cells), asked.repeatMm);
  },
});

export const TILES = [stack, running, hexagon, octagon, fishScale, penny, pinwheel, tumbling] as const;
