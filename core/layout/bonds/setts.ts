import { Clipper, FillRule } from 'clipper2-ts';
import { z } from 'zod';
import type { Steps } from '../../steps';
import { printMm } from '../../units';
import type { Cell, LaidCells } from '../cell';
import { merged, sharedLength } from '../merge';
import { splittingSteps } from '../net';
import { areaOf, boxOf, holds, hullOf, type Box, type Outline, type Point } from '../polygon';
import { roughSteps } from '../rough';
import { bond, moduleOf, typical, type AskedOfBond } from './bond';
import { coursesSteps } from './courses';
import { repeatedUnit, unitOfLattice } from './periodic';
import { scaleOutline } from './tiles';

/** Paving of setts: cubes and small blocks of stone that are split, so that no two are alike. */

const roughSchema = z
  .number()
  .min(0, 'A roughness is 0 or more.')
  .max(1, 'A roughness is at most 1.')
  .describe('How rough the setts are split: 0 sawn, 1 as split');

/** Setts as they are split. */
function* splitSteps(
  laid: LaidCells,
  { widthMm, settings, random }: AskedOfBond<{ rough: number }>,
): Steps<LaidCells> {
  if (settings.rough === 0) return laid;
  const rough = {
    cornerMm: 0.06 * settings.rough * widthMm,
    edgeMm: 0.04 * settings.rough * widthMm,
    roundMm: 0.1 * settings.rough * widthMm,
    stepMm: Math.max(4, 0.2 * widthMm),
  };
  return { ...laid, cells: yield* roughSteps(laid.cells, laid.repeatMm, rough, random) };
}

const rows = bond({
  kind: 'setts-rows',
  name: 'Setts in rows',
  family: 'Setts',
  settings: z.object({ rough: roughSchema }),
  typical: typical(130, 100, 10, 1150, 880),
  sized: 'both',
  random: true,
  *lay(asked) {
    const { l, w } = moduleOf(asked);
    // Long rows fit each other only by pairs.
    const up = 2 * Math.max(1, Math.round(asked.repeatMm.height / (2 * w)));
    const lengths = { shortest: 0.7 * l, longest: l, stagger: 0.2 * l };
    return yield* splitSteps(yield* coursesSteps(Array<number>(up).fill(w), lengths, asked), asked);
  },
});

const arcs = bond({
  kind: 'setts-arcs',
  name: 'Setts in arcs',
  family: 'Setts',
  settings: z.object({
    bayMm: z
      .number()
      .min(50, 'A bay is at least 50 mm wide.')
      .max(20000)
      .describe('Width of a bay of arcs, mm'),
    rough: roughSchema,
  }),
  typical: typical(90, 90, 8, 1400, 980),
  sized: 'both',
  random: true,
  *lay(asked) {
    const { l, w } = moduleOf(asked);
    const { bayMm } = asked.settings;
    if (bayMm < 4 * l)
      throw new RangeError(
        `A bay of ${printMm(bayMm)} mm is too narrow for arcs of setts ${printMm(asked.lengthMm)} mm long. Make it at least ${Math.ceil(4 * l)} mm.`,
      );
    const bays = Math.max(1, Math.round(asked.repeatMm.width / bayMm));
    const up = 2 * Math.max(1, Math.round(asked.repeatMm.height / (2 * w)));
    const cells: Cell[] = [];
    for (let bay = 0; bay < bays; bay++)
      for (let row = 0; row < up; row++) {
        yield;
        cells.push(...rowOfArc(bay * bayMm, row, bayMm, { l, w, asked }));
      }
    return yield* splitSteps(
      { repeatMm: { width: bays * bayMm, height: up * w }, cells, courses: up },
      asked,
    );
  },
});

/** Half of the angle that an arc spans: a quarter of a circle from bay to bay. */
const HALF_ARC = Math.PI / 4;
/** Straight pieces of an arc between two joints. */
const IN_A_STONE = 2;

interface ArcRow {
  l: number;
  w: number;
  asked: AskedOfBond<unknown>;
}

/**
 * One row of a bay. Arcs lie above each other by the width of a row; the joints stand square to them. The corners of the
 * rows below and above are corners of this one too, so that rows meet without a gap.
 */
