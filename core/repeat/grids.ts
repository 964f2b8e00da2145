import type { Cells } from './placement';

/** A grid of cells whose edges meet or not, with the joints over which nothing goes. */
export type Grid = Pick<Cells, 'widthPx' | 'heightPx' | 'closed' | 'parted'>;

/** A on one grid, and the grid below. What a step of the cycle needs lies ready. */
export interface Level {
  across: Line;
  up: Line;
  screening: number;
  /** Where values may change. Nothing is read or written elsewhere but what is beside, which is taken as it is. */
  runs: Runs;
  /** What a residue is multiplied with in smoothing: near the inverse of A's diagonal; 0 where nothing may change. */
  share: Float32Array;
  image: Float32Array;
  /** None on the finest grid, where a cell holds itself alone and M is one. */
  product?: { held: Float32Array; flowed: Float32Array; rows: Int32Array };
  below?: { level: Level; inX: Step; inY: Step; left: Float32Array; found: Float32Array; line: Float32Array };
}

/** Cells in ascending order as stretches of rows: the first of each, and the one after its last. */
export type Runs = Int32Array;

/** Share of a correction that smoothing takes at a time. */
const DAMPED = 0.8;

/**
 * A = λ + L, L the graph Laplacian of a grid, wrapped where closed, cut at joints, with a cycle over coarser and coarser
 * grids that comes near its inverse.
 *
 * The grid is a product of two lines of cells, and so is A: λ·Mx⊗My + Kx⊗My + Mx⊗Ky. Each line is made coarser by itself:
 * every second cell of each stretch between joints stays, those between are the mean of their neighbours, and M and K
 * become PᵀMP and PᵀKP. So stretches stay apart on every grid however narrow and however long they are, and on the last
 * one each is a single cell.
 * Source: Trottenberg, Oosterlee, Schüller, "Multigrid", 2001, 2.8 and appendix A (Galerkin operators).
 *
 * @param screening λ, above 0
 * @param free 1 where values may change: the inverse is that of A over these cells alone, and 0 elsewhere
 */
export function gridOf(grid: Grid, screening: number, free?: Uint8Array): Level {
  const across = lineOf(grid.widthPx, grid.closed.across, grid.parted.columns);
  const up = lineOf(grid.heightPx, grid.closed.up, grid.parted.rows);
  return levelOf(across, up, screening, free);
}

/** The cells of one axis and two symmetric matrices over them that join neighbours only. */
interface Line {
  length: number;
  /** The cells beside each; itself where there is none. */
  before: Int32Array;
  after: Int32Array;
  /** Cells whose neighbours are not simply the ones beside them in the array. */
  ends: readonly number[];
  /** How much lies in a cell. */
  mass: Rows;
  /** What flows between cells. */
  flow: Rows;
}
/** The rows of a matrix over a line: the entry of each cell, of the one before it and of the next. */
interface Rows {
  own: Float64Array;
  back: Float64Array;
  forth: Float64Array;
}

/** The same matrix: the entry of each cell, and that of it and the next. */
interface Entries {
  own: Float64Array;
  between: Float64Array;
}

function makeLine(before: Int32Array, after: Int32Array, mass: Entries, flow: Entries): Line {
  const { length } = before;
  const rows = ({ own, between }: Entries): Rows => ({
    own,
    back: Float64Array.from({ length }, (_, i) => (before[i] === i ? 0 : between[before[i]!]!)),
    forth: Float64Array.from({ length }, (_, i) => (after[i] === i ? 0 : between[i]!)),
  });
  const ends = Array.from({ length }, (_, i) => i).filter((i) => before[i] !== i - 1 || after[i] !== i + 1);
  return { length, before, after, ends, mass: rows(mass), flow: rows(flow) };
}

/** @param cut 1 where a cell and the next are parted */
function lineOf(length: number, around: boolean, cut: Uint8Array): Line {
  const before = Int32Array.from({ length }, (_, i) => i);
  const after = before.slice();
  const flow = { own: new Float64Array(length), between: new Float64Array(length) };
  for (let i = 0; i < length; i++) {
    const next = (i + 1) % length;
    if (cut[i] === 1 || (next === 0 && !around) || next === i) continue;
    after[i] = next;
    before[next] = i;
    flow.own[i]! += 1;
    flow.own[next]! += 1;
    flow.between[i] = -1;
  }
  const mass = { own: new Float64Array(length).fill(1), between: new Float64Array(length) };
  return makeLine(before, after, mass, flow);
}

