import { solveLinear, squared } from '../exact';
import { ciede2000, labToXyz, linearToLab, lrvOf, multiply, xyzToLinear, type Triple } from '../colour';
import { luminanceOf, type ColourPicture } from '../raster';
import {
  CARD_MARKS_MM,
  CARD_MM,
  CARD_PATCHES,
  CARD_WHITE,
  fromMiddle,
  project,
  solveHomography,
  toShares,
  withBow,
  withoutBow,
  type LensBow,
  type PictureShape,
  type Point,
} from '../straighten';

/** What a patch is known to be. */
export interface ReferencePatch {
  name: string;
  lab: Triple;
}

/** What the card's own print is known to be. */
export const CARD_REFERENCE: readonly ReferencePatch[] = CARD_PATCHES.map(({ name, lab }) => ({ name, lab }));

/** A patch as it stands in a photograph. */
export interface SeenPatch {
  name: string;
  /** Middle of it, shares of the picture as received. */
  at: Point;
  /** Mean over its middle, linear light as received. */
  linear: Triple;
  /** Share of its pixels that are clipped. */
  clipped: number;
}

/** Places on the card, in mm, put into shares of the picture; the lens's bow is heeded. */
export function cardInPicture(
  picture: PictureShape,
  bow: LensBow,
  marks: readonly Point[],
): (mm: Point) => Point {
  const plane = solveHomography(
    CARD_MARKS_MM,
    marks.map((p) => withoutBow(bow, fromMiddle(picture, p))),
  );
  return (mm) => toShares(picture, withBow(bow, project(plane, mm)));
}

/** Where the card lies, as an outline in shares of the picture, a little larger than the card. */
export function cardOutline(toPicture: (mm: Point) => Point, growMm = 4): Point[] {
  const [l, t, r, b] = [-growMm, -growMm, CARD_MM.width + growMm, CARD_MM.height + growMm];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ].map((p) => toPicture(p as unknown as Point));
}

/** Pixels read across a field of the card, each way. */
const READ = 15;
const CLIPPED = 0.985;

/** Mean of the middle of a field of the card; brightest and darkest eighth left out, so that a speck does not count. */
function readField(
  picture: ColourPicture,
  toPicture: (mm: Point) => Point,
  [left, top, width, height]: readonly [number, number, number, number],
): { linear: Triple; clipped: number } {
  const { widthPx: w, heightPx: h, r, g, b } = picture;
  const seen: [number, number, number, number][] = [];
  let clipped = 0;
  for (let j = 0; j < READ; j++)
    for (let i = 0; i < READ; i++) {
      const at = toPicture([left + (width * (i + 0.5)) / READ, top + (height * (j + 0.5)) / READ]);
      const x = Math.min(w - 1, Math.max(0, Math.floor(at[0] * w)));
      const y = Math.min(h - 1, Math.max(0, Math.floor(at[1] * h)));
      const k = y * w + x;
      const [cr, cg, cb] = [r[k]!, g[k]!, b[k]!];
      if (Math.max(cr, cg, cb) > CLIPPED) clipped++;
      seen.push([luminanceOf(cr, cg, cb), cr, cg, cb]);
    }
  seen.sort((a, c) => a[0] - c[0]);
  const cut = seen.slice(Math.floor(seen.length / 8), Math.ceil((7 * seen.length) / 8));
  const mean = [1, 2, 3].map((k) => cut.reduce((s, v) => s + v[k]!, 0) / cut.length);
  return { linear: mean as unknown as Triple, clipped: clipped / seen.length };
}

/** Reads all patches of the target card in a photograph, linear light as received. */
export function readCard(picture: ColourPicture, toPicture: (mm: Point) => Point): SeenPatch[] {
  return CARD_PATCHES.map(({ name, leftMm, topMm, widthMm, heightMm }) => ({
    name,
    at: toPicture([leftMm + widthMm / 2, topMm + heightMm / 2]),
    ...readField(picture, toPicture, [
      leftMm + 0.22 * widthMm,
      topMm + 0.22 * heightMm,
      0.56 * widthMm,
      0.56 * heightMm,
    ]),
  }));
}

/** Bare paper round the patches of the card, where nothing is printed: places and sizes in mm. */
const PAPER: readonly (readonly [number, number, number, number])[] = [
  ...[22, 40, 58, 76, 90].flatMap((x) => [[x, 1.2, 6, 2.4] as const, [x, 76.9, 6, 2.2] as const]),
  ...[22, 34, 46].flatMap((y) => [[2, y, 8, 5] as const, [108, y, 8, 5] as const]),
];

/**
 * Places of known reflectance on the card by which the light over it is judged: its greys and its bare paper.
 * A cast does not disturb: all are neutral, so it shifts them alike.
 */