function rowOfArc(x0: number, row: number, bay: number, { l, w, asked }: ArcRow): Cell[] {
  const radius = bay / 2 / Math.sin(HALF_ARC);
  const stones = Math.max(3, Math.round((2 * HALF_ARC * radius) / l));
  const y0 = row * w;
  const line = (of: number, upper: boolean) => jointsOf(stones, of, radius, w, upper);
  const [bottom, top] = [line(row, false), line(row, true)];
  // The arc below carries the upper ends of the joints of the row below, the arc above the lower ones of the row above.
  const below = [...bottom, ...line(row + 1, true), ...between(stones)].sort((a, b) => a - b);
  const above = [...top, ...line(row + 1, false), ...between(stones)].sort((a, b) => a - b);
  const on = (angle: number, dy: number): Point => [
    x0 + bay / 2 + radius * Math.sin(angle),
    y0 + dy + radius * (Math.cos(angle) - Math.cos(HALF_ARC)),
  ];
  const { alongMm, acrossMm } = asked.joint;
  return bottom.slice(0, -1).map((from, k): Cell => {
    const lower = anglesBetween(below, from, bottom[k + 1]!).map((a) => on(a, 0));
    const upper = anglesBetween(above, top[k]!, top[k + 1]!)
      .map((a) => on(a, w))
      .reverse();
    const middle = (from + bottom[k + 1]!) / 2;
    return {
      outline: [...lower, ...upper],
      jointMm: [
        ...lower.map((_, n) => (n === lower.length - 1 ? acrossMm : alongMm)),
        ...upper.map((_, n) => (n === upper.length - 1 ? acrossMm : alongMm)),
      ],
      course: row,
      directionDeg: (360 - (middle * 180) / Math.PI) % 360,
      nominalMm: { length: asked.lengthMm, width: asked.widthMm },
      kind: 'sett',
    };
  });
}

/** Angles of the joints of a row from the middle of the bay, both ends included; odd rows are shifted by half a stone. */
function jointAngles(stones: number, row: number): number[] {
  const at = (k: number) => -HALF_ARC + (2 * HALF_ARC * k) / stones;
  const inner = row % 2 === 0 ? 1 : 0.5;
  const count = row % 2 === 0 ? stones - 1 : stones;
  // Shifted rows end in halves, which are made a little longer at the cost of the stone beside them.
  const joints = Array.from({ length: count }, (_, k) => at(k + inner));
  if (row % 2 === 1) {
    joints[0] = at(LONGER_HALF);
    joints[count - 1] = at(stones - LONGER_HALF);
  }
  return [at(0), ...joints, at(stones)];
}

/** Length of the stone at the end of a shifted row, in stones. */
const LONGER_HALF = 0.62;

/** A joint keeps this far from the ends of its row on both arcs, in stones. */
const LEAST_END = 0.4;

/** Angles at which the joints of a row meet the arc at its lower or upper side; both ends are among them. */
function jointsOf(stones: number, row: number, radius: number, w: number, upper: boolean): number[] {
  const most = HALF_ARC * (1 - (2 * LEAST_END) / stones);
  const inner = jointAngles(stones, row)
    .slice(1, -1)
    .filter((a) => [true, false].every((side) => Math.abs(meets(a, radius, w, side)) <= most));
  return [-HALF_ARC, ...inner.map((a) => meets(a, radius, w, upper)), HALF_ARC];
}

/** Where a joint that stands square to the middle of its row meets the arc at the lower or the upper side of it. */
function meets(angle: number, radius: number, w: number, upper: boolean): number {
  if (Math.abs(Math.abs(angle) - HALF_ARC) < 1e-9) return angle;
  const [mx, my] = [radius * Math.sin(angle), radius * Math.cos(angle) + w / 2];
  const [nx, ny] = [Math.sin(angle), Math.cos(angle)];
  const cy = upper ? w : 0;
  // |M + t·n − C| = radius
  const [px, py] = [mx, my - cy];
  const b = px * nx + py * ny;
  const c = px * px + py * py - radius * radius;
  const t = -b + (b < 0 ? -1 : 1) * Math.sqrt(Math.max(0, b * b - c));
  const [x, y] = [px + t * nx, py + t * ny];
  return Math.max(-HALF_ARC, Math.min(HALF_ARC, Math.atan2(x, y)));
}

const between = (stones: number): number[] =>
  Array.from(
    { length: IN_A_STONE * stones - 1 },
    (_, k) => -HALF_ARC + (2 * HALF_ARC * (k + 1)) / (IN_A_STONE * stones),
  );

/** Angles from one to another, both included, without those that are the same. */
function anglesBetween(all: readonly number[], from: number, to: number): number[] {
  const inner = all.filter((a) => a > from + 1e-4 && a < to - 1e-4);
  return [from, ...inner.filter((a, k) => k === 0 || a - inner[k - 1]! > 1e-4), to];
}