/** A line and the coarser one: for each coarse cell the cell that stays, and those beside it with the share they take. */
interface Step {
  coarse: Line;
  at: Int32Array;
  back: Int32Array;
  backShare: Float32Array;
  forth: Int32Array;
  forthShare: Float32Array;
}

function coarser(line: Line): Step {
  const { length, before, after } = line;
  const seen = new Uint8Array(length);
  const at: number[] = [];
  const [coarseBefore, coarseAfter]: [number[], number[]] = [[], []];
  const [back, forth]: [number[], number[]] = [[], []];
  const [backShare, forthShare]: [number[], number[]] = [[], []];
  /** Goes along a stretch from its first cell, or once around from any cell of a ring. */
  const along = (start: number, around: boolean) => {
    const head = at.length;
    for (let i = start, k = 0; ; i = after[i]!, k++) {
      seen[i] = 1;
      const last = after[i] === i || after[i] === start;
      const now = at.length;
      if (k % 2 === 0) {
        at.push(i);
        coarseBefore.push(now - 1);
        coarseAfter.push(now + 1);
        back.push(before[i]!);
        forth.push(after[i]!);
        backShare.push(k === 0 ? 0 : 0.5);
        forthShare.push(last ? 0 : 0.5);
      } else if (last && around) backShare[head] = 0.5;
      else if (last) forthShare[now - 1] = 1;
      if (last) break;
    }
    const tail = at.length - 1;
    coarseBefore[head] = around ? tail : head;
    coarseAfter[tail] = around ? head : tail;
  };
  for (let i = 0; i < length; i++) if (before[i] === i) along(i, false);
  for (let i = 0; i < length; i++) if (seen[i] === 0) along(i, true);
  const step = {
    at: Int32Array.from(at),
    back: Int32Array.from(back),
    backShare: Float32Array.from(backShare),
    forth: Int32Array.from(forth),
    forthShare: Float32Array.from(forthShare),
  };
  const [b, f] = [Int32Array.from(coarseBefore), Int32Array.from(coarseAfter)];
  const coarse = makeLine(b, f, gathered(line, line.mass, b, f, step), gathered(line, line.flow, b, f, step));
  return { ...step, coarse };
}

/** PᵀTP of a matrix T over a line. */
function gathered(
  { before, after }: Line,
  fine: Rows,
  coarseBefore: Int32Array,
  coarseAfter: Int32Array,
  { at, back, backShare, forth, forthShare }: Omit<Step, 'coarse'>,
): Entries {
  const entry = (i: number, j: number) =>
    (i === j ? fine.own[i]! : 0) +
    (j === after[i] ? fine.forth[i]! : 0) +
    (j === before[i] ? fine.back[i]! : 0);
  const column = (c: number): [number, number][] => [
    [at[c]!, 1],
    [back[c]!, backShare[c]!],
    [forth[c]!, forthShare[c]!],
  ];
  const joined = (a: number, b: number) => {
    let sum = 0;
    for (const [i, p] of column(a)) for (const [j, q] of column(b)) if (p * q > 0) sum += p * q * entry(i, j);
    return sum;
  };
  const cells = Array.from(at, (_, c) => c);
  return {
    own: Float64Array.from(cells, (c) => joined(c, c)),
    // In a ring of two each is both before and after the other.
    between: Float64Array.from(
      cells,
      (c) => joined(c, coarseAfter[c]!) / (coarseBefore[c] === coarseAfter[c] ? 2 : 1),
    ),
  };
}

function levelOf(across: Line, up: Line, screening: number, free?: Uint8Array): Level {
  const n = across.length * up.length;
  const runs = runsOf(across.length, up.length, free);
  const share = damping(across, up, screening, free);
  const level: Level = { across, up, screening, runs, share, image: new Float32Array(n) };
  const inX = coarser(across);
  const inY = coarser(up);
  const [w, h] = [inX.coarse.length, inY.coarse.length];
  // Each stretch is a single cell: nothing is joined any more, and what is found is exact.
  if (w === across.length && h === up.length) for (let i = 0; i < n; i++) share[i]! /= DAMPED;
  else {
    const coarse = levelOf(
      inX.coarse,
      inY.coarse,
      screening,
      free && freeBelow(free, across.length, inX, inY),
    );
    const rows = rowsBesideRuns(coarse);
    coarse.product = { held: new Float32Array(w * h), flowed: new Float32Array(w * h), rows };
    const [left, found] = [new Float32Array(w * h), new Float32Array(w * h)];
    level.below = { level: coarse, inX, inY, left, found, line: new Float32Array(across.length) };
  }
  return level;
}

