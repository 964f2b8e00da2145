import { areaOf, type Lattice, type Vector } from './search';

/**
 * A lattice read as courses: the shortest way along them after which everything comes back, the height of one, and by how
 * much each is shifted against the one above it. Where only one axis repeats the other is null.
 */
export interface Courses {
  acrossPx: number | null;
  upPx: number | null;
  /** Share of the way along by which the next course down is shifted to the right, 0 ≤ stagger < 1. */
  stagger: number;
}

/** Courses as they are in a picture of another scale. */
export const scaledCourses = ({ acrossPx, upPx, stagger }: Courses, factor: number): Courses => ({
  acrossPx: acrossPx && acrossPx * factor,
  upPx: upPx && upPx * factor,
  stagger,
});

/** Courses run within this tangent of the picture's rows. */
const ALONG = 0.1;
/**
 * A vector that leans by this tangent counts twice as long: the picture was levelled by its lines before, and a herringbone has shorter
 * ways that lean a little.
 */
const LEANS = 0.02;
const against = ([x, y]: Vector) => x * (1 + Math.abs(y) / x / LEANS);
/** Whole multiples of the lattice's vectors that are looked at. */
const MULTIPLES = 8;

/** Shifts that bonds and drafts have. A shift within its error of one is that one. */
const USUAL_SHIFTS = [0, 1 / 8, 1 / 6, 1 / 5, 1 / 4, 1 / 3, 3 / 8, 2 / 5, 1 / 2].flatMap((s) => [s, 1 - s]);

/** A shift that is within `error` of a usual one. Wide errors take the plainest. */
export function snappedShift(share: number, error: number): number {
  const off = (s: number) => Math.abs(share - s);
  const within = USUAL_SHIFTS.filter((s) => off(s) <= error).sort((a, b) => off(a) - off(b));
  return within.length ? within[0]! % 1 : share;
}

/** The shift of a lattice that is known so well, as a share of the way along. */
const SHIFT_ERROR = 0.02;

/**
 * @returns courses, and the tangent by which they fall to the right; null: no vector of the lattice runs along the picture's
 * rows
 */
export function coursesOf(lattice: Lattice): { courses: Courses; falls: number } | null {
  let along: Vector | null = null;
  for (let j = -MULTIPLES; j <= MULTIPLES; j++)
    for (let i = -MULTIPLES; i <= MULTIPLES; i++) {
      const v: Vector = [
        i * lattice.first[0] + j * lattice.second[0],
        i * lattice.first[1] + j * lattice.second[1],
      ];
      if (v[0] > 1 && Math.abs(v[1]) <= ALONG * v[0] && (!along || against(v) < against(along))) along = v;
    }
  if (!along) return null;
  const length = Math.hypot(...along);
  const upPx = areaOf(lattice) / length;
  // A vector of the next course down: any whose height over the first is that of one course.
  for (const v of [lattice.first, lattice.second, sum(lattice, 1), sum(lattice, -1)].flatMap(withMultiples)) {
    const height = (along[0] * v[1] - along[1] * v[0]) / length;
    if (Math.abs(height / upPx - 1) > 0.01) continue;
    const share = (v[0] * along[0] + v[1] * along[1]) / (length * length);
    const stagger = snappedShift(share - Math.floor(share), SHIFT_ERROR);
    return { courses: { acrossPx: length, upPx, stagger }, falls: along[1] / along[0] };
  }
  return null;

  function withMultiples(v: Vector): Vector[] {
    const out: Vector[] = [];
    for (const sign of [1, -1])
      for (let j = -MULTIPLES; j <= MULTIPLES; j++)
        for (const other of [lattice.first, lattice.second])
          out.push([sign * v[0] + j * other[0], sign * v[1] + j * other[1]]);
    return out;
  }
}

const sum = ({ first, second }: Lattice, sign: number): Vector => [
  first[0] + sign * second[0],
  first[1] + sign * second[1],
];
