import type { Cells } from './placement';

/** A grid of cells whose edges meet or not, with the joints over which nothing goes. */
type Grid = Pick<Cells, 'widthPx' | 'heightPx' | 'closed' | 'parted'>;

/** What stays as it was, and what may move. */
export interface Kept {
  /** 1 where values may change. */
  free: Uint8Array;
  values: Float32Array;
}

/** What is left of the right-hand side when it is solved, as a share of its energy. */
const LEFT = 1e-6;
/** Far more than are ever needed. */
const MOST_STEPS = 200;
/** A grid has a coarser one below it while its sides are even and longer than this. */
const COARSEST_PX = 24;
/** Share of a correction that smoothing takes at a time; and how often the coarsest grid is smoothed. */
const DAMPED = 0.8;
const ON_COARSEST = 12;

/**
 * Solves (λ + L)·c = wanted, L the graph Laplacian of the grid, wrapped where closed, cut at joints: conjugate gradients,
 * each step preconditioned by one symmetric cycle over coarser and coarser grids (Tatebe 1993). Single precision holds all
 * that shows; sums are kept in double.
 *
 * @param wanted right-hand side, one value per cell
 * @param screening λ, above 0
 * @param kept where values stay as they were; nothing: nowhere
 */
export function solveScreened(
  wanted: Float64Array,
  grid: Grid,
  screening: number,
  kept?: Kept,
): Float32Array {
  const [finest] = gridsBelow(grid, screening);
  const n = wanted.length;
  const solved = kept ? kept.values.slice() : new Float32Array(n);
  const image = new Float32Array(n);
  const residue = Float32Array.from(wanted);
  if (kept) {
    finest!.apply(solved, image);
    for (let i = 0; i < n; i++) residue[i] = kept.free[i] === 1 ? residue[i]! - image[i]! : 0;
  }
  const better = new Float32Array(n);
  const precondition = () => {
    finest!.cycle(residue, better);
    // What is kept does not move.
    if (kept) for (let i = 0; i < n; i++) if (kept.free[i] === 0) better[i] = 0;
  };
  const enough = LEFT * dot(residue, residue);
  if (enough === 0) return solved;
  precondition();
  const direction = better.slice();
  let along = dot(residue, better);
  for (let k = 0; k < MOST_STEPS; k++) {
    finest!.apply(direction, image);
    if (kept) for (let i = 0; i < n; i++) if (kept.free[i] === 0) image[i] = 0;
    const step = along / dot(direction, image);
    let energy = 0;
    for (let i = 0; i < n; i++) {
      solved[i]! += step * direction[i]!;
      const left = residue[i]! - step * image[i]!;
      residue[i] = left;
      energy += left * left;
    }
    if (energy <= enough) break;
    precondition();
    const next = dot(residue, better);
    const turn = next / along;
    along = next;
    for (let i = 0; i < n; i++) direction[i] = better[i]! + turn * direction[i]!;
  }
  return solved;
}

