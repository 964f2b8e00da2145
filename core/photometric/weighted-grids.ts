import type { Plane } from '../raster';

/** Pairs of pixels that hold each other, by their indices, with the weight of the difference between them. */
export interface Ties {
  high: Int32Array;
  low: Int32Array;
  trust: Float32Array;
}
const NO_TIES: Ties = { high: new Int32Array(0), low: new Int32Array(0), trust: new Float32Array(0) };

/**
 * Weighted differences of neighbouring pixels with free borders, and of pairs of pixels farther apart, on ever coarser grids: one
 * symmetric multigrid cycle over them preconditions the integration of slopes. Planes are padded by a row and a pixel at either
 * end, and weights that would reach over a border are 0, so that no loop asks where it is.
 */
export interface WeightedGrid {
  w: number;
  h: number;
  /** Index of the first pixel. */
  first: number;
  /** Weights of the differences to the right and downwards, over the square of their length. */
  right: Float32Array;
  down: Float32Array;
  /** Pairs by their padded indices. */
  ties: Ties;
  /** What relaxation divides by, inverted: the sum of the weights around a pixel and twice that of its ties; 0 where there are none. */
  inverse: Float32Array;
  /** What a pixel's ties pull at it. */
  pull: Float32Array;
  x: Float32Array;
  b: Float32Array;
  r: Float32Array;
}

/** No pixel is trusted less than this, so that the height is determined everywhere. */
const LEAST_WEIGHT = 1e-3;
/** Grids smaller than this are solved by relaxation alone. */
const COARSEST_PX = 4;
const COARSEST_SWEEPS = 24;

/** Grids from the finest to the coarsest. @param weight 0–1 for every pixel @param mm size of a pixel */
export function weightedGrids(weight: Plane, mm: { x: number; y: number }): WeightedGrid[] {
  const grids: WeightedGrid[] = [];
  let { widthPx: w, heightPx: h } = weight;
  let trust: Float32Array = weight.data.map((v) => Math.max(LEAST_WEIGHT, v));
  for (;;) {
    grids.push(gridOf(trust, w, h, mm));
    if (Math.max(w, h) <= COARSEST_PX || Math.min(w, h) < 2) return grids;
    trust = coarser(trust, w, h);
    w = (w + 1) >> 1;
    h = (h + 1) >> 1;
  }
}

function gridOf(trust: Float32Array, w: number, h: number, mm: { x: number; y: number }): WeightedGrid {
  const first = w + 1;
  const plane = () => new Float32Array(w * h + 2 * first);
  const [right, down] = [plane(), plane()];
  // Energy of a coarse cell is that of the fine cells in it: the weights stay, whatever the scale.
  const kx = mm.y / mm.x;
  const ky = mm.x / mm.y;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (x + 1 < w) right[first + i] = kx * harmonic(trust[i]!, trust[i + 1]!);
      if (y + 1 < h) down[first + i] = ky * harmonic(trust[i]!, trust[i + w]!);
    }
  const grid = { w, h, first, right, down, ties: NO_TIES, inverse: plane(), pull: plane() };
  invertDiagonal(grid);
  return { ...grid, x: plane(), b: plane(), r: plane() };
}

type Diagonal = Omit<WeightedGrid, 'x' | 'b' | 'r'>;

/** Ties count twice, as they are relaxed all at once (Baker, Falgout, Kolev, Yang, "Multigrid Smoothers for Ultraparallel Computing", 2011). */
function invertDiagonal({ w, h, first, right, down, inverse, ties: { high, low, trust } }: Diagonal): void {
  inverse.fill(0);
  for (let k = 0; k < trust.length; k++) {
    inverse[high[k]!]! += 2 * trust[k]!;
    inverse[low[k]!]! += 2 * trust[k]!;
  }
  for (let i = first; i < first + w * h; i++) {
    const total = inverse[i]! + right[i]! + right[i - 1]! + down[i]! + down[i - w]!;
    inverse[i] = total > 0 ? 1 / total : 0;
  }
}

/** Ties pixels of the finest grid, and what they lie in on coarser ones. @param ties by padded indices of the finest grid */
export function tieGrids(grids: readonly WeightedGrid[], ties: Ties): void {
  let here = ties;
  grids.forEach((grid, k) => {
    grid.ties = here;
    grid.pull.fill(0);
    invertDiagonal(grid);
    const below = grids[k + 1];
    if (below) here = coarserTies(here, grid, below);
  });
}