export function lightOnCard(
  picture: ColourPicture,
  toPicture: (mm: Point) => Point,
  seen: readonly SeenPatch[],
  reference: readonly ReferencePatch[],
): { at: Point; log: number }[] {
  const logOf = (linear: Triple, lab: Triple) =>
    Math.log(Math.max(1e-6, lrvOf(linear) / 100) / Math.max(1e-6, labToXyz(lab)[1]));
  const greys = seen.flatMap((patch) => {
    const known = reference.find((p) => p.name === patch.name);
    // Very dark patches say little: stray light weighs more than the print.
    return known && Math.hypot(known.lab[1], known.lab[2]) < 4 && known.lab[0] > 40 && patch.clipped < 0.02
      ? [{ at: patch.at, log: logOf(patch.linear, known.lab) }]
      : [];
  });
  const paper = PAPER.map((field) => {
    const { linear, clipped } = readField(picture, toPicture, field);
    return {
      at: toPicture([field[0] + field[2] / 2, field[1] + field[3] / 2]),
      log: logOf(linear, CARD_WHITE),
      clipped,
    };
  }).filter((p) => p.clipped < 0.02);
  return [...greys, ...paper.map(({ at, log }) => ({ at, log }))];
}

/** From linear light as received to true linear light: three rows and an offset each. */
export interface ColourMatrix {
  rows: readonly [Triple, Triple, Triple];
  offset: Triple;
}

export const NO_MATRIX: ColourMatrix = {
  rows: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  offset: [0, 0, 0],
};

export const throughMatrix = ({ rows, offset }: ColourMatrix, linear: Triple): Triple => {
  const [r, g, b] = multiply(rows, linear);
  return [r + offset[0], g + offset[1], b + offset[2]];
};

/** How one patch came out. */
export interface PatchError {
  name: string;
  /** What it is. */
  lab: Triple;
  /** CIEDE2000 as received, and through the matrix. */
  before: number;
  after: number;
  /** Not used for the fit: by hand, or because it is clipped. */
  leftOut: 'by hand' | 'clipped' | null;
}

export interface TargetFit {
  matrix: ColourMatrix;
  patches: readonly PatchError[];
  /** Mean and worst CIEDE2000 over the patches that were fitted. */
  meanError: number;
  worst: { name: string; error: number };
  /**
   * The same over patches that had no part: each judged by a fit to all others (leave one out). What the sample itself
   * can be expected to be off by.
   */
  expected: { mean: number; worst: number };
}

const LEAST_PATCHES = 6;

/** Turns of the fit: each weighs the patches by what the one before left of them. */
const TURNS = 8;

/** Least squares to relative error in linear light, weighed anew by CIEDE2000 (Geman and McClure 1985). */
function solveMatrix(pairs: readonly { seen: Triple; true: Triple }[], withOffset: boolean): ColourMatrix {
  const columns = withOffset ? 4 : 3;
  let extra = pairs.map(() => 1);
  let matrix: ColourMatrix = NO_MATRIX;
  for (let turn = 0; turn < TURNS; turn++) {
    const solved = ([0, 1, 2] as const).map((row) => {
      const normal = Array.from({ length: columns }, () => new Array<number>(columns).fill(0));
      const right = new Array<number>(columns).fill(0);
      pairs.forEach(({ seen, true: to }, n) => {
        const x = withOffset ? [...seen, 1] : seen;
        // Relative error: what is dark counts as much as what is light.
        const level = 0.5 * Math.max(0, to[row]) + 0.5 * Math.max(0, lrvOf(to) / 100);
        const weight = extra[n]! / squared(level + 0.03);
        for (let k = 0; k < columns; k++) {
          right[k]! += weight * x[k]! * to[row];
          for (let l = 0; l < columns; l++) normal[k]![l]! += weight * x[k]! * x[l]!;
        }
      });
      for (let k = 0; k < columns; k++) normal[k]![k]! += 1e-9;
      return solveLinear(normal, right);
    });
    matrix = {
      rows: solved.map((v) => v.slice(0, 3)) as unknown as ColourMatrix['rows'],
      offset: solved.map((v) => v[3] ?? 0) as unknown as Triple,
    };
    const errors = pairs.map(({ seen, true: to }) =>
      ciede2000(linearToLab(throughMatrix(matrix, seen)), linearToLab(to)),
    );
    const middle = errors.slice().sort((a, b) => a - b)[errors.length >> 1]! + 0.1;
    // A patch with a speck or a reflex on it does not pull the others away.
    extra = errors.map((e) => 1 / squared(1 + squared(e / (3 * middle))));
  }
  return matrix;
}

/**
 * Fits the colours of a target: a 3 × 3 matrix in linear light (3 × 4 with an offset for stray light).
 * @param seen patches as they stand in the picture, after levelling
 * @param reference what they are, by name
 * @param leftOut names of patches that take no part
 * @throws RangeError with a sentence when less than six patches are left
 */