const fans = bond({
  kind: 'setts-fans',
  name: 'Setts in fans',
  family: 'Setts',
  settings: z.object({
    fanMm: z.number().min(50, 'A fan is at least 50 mm wide.').max(20000).describe('Width of a fan, mm'),
    rough: roughSchema,
  }),
  typical: typical(90, 80, 7, 1400, 1400),
  sized: 'both',
  random: true,
  *lay(asked) {
    const { l, w } = moduleOf(asked);
    const { fanMm } = asked.settings;
    if (fanMm < 5 * w)
      throw new RangeError(
        `A fan of ${printMm(fanMm)} mm is too small for setts ${printMm(asked.widthMm)} mm wide. Make it at least ${Math.ceil(5 * w)} mm.`,
      );
    const cells = yield* fanSteps(fanMm, l, w, asked);
    const unit = { widthMm: fanMm, heightMm: fanMm, courses: 2 };
    const laid = repeatedUnit(unitOfLattice([fanMm, 0], [fanMm / 2, fanMm / 2], unit, cells), asked.repeatMm);
    return yield* splitSteps(laid, asked);
  },
});

/** Decimals of a mm that clipping keeps. */
const PRECISION = 6;
/** A stone that was cut to less than this share of a whole one is joined to its neighbour. */
const SLIVER = 0.45;

/** The setts of one fan: rings about its middle, cut at its sides. */
function* fanSteps(fanMm: number, l: number, w: number, asked: AskedOfBond<unknown>): Steps<Cell[]> {
  const radius = fanMm / 2;
  const rings = Math.max(2, Math.round(radius / w));
  const pitch = radius / rings;
  const shape = scaleOutline(fanMm);
  const stones: StoneOfRing[] = [];
  const joints = Array.from({ length: rings }, (_, ring) =>
    ring === 0 ? [0.25, 0.25 + 1 / 3, 0.25 + 2 / 3] : jointTurns((ring + 0.5) * pitch, l, shape, ring),
  );
  for (let ring = 0; ring < rings; ring++) {
    yield;
    for (const sector of sectorsOf(ring, joints, pitch))
      for (const outline of clipped(sector, shape)) stones.push({ outline, ring });
  }
  const whole = yield* withoutSlivers(stones, SLIVER * l * pitch);
  const { alongMm } = asked.joint;
  return whole.map(({ outline, ring }): Cell => {
    const [x, y] = outline.reduce(([sx, sy], [px, py]) => [sx + px, sy + py], [0, 0]);
    return {
      outline,
      jointMm: outline.map(() => alongMm),
      course: ring,
      directionDeg: ((Math.atan2(y, x) * 180) / Math.PI + 450) % 360,
      nominalMm: { length: asked.lengthMm, width: asked.widthMm },
      kind: 'sett',
    };
  });
}

/** Directions in which a ring is looked at for where it enters and leaves the fan. */
const LOOKS = 720;

/**
 * Angles of the joints of a ring, in turns. The ring is divided evenly where it lies within the fan, so that no stone at its
 * side is much smaller than the others; outside, one joint parts the stones at either side.
 * @param radius of the middle of the ring
 */
function jointTurns(radius: number, length: number, shape: Outline, ring: number): number[] {
  const inside = Array.from({ length: LOOKS }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.5)) / LOOKS;
    return holds(shape, [radius * Math.cos(angle), radius * Math.sin(angle)]);
  });
  const around = (2 * Math.PI * radius) / length;
  const first = inside.findIndex((is, k) => is && !inside[(k + LOOKS - 1) % LOOKS]);
  if (first < 0) {
    const count = Math.max(4, Math.round(around));
    return Array.from({ length: count }, (_, k) => (k + (ring % 2) / 2 + 0.25) / count);
  }
  const joints: number[] = [];
  for (let k = 0; k < LOOKS;) {
    let run = k;
    const is = inside[(first + k) % LOOKS]!;
    while (run < LOOKS && inside[(first + run) % LOOKS] === is) run++;
    const [from, to] = [(first + k) / LOOKS, (first + run) / LOOKS];
    const count = Math.max(1, Math.round((to - from) * around));
    if (is) for (let n = 1; n < count; n++) joints.push(from + ((to - from) * n) / count);
    else joints.push((from + to) / 2);
    k = run;
  }
  return joints.map((t) => t % 1).sort((p, q) => p - q);
}

