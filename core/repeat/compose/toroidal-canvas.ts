import { atOnce, type Steps } from '../../steps';
import { apart, PER_UNIT, type Atlas } from './atlas';
import { DOWN, GridCut, RIGHT } from './min-cut';

/**
 * A repeat in the making: each of its pixels says which place of the atlas it is copied from. Where neighbours do not
 * stand side by side in the sample as well there is a seam, and seams cost what they show.
 *
 * Source of the cost and of the moves: Kwatra, Schödl, Essa, Turk, Bobick, "Graphcut Textures", 2003; a move is an
 * expansion after Boykov, Veksler, Zabih 2001, which finds the best outline of a new copy exactly.
 */
export interface ToroidalCanvas {
  widthPx: number;
  heightPx: number;
  /** Whether the left edge meets the right one, and the top the bottom one. */
  closed: { across: boolean; up: boolean };
  /** Place in the atlas each pixel is copied from; −1 where nothing lies yet. */
  place: Int32Array;
  atlas: Atlas;
  /**
   * What a seam costs more between a row and the next, a column and the next: away from the joints of a regular
   * structure, so that copies are cut inside joints.
   */
  off: { row: Int32Array; column: Int32Array };
  /** Where it begins in the repeat as it was solved, px: a lattice is in step with that. */
  begins: { x: number; y: number };
}

/** What every pixel of seam costs, however well it fits: keeps outlines short. In steps of features. */
const SEAM = 12;
const NEVER = 1 << 28;

export const makeToroidalCanvas = (
  atlas: Atlas,
  widthPx: number,
  heightPx: number,
  closed: ToroidalCanvas['closed'],
  joints: Joints = NO_JOINTS,
): ToroidalCanvas => ({
  widthPx,
  heightPx,
  closed,
  place: new Int32Array(widthPx * heightPx).fill(-1),
  atlas,
  off: { row: offJoints(heightPx, joints.up), column: offJoints(widthPx, joints.across) },
  begins: { x: 0, y: 0 },
});

/** Where the joints of a regular structure lie on each axis: in shares of the repeat. */
export interface Joints {
  across: { period: number; first: number } | null;
  up: { period: number; first: number } | null;
}
const NO_JOINTS: Joints = { across: null, up: null };

/** A seam inside a piece instead of in its joint costs as much as a step of so many L*. */
const INSIDE_PIECE = 24 * PER_UNIT;

function offJoints(n: number, joints: Joints['up']): Int32Array {
  const out = new Int32Array(n);
  if (!joints) return out;
  const period = joints.period * n;
  // Joints are a pixel or two wide; beside them the cost rises within an eighth of a piece.
  for (let i = 0; i < n; i++) {
    const at = (i + 1 - joints.first * n) / period;
    const far = Math.abs(at - Math.round(at)) * period;
    out[i] = Math.round(INSIDE_PIECE * Math.min(1, Math.max(0, (far - 1) / Math.max(1, period / 8))));
  }
  return out;
}

/**
 * Cost of two neighbours: `a` and then, one `step` of the atlas further, `b`. Nothing where they are neighbours there too.
 * @param off what a seam costs more here
 */
export function seamCost(atlas: Atlas, a: number, b: number, step: number, off: number): number {
  if (a + step === b || a < 0 || b < 0) return 0;
  const { features } = atlas;
  return (
    throughPieceCost(atlas, a, b, step, off) +
    shown(atlas, step, apart(features, a, b - step) + apart(features, a + step, b))
  );
}

/**
 * What a seam between two places costs more because it runs through a piece, and not in a joint on either side of it, or because it takes
 * away what either copy goes on with of a joint; else by the lines of a lattice. Joints make it no metric: what a cut cannot hold is held
 * as the most it can, and every move is judged by what it costs when it is made.
 */
function throughPieceCost(
  { throughPiece: costs }: Atlas,
  a: number,
  b: number,
  step: number,
  off: number,
): number {
  if (!costs) return off;
  const [first, second] = [costs[a]!, costs[b]!];
  const lost = Math.max(0, second - costs[a + step]!) + Math.max(0, first - costs[b - step]!);
  return 2 * Math.min(first, second) + lost;
}

/** What a seam of a length of one pixel costs that shows so much. */
const shown = ({ counts }: Atlas, step: number, difference: number) =>
  ((SEAM + difference) * (step === 1 ? counts.beside : counts.below)) >> 4;

/** Index of the pixel right of or below another; −1 at an open edge. */
export function neighbour(torus: ToroidalCanvas, x: number, y: number, down: boolean): number {
  const { widthPx: w, heightPx: h, closed } = torus;
  if (down) return y + 1 < h ? (y + 1) * w + x : closed.up ? x : -1;
  return x + 1 < w ? y * w + x + 1 : closed.across ? y * w : -1;
}

/** A window of the torus; it may reach over a closed edge. */
export interface Window {
  x: number;
  y: number;
  widthPx: number;
  heightPx: number;
}

export interface Move {
  /** Cost of all seams in and around the window, before and after; unset pixels aside. */
  before: number;
  after: number;
  /** Pixels that nothing lay on, and that are covered now. */
  filled: number;
  /** Pixels that change. */
  changed: number;
  apply: () => void;
}