export function fitTarget(
  seen: readonly SeenPatch[],
  reference: readonly ReferencePatch[],
  leftOut: readonly string[] = [],
  withOffset = false,
): TargetFit {
  const all = seen.flatMap((patch) => {
    const known = reference.find((p) => p.name.toLowerCase() === patch.name.toLowerCase());
    if (!known) return [];
    const out: PatchError['leftOut'] = leftOut.includes(patch.name)
      ? 'by hand'
      : patch.clipped > 0.05
        ? 'clipped'
        : null;
    return [
      { name: patch.name, lab: known.lab, seen: patch.linear, true: xyzToLinear(labToXyz(known.lab)), out },
    ];
  });
  const used = all.filter((p) => !p.out);
  if (used.length < LEAST_PATCHES)
    throw new RangeError(
      all.length < LEAST_PATCHES
        ? `Only ${all.length} of the card’s patches are named in the reference; at least ${LEAST_PATCHES} are needed.`
        : `Only ${used.length} patches are left to fit by; at least ${LEAST_PATCHES} are needed. ${all.filter((p) => p.out === 'clipped').length} are clipped: expose less, or take back patches that were left out.`,
    );
  const matrix = solveMatrix(used, withOffset);
  const errorOf = (m: ColourMatrix, p: (typeof all)[number]) =>
    ciede2000(linearToLab(throughMatrix(m, p.seen)), p.lab);
  const patches = all.map((p) => ({
    name: p.name,
    lab: p.lab,
    before: ciede2000(linearToLab(p.seen), p.lab),
    after: errorOf(matrix, p),
    leftOut: p.out,
  }));
  const fitted = patches.filter((p) => !p.leftOut);
  const worst = fitted.reduce((a, b) => (b.after > a.after ? b : a));
  const alone = used.map((p) =>
    errorOf(
      solveMatrix(
        used.filter((o) => o !== p),
        withOffset,
      ),
      p,
    ),
  );
  return {
    matrix,
    patches,
    meanError: fitted.reduce((s, p) => s + p.after, 0) / fitted.length,
    worst: { name: worst.name, error: worst.after },
    expected: { mean: alone.reduce((a, b) => a + b, 0) / alone.length, worst: Math.max(...alone) },
  };
}

/**
 * Gains that bring a grey patch to its known reflectance.
 * @param linear mean of the patch, after levelling
 * @param clipped share of its pixels that are clipped
 * @param lrv its reflectance, 0–100
 * @throws RangeError with a sentence when the patch cannot serve
 */
export function fitGrey(linear: Triple, clipped: number, lrv: number): ColourMatrix {
  if (clipped > 0.02)
    throw new RangeError(
      `${Math.round(100 * clipped)} % of this patch is clipped, as on glare; choose a place of the grey that is not, or a picture exposed less.`,
    );
  if (!(Math.min(...linear) > 0.002))
    throw new RangeError('This patch is black; choose a grey one whose reflectance is known.');
  const [low, high] = [Math.min(...linear), Math.max(...linear)];
  if (high / low > 6)
    throw new RangeError(
      'This patch is of a strong colour; a balance needs a neutral grey whose reflectance is known.',
    );
  const y = lrv / 100;
  return {
    rows: [
      [y / linear[0], 0, 0],
      [0, y / linear[1], 0],
      [0, 0, y / linear[2]],
    ],
    offset: [0, 0, 0],
  };
}

/** Mean of a round place of a picture, and how much of it is clipped. */
export function readSpot(
  picture: ColourPicture,
  [x, y]: Point,
  radius: number,
): { linear: Triple; clipped: number; spread: number } {
  const { widthPx: w, heightPx: h } = picture;
  const r = Math.max(1, radius * Math.max(w, h));
  const [cx, cy] = [x * w, y * h];
  const sums = [0, 0, 0];
  let [n, clipped, squares] = [0, 0, 0];
  for (let py = Math.max(0, Math.floor(cy - r)); py <= Math.min(h - 1, cy + r); py++)
    for (let px = Math.max(0, Math.floor(cx - r)); px <= Math.min(w - 1, cx + r); px++) {
      if (squared(px + 0.5 - cx) + squared(py + 0.5 - cy) > r * r) continue;
      const i = py * w + px;
      const v = [picture.r[i]!, picture.g[i]!, picture.b[i]!];
      for (let k = 0; k < 3; k++) sums[k]! += v[k]!;
      squares += squared(v[1]!);
      if (Math.max(...v) > CLIPPED) clipped++;
      n++;
    }
  if (n === 0) throw new RangeError('There is no picture at this place.');
  const linear = sums.map((s) => s / n) as unknown as Triple;
  return { linear, clipped: clipped / n, spread: Math.sqrt(Math.max(0, squares / n - squared(linear[1]))) };
}