function dot(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** One grid of the cycle. */
interface Level {
  /** to = (λ + L)·from. */
  apply: (from: Float32Array, to: Float32Array) => void;
  /** to = about (λ + L)⁻¹·from: smoothed, corrected by the grid below, smoothed. */
  cycle: (from: Float32Array, to: Float32Array) => void;
}

/** A grid and all coarser ones, each made of the sums over two by two cells. */
function gridsBelow(grid: Grid, screening: number): Level[] {
  const { widthPx: W, heightPx: H, closed, parted } = grid;
  const n = W * H;
  const across = neighbours(W, closed.across, parted.columns, 1);
  const down = neighbours(H, closed.up, parted.rows, W);
  const centre = 4 + screening;
  // Columns whose neighbours are not simply the next ones: at the edges, and at joints.
  const odd = Array.from({ length: W }, (_, x) => x).filter(
    (x) => across.back[x] !== -1 || across.forth[x] !== 1,
  );
  const apply = (from: Float32Array, to: Float32Array) => {
    for (let y = 0; y < H; y++) {
      const [up, below] = [down.back[y]!, down.forth[y]!];
      const row = y * W;
      for (let i = row + 1; i < row + W - 1; i++)
        to[i] = centre * from[i]! - from[i + up]! - from[i + below]! - from[i - 1]! - from[i + 1]!;
      for (const x of odd) {
        const i = row + x;
        const beside = from[i + across.back[x]!]! + from[i + across.forth[x]!]!;
        to[i] = centre * from[i]! - from[i + up]! - from[i + below]! - beside;
      }
    }
  };
  const share = DAMPED / centre;
  const image = new Float32Array(n);
  const smooth = (from: Float32Array, to: Float32Array) => {
    apply(to, image);
    for (let i = 0; i < n; i++) to[i]! += share * (from[i]! - image[i]!);
  };
  const begin = (from: Float32Array, to: Float32Array) => {
    for (let i = 0; i < n; i++) to[i] = share * from[i]!;
  };
  if (W % 2 || H % 2 || Math.min(W, H) <= COARSEST_PX) {
    const cycle = (from: Float32Array, to: Float32Array) => {
      begin(from, to);
      for (let k = 0; k < ON_COARSEST; k++) smooth(from, to);
    };
    return [{ apply, cycle }];
  }
  const half = halvedGrid(grid);
  // What flows between blocks of two by two is the difference of their means; what is held back is the sum over four.
  const below = gridsBelow(half, 4 * screening);
  const between = betweenGrids(grid, half);
  const left = new Float32Array(n / 4);
  const found = new Float32Array(n / 4);
  const cycle = (from: Float32Array, to: Float32Array) => {
    begin(from, to);
    apply(to, image);
    for (let i = 0; i < n; i++) image[i] = from[i]! - image[i]!;
    between.gather(image, left);
    below[0]!.cycle(left, found);
    between.spread(found, to);
    smooth(from, to);
  };
  return [{ apply, cycle }, ...below];
}

/** The grid of half the resolution. A joint inside a block of cells is taken for one at its end. */
function halvedGrid({ widthPx, heightPx, closed, parted }: Grid): Grid {
  const halved = (cut: Uint8Array) =>
    Uint8Array.from({ length: cut.length / 2 }, (_, k) => cut[2 * k]! | cut[2 * k + 1]!);
  return {
    widthPx: widthPx / 2,
    heightPx: heightPx / 2,
    closed,
    parted: { rows: halved(parted.rows), columns: halved(parted.columns) },
  };
}

/** Bilinear steps between a grid and that of half its resolution; one is the other's transpose. */
function betweenGrids({ widthPx: W, heightPx: H }: Grid, half: Grid) {
  const { widthPx: w, heightPx: h, closed, parted } = half;
  const across = neighbours(w, closed.across, parted.columns, 1);
  const down = neighbours(h, closed.up, parted.rows, w);
  const each = (visit: (fine: number, i: number, j: number, beside: number) => void) => {
    for (let y = 0; y < H; y++) {
      const row = (y >> 1) * w;
      const beside = y % 2 ? down.forth[y >> 1]! : down.back[y >> 1]!;
      for (let x = 0; x < W; x++) {
        const i = row + (x >> 1);
        visit(y * W + x, i, i + (x % 2 ? across.forth[x >> 1]! : across.back[x >> 1]!), beside);
      }
    }
  };
  return {
    gather: (fine: Float32Array, coarse: Float32Array) => {
      coarse.fill(0);
      each((at, i, j, beside) => {
        const part = fine[at]! / 16;
        coarse[i]! += 9 * part;
        coarse[j]! += 3 * part;
        coarse[i + beside]! += 3 * part;
        coarse[j + beside]! += part;
      });
    },
    /** Adds to what is there. */
    spread: (coarse: Float32Array, fine: Float32Array) =>
      each((at, i, j, beside) => {
        fine[at]! += (9 * coarse[i]! + 3 * coarse[j]! + 3 * coarse[i + beside]! + coarse[j + beside]!) / 16;
      }),
  };
}

/**
 * Steps to the neighbours on one axis, as offsets; 0, the place itself, where there is none: it then cancels out.
 * @param cut 1 where a line and the next are parted
 */
function neighbours(length: number, around: boolean, cut: Uint8Array, stride: number) {
  const back = new Int32Array(length);
  const forth = new Int32Array(length);
  for (let i = 0; i < length; i++) {
    const before = i > 0 ? i - 1 : length - 1;
    back[i] = (i > 0 || around) && cut[before] === 0 ? (before - i) * stride : 0;
    const after = i + 1 < length ? i + 1 : 0;
    forth[i] = (i + 1 < length || around) && cut[i] === 0 ? (after - i) * stride : 0;
  }
  return { back, forth };
}