/** Cuts that are made at once share their memory. */
const cutter = new GridCut();

/**
 * The best outline of a new copy of the sample within a window.
 * @param torus the repeat in the making
 * @param window where
 * @param partIndex part of the atlas it is copied from
 * @param from pixel of that part which comes to lie on the window's first; what reaches beyond the sample is left as it is
 * @param free 1 where pixels may change; null: everywhere
 * @param not what no pixel may become again: the place it had before; null: nothing
 */
export const proposeCopy = (...proposed: Proposed): Move | null => atOnce(proposing(cutter, ...proposed));

type Proposed = [
  torus: ToroidalCanvas,
  window: Window,
  partIndex: number,
  from: { x: number; y: number },
  free: Uint8Array | null,
  not?: Int32Array | null,
];

/** The same in steps, for windows so large that their cut takes long. @param own nobody else cuts with it meanwhile */
export function* proposing(
  own: GridCut,
  ...[torus, window, partIndex, from, free, not = null]: Proposed
): Steps<Move | null> {
  const fit = fitting(torus, window, partIndex, from);
  if (!fit) return null;
  const site = readSite(torus, fit, free, not);
  yield;
  const before = drawGraph(own, torus.atlas, site);
  yield* own.solving();
  const { taken, changed, filled } = takeOver(own, site);
  return {
    before,
    after: energyOf(torus.atlas, site),
    filled,
    changed,
    apply: () => {
      for (const i of taken) torus.place[site.pixel[i]!] = site.lies[i]!;
    },
  };
}

/** A window cropped to the sample and to what the torus can hold, and the place of the atlas that comes on its first pixel. */
interface Fit {
  x0: number;
  y0: number;
  w: number;
  h: number;
  first: number;
}

function fitting(
  { widthPx: W, heightPx: H, closed, atlas }: ToroidalCanvas,
  { x: x0, y: y0, widthPx: w, heightPx: h }: Window,
  partIndex: number,
  { x: sx, y: sy }: { x: number; y: number },
): Fit | null {
  const part = atlas.parts[partIndex]!;
  if (sx < 0) [x0, w, sx] = [x0 - sx, w + sx, 0];
  if (sy < 0) [y0, h, sy] = [y0 - sy, h + sy, 0];
  w = Math.min(w, part.widthPx - sx, closed.across ? W - 1 : W - x0);
  h = Math.min(h, part.heightPx - sy, closed.up ? H - 1 : H - y0);
  if (!closed.across && x0 < 0) [w, sx, x0] = [w + x0, sx - x0, 0];
  if (!closed.up && y0 < 0) [h, sy, y0] = [h + y0, sy - y0, 0];
  return w < 1 || h < 1 ? null : { x0, y0, w, h, first: part.first + sy * atlas.stride + sx };
}

/** A window and the pixels about it, row by row, each `across` long; the window's first is at 1, 1. */
interface Site extends Fit {
  across: number;
  /** Which pixel of the torus it is; −1 beyond an open edge. */
  pixel: Int32Array;
  /** The place of the atlas that lies there, −1 for none; and the one that may come. */
  lies: Int32Array;
  fresh: Int32Array;
  /** 1 where it may come. */
  may: Uint8Array;
  /** How far what comes is from what lies. */
  differs: Int32Array;
  /** What a seam costs more before each column and each row of the window, and after its last. */
  offRight: Int32Array;
  offDown: Int32Array;
}

function readSite(
  { widthPx: W, heightPx: H, closed, place, atlas, off }: ToroidalCanvas,
  fit: Fit,
  free: Uint8Array | null,
  not: Int32Array | null,
): Site {
  const { x0, y0, w, h, first } = fit;
  const { stride, usable, features } = atlas;
  const across = w + 2;
  const n = across * (h + 2);
  const pixel = new Int32Array(n).fill(-1);
  const lies = new Int32Array(n).fill(-1);
  const fresh = new Int32Array(n);
  const may = new Uint8Array(n);
  const differs = new Int32Array(n);
  const wrapX = (x: number) => ((x % W) + W) % W;
  const wrapY = (y: number) => ((y % H) + H) % H;
  for (let v = -1; v <= h; v++) {
    if (!closed.up && (y0 + v < 0 || y0 + v >= H)) continue;
    const row = wrapY(y0 + v) * W;
    for (let u = -1; u <= w; u++) {
      if (!closed.across && (x0 + u < 0 || x0 + u >= W)) continue;
      const i = (v + 1) * across + u + 1;
      const p = row + wrapX(x0 + u);
      const old = place[p]!;
      pixel[i] = p;
      lies[i] = old;
      if (u < 0 || v < 0 || u === w || v === h) continue;
      const comes = first + v * stride + u;
      fresh[i] = comes;
      if (usable[comes] === 1 && (!free || free[p] === 1) && (!not || not[p] !== comes)) may[i] = 1;
      if (old >= 0) differs[i] = apart(features, old, comes);
    }
  }
  const offRight = Int32Array.from({ length: w + 1 }, (_, k) => off.column[wrapX(x0 + k - 1)]!);
  const offDown = Int32Array.from({ length: h + 1 }, (_, k) => off.row[wrapY(y0 + k - 1)]!);
  return { ...fit, across, pixel, lies, fresh, may, differs, offRight, offDown };
}

