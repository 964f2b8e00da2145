import { hashUnit } from '@jossel/core/raster';

/** Ways of laying pieces, as a rule that says of any place which piece lies there and how far its edge is. */

/** What lies at a place. */
export interface Laid {
  /** Two whole numbers that name the piece. */
  piece: readonly [number, number];
  /** From the middle of the nearest joint, mm. */
  fromJointMm: number;
  /** The piece is seen at its end, as headers are; or the other set of yarns. */
  kind: 0 | 1;
}

export interface Laying {
  name: string;
  at: (xMm: number, yMm: number) => Laid;
  /**
   * What repeats: the shortest way along the courses after which everything comes back, the way up, and the shift that goes
   * with it as a share of the way along; null: nothing does on that axis.
   */
  truth: { acrossMm: number | null; upMm: number | null; stagger: number };
  /** Joint between pieces, mm; 0 where pieces touch. */
  jointMm: number;
}

/** One course: lengths of its pieces with their joints, in order; where the first begins. */
interface Course {
  fromMm: number;
  lengthsMm: readonly number[];
}

/** How true pieces are laid: their ends and beds stray by a normal share of this, mm. */
const strayed = (a: number, b: number, seed: number, strayMm: number) =>
  strayMm * 1.7 * (hashUnit(a, b, 1, seed) - hashUnit(a, b, 2, seed));

/**
 * Pieces in courses that come back after a number of them.
 * @param heightMm of a course with its joint
 */
export function coursed(
  name: string,
  courses: readonly Course[],
  heightMm: number,
  truth: Laying['truth'],
  { jointMm = 10, strayMm = 1, seed = 1 } = {},
): Laying {
  const periodMm = courses[0]!.lengthsMm.reduce((a, b) => a + b, 0);
  const longestMm = Math.max(...courses.flatMap((c) => c.lengthsMm));
  const bed = (row: number) => row * heightMm + strayed(row, -77, seed, strayMm / 2);
  const at = (x: number, y: number): Laid => {
    let row = Math.floor(y / heightMm);
    if (y < bed(row)) row--;
    else if (y >= bed(row + 1)) row++;
    const fromBed = Math.min(y - bed(row), bed(row + 1) - y);
    const course = courses[((row % courses.length) + courses.length) % courses.length]!;
    const along = x - course.fromMm;
    const turns = Math.floor(along / periodMm);
    // Pieces of three periods, so that one that strays over the edge of its own is found.
    let [number, start] = [(turns - 1) * course.lengthsMm.length, (turns - 1) * periodMm];
    let found: Laid | null = null;
    for (let k = 0; k < 3 * course.lengthsMm.length && !found; k++) {
      const lengthMm = course.lengthsMm[k % course.lengthsMm.length]!;
      const from = start + strayed(number, row, seed, strayMm);
      const to = start + lengthMm + strayed(number + 1, row, seed, strayMm);
      if (along >= from && along < to)
        found = {
          piece: [number, row],
          fromJointMm: Math.min(along - from, to - along, fromBed),
          kind: lengthMm < 0.75 * longestMm ? 1 : 0,
        };
      number++;
      start += lengthMm;
    }
    return found ?? { piece: [number, row], fromJointMm: 0, kind: 0 };
  };
  return { name, at, truth, jointMm };
}

/** Boards of any length: a course comes back, their ends do not. */
export function boarded(heightMm: number, seed: number, jointMm = 2): Laying {
  const at = (x: number, y: number): Laid => {
    const row = Math.floor(y / heightMm);
    let [number, start] = [0, -4000 + 900 * hashUnit(row, 3, 0, seed)];
    for (;;) {
      const length = 500 + 900 * hashUnit(row, number, 4, seed);
      if (x < start + length || number > 40)
        return {
          piece: [number, row],
          fromJointMm: Math.min(x - start, start + length - x, y - row * heightMm, (row + 1) * heightMm - y),
          kind: 0,
        };
      start += length;
      number++;
    }
  };
  return { name: 'boards', at, truth: { acrossMm: null, upMm: heightMm, stagger: 0 }, jointMm };
}

/** Middle of a piece, mm, and the piece's name. */
interface Middle {
  xMm: number;
  yMm: number;
  piece: readonly [number, number];
}

/** Nearest of some middles, and how far the line between it and the next nearest is. */
function nearest(x: number, y: number, middles: readonly Middle[]): Laid {
  let [first, second] = [Infinity, Infinity];
  let { piece } = middles[0]!;
  for (const middle of middles) {
    const [dx, dy] = [middle.xMm - x, middle.yMm - y];
    const d = Math.sqrt(dx * dx + dy * dy);
    if (d < first) {
      second = first;
      first = d;
      ({ piece } = middle);
    } else if (d < second) second = d;
  }
  return { piece, fromJointMm: (second - first) / 2, kind: 0 };
}

/** Keeps what was worked out for a cell of the plane. */
function perCell<T>(work: (i: number, j: number) => T): (i: number, j: number) => T {
  const kept = new Map<number, T>();
  return (i, j) => {
    const key = i * 65536 + j;
    let value = kept.get(key);
    if (value === undefined) kept.set(key, (value = work(i, j)));
    return value;
  };
}