function runsOf(W: number, H: number, free?: Uint8Array): Runs {
  const runs: number[] = [];
  for (let row = 0; row < W * H; row += W) {
    if (!free) runs.push(row, row + W);
    else
      for (let i = row; i < row + W; i++) {
        if (free[i] === 1 && (i === row || free[i - 1] === 0)) runs.push(i);
        if (free[i] === 1 && (i === row + W - 1 || free[i + 1] === 0)) runs.push(i + 1);
      }
  }
  return Int32Array.from(runs);
}

/** Rows in which there are runs, or beside them, in ascending order. */
function rowsBesideRuns({ across, up, runs }: Level): Int32Array {
  const beside = new Set<number>();
  for (let r = 0; r < runs.length; r += 2) {
    const y = Math.floor(runs[r]! / across.length);
    for (const row of [y, up.before[y]!, up.after[y]!]) beside.add(row);
  }
  return Int32Array.from(beside).sort();
}

/**
 * to = about A⁻¹·from: smoothed, corrected by the grid below, smoothed. Symmetric, as conjugate gradients ask.
 * (Functions that run over whole grids stand by themselves, so that they are compiled once for all grids.)
 * @param to 0 where nothing may change
 */
export function vCycle(level: Level, from: Float32Array, to: Float32Array): void {
  const { share, image, runs, below } = level;
  multiply(runs, share, from, to);
  if (!below) return;
  apply(level, to, image);
  subtractFrom(runs, from, image);
  restrict(image, below);
  vCycle(below.level, below.left, below.found);
  prolong(below, to);
  apply(level, to, image);
  smooth(runs, share, from, image, to);
}

/** to = A·from, where values may change. */
export function apply(level: Level, from: Float32Array, to: Float32Array): void {
  if (level.product) applyProduct(level, level.product, from, to);
  else applyFinest(level, from, to);
}

function multiply(runs: Runs, share: Float32Array, from: Float32Array, to: Float32Array): void {
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) to[i] = share[i]! * from[i]!;
  }
}

function subtractFrom(runs: Runs, from: Float32Array, image: Float32Array): void {
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) image[i] = from[i]! - image[i]!;
  }
}

function smooth(
  runs: Runs,
  share: Float32Array,
  from: Float32Array,
  image: Float32Array,
  to: Float32Array,
): void {
  for (let r = 0; r < runs.length; r += 2) {
    const end = runs[r + 1]!;
    for (let i = runs[r]!; i < end; i++) to[i]! += share[i]! * (from[i]! - image[i]!);
  }
}

/** A coarse cell is free where all that follow from it are: so what is found there changes nothing that is kept. */
function freeBelow(free: Uint8Array, W: number, inX: Step, inY: Step): Uint8Array {
  const taken = ({ at, back, backShare, forth, forthShare }: Step, c: number) => [
    at[c]!,
    backShare[c]! > 0 ? back[c]! : at[c]!,
    forthShare[c]! > 0 ? forth[c]! : at[c]!,
  ];
  const columns = Array.from(inX.at, (_, c) => taken(inX, c));
  const out = new Uint8Array(inX.at.length * inY.at.length);
  for (let y = 0, i = 0; y < inY.at.length; y++) {
    const rows = taken(inY, y);
    for (const xs of columns) out[i++] = rows.every((r) => xs.every((x) => free[r * W + x] === 1)) ? 1 : 0;
  }
  return out;
}

function damping(across: Line, up: Line, screening: number, free?: Uint8Array): Float32Array {
  const out = new Float32Array(across.length * up.length);
  for (let y = 0, i = 0; y < up.length; y++)
    for (let x = 0; x < across.length; x++, i++) {
      if (free?.[i] === 0) continue;
      const [mx, my] = [across.mass.own[x]!, up.mass.own[y]!];
      out[i] = DAMPED / (screening * mx * my + across.flow.own[x]! * my + mx * up.flow.own[y]!);
    }
  return out;
}