/**
 * The graph whose least cut is the best outline: a node for each pixel of the window, on the side of the sink where the
 * copy comes.
 * @returns cost of the seams as it lies
 */
function drawGraph(cutter: GridCut, atlas: Atlas, site: Site): number {
  const { w, h, across, lies, fresh, may, differs, offRight, offDown } = site;
  const { stride } = atlas;
  cutter.begin(w, h);
  const { arcs, ends } = cutter;
  let before = 0;
  // A pair: cost when both are old, when only the second is new, when only the first is new; both new costs nothing.
  const join = (node: number, other: number, forth: number, e00: number, e01: number, e10: number) => {
    const c00 = Math.min(e00, e01 + e10);
    ends[node]! += e10 - c00;
    ends[other]! -= e10;
    arcs[4 * node + forth]! += e01 + e10 - c00;
  };
  /** Two neighbours inside: steps from the first to the second in nodes, on the site and in the atlas. */
  const pair = (
    node: number,
    i: number,
    toNode: number,
    toSite: number,
    step: number,
    forth: number,
    more: number,
  ) => {
    const [a, b, comes] = [lies[i]!, lies[i + toSite]!, fresh[i]!];
    if (a >= 0 && b === a + step) {
      // They stand side by side: whichever is replaced, the seam shows the same.
      const cost = a === comes ? 0 : shown(atlas, step, differs[i]! + differs[i + toSite]!);
      const through = (from: number, to: number) =>
        a === comes ? 0 : throughPieceCost(atlas, from, to, step, more);
      join(node, node + toNode, forth, 0, cost + through(a, comes + step), cost + through(comes, b));
      return;
    }
    const e00 = seamCost(atlas, a, b, step, more);
    const e01 = seamCost(atlas, a, comes + step, step, more);
    before += e00;
    join(node, node + toNode, forth, e00, e01, seamCost(atlas, comes, b, step, more));
  };
  /** A pixel and one outside the window, which stays as it is: before or after it. */
  const outside = (node: number, i: number, toOther: number, step: number, more: number) => {
    const other = lies[i + toOther]!;
    const cost = (of: number) =>
      toOther < 0 ? seamCost(atlas, other, of, step, more) : seamCost(atlas, of, other, step, more);
    const was = cost(lies[i]!);
    before += was;
    ends[node]! += cost(fresh[i]!) - was;
  };
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) {
      const node = v * w + u;
      const i = (v + 1) * across + u + 1;
      if (may[i] === 0) ends[node]! += NEVER;
      else if (lies[i]! < 0) ends[node]! -= NEVER;
      if (u + 1 < w) pair(node, i, 1, 1, 1, RIGHT, offRight[u + 1]!);
      else outside(node, i, 1, 1, offRight[w]!);
      if (v + 1 < h) pair(node, i, w, across, stride, DOWN, offDown[v + 1]!);
      else outside(node, i, across, stride, offDown[h]!);
      if (u === 0) outside(node, i, -1, 1, offRight[0]!);
      if (v === 0) outside(node, i, -across, stride, offDown[0]!);
    }
  return before;
}

/** Lays the copy on the site, as it was cut. */
function takeOver(cutter: GridCut, { w, h, across, lies, fresh, may }: Site) {
  const taken: number[] = [];
  let filled = 0;
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) {
      const i = (v + 1) * across + u + 1;
      if (!cutter.isOnSinkSide(v * w + u) || may[i] === 0 || lies[i] === fresh[i]) continue;
      taken.push(i);
      if (lies[i]! < 0) filled++;
      lies[i] = fresh[i]!;
    }
  return { taken, changed: taken.length, filled };
}

/** Cost of the seams as it lies now, counted anew: pairs that were held to be exact are. */
function energyOf(atlas: Atlas, { w, h, across, lies, offRight, offDown }: Site): number {
  let sum = 0;
  for (let v = -1; v < h; v++)
    for (let u = -1; u < w; u++) {
      const i = (v + 1) * across + u + 1;
      const a = lies[i]!;
      if (v >= 0) sum += seamCost(atlas, a, lies[i + 1]!, 1, offRight[u + 1]!);
      if (u >= 0) sum += seamCost(atlas, a, lies[i + across]!, atlas.stride, offDown[v + 1]!);
    }
  return sum;
}

/** Seam cost of every pixel with its right and lower neighbour. */
export function seamMap(torus: ToroidalCanvas): Int32Array {
  const { widthPx: w, heightPx: h, place, atlas, off } = torus;
  const out = new Int32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const p = y * w + x;
      const right = neighbour(torus, x, y, false);
      const below = neighbour(torus, x, y, true);
      out[p] =
        (right < 0 ? 0 : seamCost(atlas, place[p]!, place[right]!, 1, off.column[x]!)) +
        (below < 0 ? 0 : seamCost(atlas, place[p]!, place[below]!, atlas.stride, off.row[y]!));
    }
  return out;
}