/** Ties between the same coarse pixels are one; those within one are none. */
function coarserTies({ high, low, trust }: Ties, fine: WeightedGrid, coarse: WeightedGrid): Ties {
  const sums = new Map<number, number>();
  const within = (at: number) => {
    const pixel = at - fine.first;
    return (Math.floor(pixel / fine.w) >> 1) * coarse.w + ((pixel % fine.w) >> 1);
  };
  const pixels = coarse.w * coarse.h;
  for (let k = 0; k < trust.length; k++) {
    const [a, b] = [within(high[k]!), within(low[k]!)];
    if (a === b) continue;
    const pair = Math.min(a, b) * pixels + Math.max(a, b);
    sums.set(pair, (sums.get(pair) ?? 0) + trust[k]!);
  }
  const pairs = [...sums.keys()];
  return {
    high: Int32Array.from(pairs, (pair) => coarse.first + Math.floor(pair / pixels)),
    low: Int32Array.from(pairs, (pair) => coarse.first + (pair % pixels)),
    trust: Float32Array.from(sums.values()),
  };
}

const harmonic = (a: number, b: number): number => (2 * a * b) / (a + b);

/** Mean of two by two, and of what is left of them at the end of a row or column. */
function coarser(trust: Float32Array, w: number, h: number): Float32Array {
  const cw = (w + 1) >> 1;
  const ch = (h + 1) >> 1;
  const out = new Float32Array(cw * ch);
  for (let y = 0; y < ch; y++) {
    const upper = 2 * y * w;
    const lower = Math.min(h - 1, 2 * y + 1) * w;
    for (let x = 0; x < cw; x++) {
      const left = 2 * x;
      const next = Math.min(w - 1, left + 1);
      out[y * cw + x] =
        (trust[upper + left]! + trust[upper + next]! + trust[lower + left]! + trust[lower + next]!) / 4;
    }
  }
  return out;
}

/** What the grid's differences pull at every pixel: out = A·x. @param x, out padded as the planes of the grid are */
export function applyGrid(grid: WeightedGrid, x: Float64Array, out: Float64Array): void {
  const { w, h, first, right, down, ties } = grid;
  const { high, low, trust } = ties;
  const end = first + w * h;
  for (let i = first; i < end; i++) {
    const v = x[i]!;
    out[i] =
      right[i]! * (v - x[i + 1]!) +
      right[i - 1]! * (v - x[i - 1]!) +
      down[i]! * (v - x[i + w]!) +
      down[i - w]! * (v - x[i - w]!);
  }
  for (let k = 0; k < trust.length; k++) {
    const d = trust[k]! * (x[high[k]!]! - x[low[k]!]!);
    out[high[k]!]! += d;
    out[low[k]!]! -= d;
  }
}

/** Solves A·x = b roughly from the grid's `b` into its `x`: one symmetric multigrid cycle. */
export function weightedCycle(grids: readonly WeightedGrid[], k = 0): void {
  const grid = grids[k]!;
  grid.x.fill(0);
  if (k === grids.length - 1) {
    for (let n = 0; n < COARSEST_SWEEPS; n++) {
      relax(grid, 0);
      relax(grid, 1);
    }
    for (let n = 0; n < COARSEST_SWEEPS; n++) {
      relax(grid, 1);
      relax(grid, 0);
    }
    return;
  }
  relax(grid, 0);
  relax(grid, 1);
  findResidual(grid);
  const below = grids[k + 1]!;
  restrict(grid, below);
  weightedCycle(grids, k + 1);
  prolong(below, grid);
  relax(grid, 1);
  relax(grid, 0);
}

/** Gauss–Seidel over every other pixel, as on a chequer board; ties pull from where pixels were before. */
function relax(grid: WeightedGrid, colour: 0 | 1): void {
  findPull(grid);
  const { w, h, first, right, down, inverse, pull, x, b } = grid;
  for (let row = 0; row < h; row++) {
    const begin = first + row * w;
    for (let i = begin + ((row + colour) & 1); i < begin + w; i += 2)
      x[i] =
        (b[i]! +
          pull[i]! +
          right[i]! * x[i + 1]! +
          right[i - 1]! * x[i - 1]! +
          down[i]! * x[i + w]! +
          down[i - w]! * x[i - w]!) *
        inverse[i]!;
  }
}