/** Regular hexagons, points up. @param acrossMm from flat to flat, with the joint */
export function hexagons(acrossMm: number, jointMm = 3): Laying {
  const heightMm = (acrossMm * Math.sqrt(3)) / 2;
  // Within half a hexagon's width the same ones are nearest in every row.
  const about = perCell((half, row) => {
    const middles: Middle[] = [];
    for (let j = row - 1; j <= row + 1; j++) {
      const shift = j & 1 ? 0.5 : 0;
      const column = Math.round((half + 0.5) / 2 - shift);
      for (let i = column - 1; i <= column + 1; i++)
        middles.push({ xMm: (i + shift) * acrossMm, yMm: j * heightMm, piece: [i, j] });
    }
    return middles;
  });
  const at = (x: number, y: number): Laid =>
    nearest(x, y, about(Math.floor((2 * x) / acrossMm), Math.round(y / heightMm)));
  return { name: 'hexagons', at, truth: { acrossMm, upMm: heightMm, stagger: 0.5 }, jointMm };
}

/** Blocks twice as long as wide in herringbone, their arms at 45° to the picture. @param widthMm with the joint */
export function herringbone(widthMm: number, jointMm = 4): Laying {
  const c = Math.SQRT1_2;
  const at = (x: number, y: number): Laid => {
    const [u, v] = [(c * (x + y)) / widthMm, (c * (y - x)) / widthMm];
    // In block widths: along a row two fields of a lying block, then one each of two standing ones; one on in every row.
    const [a, b] = [Math.floor(u), Math.floor(v)];
    const lies = (p: number, q: number) => (((p - q) % 4) + 4) % 4;
    const step = lies(a, b);
    const [left, low, w, h, kind] =
      step === 0
        ? ([a, b, 2, 1, 0] as const)
        : step === 1
          ? ([a - 1, b, 2, 1, 0] as const)
          : step === 2
            ? ([a, b - 1, 1, 2, 1] as const)
            : ([a, b, 1, 2, 1] as const);
    return {
      piece: [left, 2 * low + kind],
      fromJointMm: widthMm * Math.min(u - left, left + w - u, v - low, low + h - v),
      kind,
    };
  };
  return {
    name: 'herringbone',
    at,
    truth: { acrossMm: 2 * widthMm * Math.SQRT2, upMm: widthMm * Math.SQRT2, stagger: 0 },
    jointMm,
  };
}

/**
 * Cloth: which yarn lies on top. @param over of warp i and weft j, after `repeat` of each: whether the warp is on top
 */
export function woven(
  name: string,
  yarnMm: number,
  repeat: readonly [number, number],
  over: (i: number, j: number) => boolean,
  truth: Laying['truth'],
): Laying {
  const at = (x: number, y: number): Laid => {
    const [i, j] = [Math.floor(x / yarnMm), Math.floor(y / yarnMm)];
    const wrap = (k: number, n: number) => ((k % n) + n) % n;
    const warp = over(wrap(i, repeat[0]), wrap(j, repeat[1]));
    const [fx, fy] = [x / yarnMm - i, y / yarnMm - j];
    return {
      piece: warp ? [i, 1e6] : [1e6, j],
      fromJointMm: yarnMm * (warp ? Math.min(fx, 1 - fx) : Math.min(fy, 1 - fy)),
      kind: warp ? 0 : 1,
    };
  };
  return { name, at, truth, jointMm: 0.18 * yarnMm };
}

/** Stones of about one size, laid by eye: cobbles, rubble, crazy paving. @param stray 0 on a grid … 1 anywhere */
export function stones(name: string, sizeMm: number, stray: number, seed: number, jointMm = 12): Laying {
  const middle = (i: number, j: number): Middle => ({
    xMm: (i + 0.5 + stray * (hashUnit(i, j, 5, seed) - 0.5) + (j & 1 ? 0.5 : 0)) * sizeMm,
    yMm: (j + 0.5 + stray * (hashUnit(i, j, 6, seed) - 0.5)) * sizeMm,
    piece: [i, j],
  });
  const about = perCell((a, b) => {
    const middles: Middle[] = [];
    for (let j = b - 2; j <= b + 2; j++) for (let i = a - 2; i <= a + 2; i++) middles.push(middle(i, j));
    return middles;
  });
  const at = (x: number, y: number): Laid =>
    nearest(x, y, about(Math.floor(x / sizeMm), Math.floor(y / sizeMm)));
  return { name, at, truth: { acrossMm: null, upMm: null, stagger: 0 }, jointMm };
}

/** Boards of several widths in no order: nothing repeats. */
export function mixedBoards(seed: number, jointMm = 3): Laying {
  const edges: number[] = [-6000];
  for (let k = 0; edges[edges.length - 1]! < 6000; k++)
    edges.push(edges[edges.length - 1]! + 55 + 130 * hashUnit(k, 8, 0, seed));
  const at = (_x: number, y: number): Laid => {
    const row = edges.findIndex((e) => e > y) - 1;
    return { piece: [0, row], fromJointMm: Math.min(y - edges[row]!, edges[row + 1]! - y), kind: 0 };
  };
  return { name: 'boards of several widths', at, truth: { acrossMm: null, upMm: null, stagger: 0 }, jointMm };
}