/** Fixed places on every ring, in turns, so that circles are round. */
const ROUND = Array.from({ length: 96 }, (_, k) => k / 96);

/** Whole setts of a ring. Circles between rings carry the corners of both. */
function sectorsOf(ring: number, rings: readonly (readonly number[])[], pitch: number): Point[][] {
  const joints = rings[ring]!;
  const circle = (k: number) =>
    [...ROUND, ...(rings[k - 1] ?? []), ...(rings[k] ?? [])].sort((a, b) => a - b);
  const arcOn = (k: number, from: number, to: number): Point[] => {
    const turns = circle(k);
    const inner = [...turns, ...turns.map((t) => t + 1)].filter((t) => t > from + 1e-5 && t < to - 1e-5);
    const plain = inner.filter((t, n) => n === 0 || t - inner[n - 1]! > 1e-5);
    return [from, ...plain, to].map((t) => {
      const angle = 2 * Math.PI * (t % 1);
      return [k * pitch * Math.cos(angle), k * pitch * Math.sin(angle)];
    });
  };
  return joints.map((from, k) => {
    const to = k + 1 < joints.length ? joints[k + 1]! : joints[0]! + 1;
    const inner: Point[] = ring === 0 ? [[0, 0]] : arcOn(ring, from, to).reverse();
    return [...arcOn(ring + 1, from, to), ...inner];
  });
}

function clipped(outline: Outline, shape: Outline): Point[][] {
  const path = (points: Outline) => points.map(([x, y]) => ({ x, y }));
  return Clipper.intersectD([path(outline)], [path(shape)], FillRule.NonZero, PRECISION)
    .map((found) => found.map(({ x, y }): Point => [x, y]))
    .filter((found) => areaOf(found) > 1e-3);
}

interface StoneOfRing {
  outline: Point[];
  ring: number;
}

/** Joins what is too small to be a stone to the neighbour with which it shares most. */
function* withoutSlivers(stones: readonly StoneOfRing[], leastMm2: number): Steps<StoneOfRing[]> {
  const huge = { width: 1e7, height: 1e7 };
  const asCells = stones.map(({ outline }): Cell => ({
    outline,
    jointMm: outline.map(() => 0),
    course: 0,
    directionDeg: 0,
    nominalMm: { length: 0, width: 0 },
    kind: '',
  }));
  // Moved away from the edge of the sheet, so that nothing is folded.
  const off = 1e6;
  const moved = asCells.map((c) => ({ ...c, outline: c.outline.map(([x, y]): Point => [x + off, y + off]) }));
  const { cells } = yield* splittingSteps(moved, huge);
  const out = cells.map((cell, k) => {
    const outline = cell.outline.map(([x, y]): Point => [x - off, y - off]);
    return { outline, ring: stones[k]!.ring, box: boxOf(outline) };
  });
  for (;;) {
    yield;
    const small = out
      .map((stone, k) => ({ k, area: areaOf(stone.outline) }))
      .filter(({ area }) => area < leastMm2)
      .sort((a, b) => a.area - b.area);
    const joined = small.some(({ k }) => joinToNeighbour(out, k));
    if (!joined) return out;
  }
}

/** The neighbour with which it comes nearest to a plain shape takes it. @returns whether there is one */
function joinToNeighbour(stones: (StoneOfRing & { box: Box })[], small: number): boolean {
  const own = stones[small]!;
  let best: { k: number; outline: Point[]; fullness: number } | null = null;
  stones.forEach((stone, k) => {
    if (k === small || !touch(own.box, stone.box)) return;
    if (sharedLength(own.outline, stone.outline) === 0) return;
    const outline = merged(own.outline, stone.outline);
    const fullness = outline ? areaOf(outline) / areaOf(hullOf(outline)) : 0;
    if (outline && fullness > (best?.fullness ?? 0)) best = { k, outline, fullness };
  });
  if (!best) return false;
  const { k, outline } = best as { k: number; outline: Point[] };
  stones[k] = { outline, ring: stones[k]!.ring, box: boxOf(outline) };
  stones.splice(small, 1);
  return true;
}

/** Outlines are the same where they differ by less, mm. */
const TOUCHING_MM = 1e-3;

const touch = (a: Box, b: Box): boolean =>
  a.left < b.right + TOUCHING_MM &&
  b.left < a.right + TOUCHING_MM &&
  a.bottom < b.top + TOUCHING_MM &&
  b.bottom < a.top + TOUCHING_MM;

export const SETTS = [rows, arcs, fans] as const;