function findPull({ ties: { high, low, trust }, x, pull }: WeightedGrid): void {
  for (let k = 0; k < trust.length; k++) pull[high[k]!] = pull[low[k]!] = 0;
  for (let k = 0; k < trust.length; k++) {
    const t = trust[k]! * (x[high[k]!]! + x[low[k]!]!);
    pull[high[k]!]! += t;
    pull[low[k]!]! += t;
  }
}

/** r = b - A·x. */
function findResidual({ w, h, first, right, down, ties, x, b, r }: WeightedGrid): void {
  const { high, low, trust } = ties;
  const end = first + w * h;
  for (let i = first; i < end; i++) {
    const v = x[i]!;
    r[i] =
      b[i]! -
      (right[i]! * (v - x[i + 1]!) +
        right[i - 1]! * (v - x[i - 1]!) +
        down[i]! * (v - x[i + w]!) +
        down[i - w]! * (v - x[i - w]!));
  }
  for (let k = 0; k < trust.length; k++) {
    const d = trust[k]! * (x[high[k]!]! - x[low[k]!]!);
    r[high[k]!]! -= d;
    r[low[k]!]! += d;
  }
}

/** A fine pixel lies between two coarse ones, this near to their middles. */
const NEARER = 0.75;
const FARTHER = 0.25;

/** The transpose of prolong: rows first, then columns. */
function restrict(fine: WeightedGrid, coarse: WeightedGrid): void {
  const { w, h, first, r } = fine;
  const { w: cw, h: ch, b } = coarse;
  const sums = new Float64Array(w);
  for (let y = 0; y < ch; y++) {
    sums.fill(0);
    const from = Math.max(0, 2 * y - 1);
    const to = Math.min(h - 1, 2 * y + 2);
    for (let row = from; row <= to; row++) {
      const share = shareOf(row, y, ch);
      const begin = first + row * w;
      for (let x = 0; x < w; x++) sums[x]! += share * r[begin + x]!;
    }
    const out = coarse.first + y * cw;
    for (let x = 1; x < cw - 1; x++)
      b[out + x] =
        FARTHER * (sums[2 * x - 1]! + sums[2 * x + 2]!) + NEARER * (sums[2 * x]! + sums[2 * x + 1]!);
    b[out] = atEnd(sums, 0, cw);
    if (cw > 1) b[out + cw - 1] = atEnd(sums, cw - 1, cw);
  }
}

/** Share of a fine row or column that a coarse one gets; what would go beyond the border goes to the one beside it. */
function shareOf(fine: number, coarse: number, count: number): number {
  const whole = fine >> 1;
  const other = Math.min(count - 1, Math.max(0, fine & 1 ? whole + 1 : whole - 1));
  return (whole === coarse ? NEARER : 0) + (other === coarse ? FARTHER : 0);
}

function atEnd(sums: Float64Array, at: number, count: number): number {
  let sum = 0;
  for (let x = Math.max(0, 2 * at - 1); x <= Math.min(sums.length - 1, 2 * at + 2); x++)
    sum += shareOf(x, at, count) * sums[x]!;
  return sum;
}

/** Adds what a coarse grid says to a fine one, bilinear between the middles of coarse pixels. */
function prolong(coarse: WeightedGrid, fine: WeightedGrid): void {
  const { w, h, first, x: to } = fine;
  const { w: cw, h: ch, x: from } = coarse;
  // Between the coarse rows, with the first and the last value once more at either end.
  const between = new Float64Array(cw + 2);
  for (let y = 0; y < h; y++) {
    const whole = y >> 1;
    const other = Math.min(ch - 1, Math.max(0, y & 1 ? whole + 1 : whole - 1));
    const near = coarse.first + whole * cw;
    const far = coarse.first + other * cw;
    for (let x = 0; x < cw; x++) between[x + 1] = NEARER * from[near + x]! + FARTHER * from[far + x]!;
    between[0] = between[1]!;
    between[cw + 1] = between[cw]!;
    const begin = first + y * w;
    for (let x = 0, k = 1; x < w; x += 2, k++)
      to[begin + x]! += NEARER * between[k]! + FARTHER * between[k - 1]!;
    for (let x = 1, k = 1; x < w; x += 2, k++)
      to[begin + x]! += NEARER * between[k]! + FARTHER * between[k + 1]!;
  }
}