function applyFinest({ across, up, screening, runs }: Level, from: Float32Array, to: Float32Array): void {
  const W = across.length;
  const centre = 4 + screening;
  for (let r = 0; r < runs.length; r += 2) {
    const [first, end] = [runs[r]!, runs[r + 1]!];
    const y = Math.floor(first / W);
    const row = y * W;
    // A cell beside which there is none is its own neighbour, and cancels out.
    const over = (up.before[y]! - y) * W;
    const under = (up.after[y]! - y) * W;
    const last = Math.min(end, row + W - 1);
    for (let i = Math.max(first, row + 1); i < last; i++)
      to[i] = centre * from[i]! - from[i + over]! - from[i + under]! - from[i - 1]! - from[i + 1]!;
    for (const x of across.ends) {
      const i = row + x;
      if (i < first || i >= end) continue;
      const beside = from[row + across.before[x]!]! + from[row + across.after[x]!]!;
      to[i] = centre * from[i]! - from[i + over]! - from[i + under]! - beside;
    }
  }
}

/** (λ·My + Ky)·(Mx·from) + My·(Kx·from). */
function applyProduct(
  { across, up, screening, runs }: Level,
  { held, flowed, rows }: NonNullable<Level['product']>,
  from: Float32Array,
  to: Float32Array,
): void {
  const W = across.length;
  const { before, after, mass, flow } = across;
  for (const y of rows) {
    const row = y * W;
    for (let x = 0; x < W; x++) {
      const here = from[row + x]!;
      const back = from[row + before[x]!]!;
      const forth = from[row + after[x]!]!;
      held[row + x] = mass.own[x]! * here + mass.back[x]! * back + mass.forth[x]! * forth;
      flowed[row + x] = flow.own[x]! * here + flow.back[x]! * back + flow.forth[x]! * forth;
    }
  }
  for (let r = 0; r < runs.length; r += 2) {
    const [first, end] = [runs[r]!, runs[r + 1]!];
    const y = Math.floor(first / W);
    const m = up.mass.own[y]!;
    const mBack = up.mass.back[y]!;
    const mForth = up.mass.forth[y]!;
    const s = screening * m + up.flow.own[y]!;
    const sBack = screening * mBack + up.flow.back[y]!;
    const sForth = screening * mForth + up.flow.forth[y]!;
    const over = (up.before[y]! - y) * W;
    const under = (up.after[y]! - y) * W;
    for (let i = first; i < end; i++)
      to[i] =
        s * held[i]! +
        sBack * held[i + over]! +
        sForth * held[i + under]! +
        m * flowed[i]! +
        mBack * flowed[i + over]! +
        mForth * flowed[i + under]!;
  }
}

/** left = Pᵀ·fine, in rows of the coarse grid in which values may change: rows first, then columns. */
function restrict(fine: Float32Array, { level, inX, inY, left, line }: NonNullable<Level['below']>): void {
  const W = line.length;
  const { at, back, backShare, forth, forthShare } = inX;
  const { runs } = level;
  for (let r = 0, done = -1; r < runs.length; r += 2) {
    const y = Math.floor(runs[r]! / at.length);
    if (y === done) continue;
    done = y;
    const row = inY.at[y]! * W;
    const over = inY.back[y]! * W;
    const under = inY.forth[y]! * W;
    const overShare = inY.backShare[y]!;
    const underShare = inY.forthShare[y]!;
    for (let x = 0; x < W; x++)
      line[x] = fine[row + x]! + overShare * fine[over + x]! + underShare * fine[under + x]!;
    for (let c = 0, to = y * at.length; c < at.length; c++, to++)
      left[to] = line[at[c]!]! + backShare[c]! * line[back[c]!]! + forthShare[c]! * line[forth[c]!]!;
  }
}

/** fine += P·found. */
function prolong({ level, inX, inY, found, line }: NonNullable<Level['below']>, fine: Float32Array): void {
  const W = line.length;
  const { at, back, backShare, forth, forthShare } = inX;
  const { runs } = level;
  for (let r = 0, done = -1; r < runs.length; r += 2) {
    const y = Math.floor(runs[r]! / at.length);
    if (y === done) continue;
    done = y;
    line.fill(0);
    for (let c = 0, from = y * at.length; c < at.length; c++, from++) {
      const value = found[from]!;
      line[at[c]!]! += value;
      line[back[c]!]! += backShare[c]! * value;
      line[forth[c]!]! += forthShare[c]! * value;
    }
    addTo(fine, inY.at[y]! * W, 1, line);
    if (inY.backShare[y]! > 0) addTo(fine, inY.back[y]! * W, inY.backShare[y]!, line);
    if (inY.forthShare[y]! > 0) addTo(fine, inY.forth[y]! * W, inY.forthShare[y]!, line);
  }
}

function addTo(fine: Float32Array, row: number, share: number, line: Float32Array): void {
  for (let x = 0; x < line.length; x++) fine[row + x]! += share * line[x]!;
}
