import { apart, PER_UNIT, type Atlas } from './atlas';
import { DOWN, GridCut, RIGHT } from './min-cut';

/**
 * A repeat in the making: each of its pixels says which place of the atlas it is copied from. Where neighbours do not
 * stand side by side in the sample as well there is a seam, and seams cost what they show.
 *
 * Source of the cost and of the moves: Kwatra, Schödl, Essa, Turk, Bobick, "Graphcut Textures", 2003; a move is an
 * expansion after Boykov, Veksler, Zabih 2001, which finds the best outline of a new copy exactly.
 */
export interface Torus {
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

export const makeTorus = (
  atlas: Atlas,
  widthPx: number,
  heightPx: number,
  closed: Torus['closed'],
  joints: Joints = NO_JOINTS,
): Torus => ({
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
export function seamCost({ features }: Atlas, a: number, b: number, step: number, off: number): number {
  if (a + step === b || a < 0 || b < 0) return 0;
  return SEAM + off + apart(features, a, b - step) + apart(features, a + step, b);
}

/** Index of the pixel right of or below another; −1 at an open edge. */
export function neighbour(torus: Torus, x: number, y: number, down: boolean): number {
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
export function proposeCopy(
  torus: Torus,
  window: Window,
  partIndex: number,
  from: { x: number; y: number },
  free: Uint8Array | null,
  not: Int32Array | null = null,
): Move | null {
  const { widthPx: W, heightPx: H, closed, place, atlas, off } = torus;
  const { stride, usable } = atlas;
  const part = atlas.parts[partIndex]!;
  // Crop to the sample, and to what the torus can hold.
  let { x: sx, y: sy } = from;
  let { x: x0, y: y0, widthPx: w, heightPx: h } = window;
  if (sx < 0) [x0, w, sx] = [x0 - sx, w + sx, 0];
  if (sy < 0) [y0, h, sy] = [y0 - sy, h + sy, 0];
  w = Math.min(w, part.widthPx - sx, closed.across ? W - 1 : W - x0);
  h = Math.min(h, part.heightPx - sy, closed.up ? H - 1 : H - y0);
  if (!closed.across && x0 < 0) [w, sx, x0] = [w + x0, sx - x0, 0];
  if (!closed.up && y0 < 0) [h, sy, y0] = [h + y0, sy - y0, 0];
  if (w < 1 || h < 1) return null;
  const first = part.first + sy * stride + sx;
  const wrapX = (x: number) => ((x % W) + W) % W;
  const wrapY = (y: number) => ((y % H) + H) % H;

  cutter.begin(w, h);
  const { arcs, ends } = cutter;
  let before = 0;
  // A pair: cost when both are old, when only the second is new, when only the first is new; both new costs nothing.
  const join = (i: number, j: number, forth: number, e00: number, e01: number, e10: number) => {
    const c00 = Math.min(e00, e01 + e10);
    ends[i]! += e10 - c00;
    ends[j]! += -e10;
    const c = e01 + e10 - c00;
    arcs[4 * i + forth]! += c;
  };
  for (let v = 0; v < h; v++) {
    const y = wrapY(y0 + v);
    for (let u = 0; u < w; u++) {
      const x = wrapX(x0 + u);
      const p = y * W + x;
      const i = v * w + u;
      const old = place[p]!;
      const fresh = first + v * stride + u;
      const may =
        usable[fresh] === 1 && (free === null || free[p] === 1) && (not === null || not[p] !== fresh);
      if (!may) ends[i]! += NEVER;
      else if (old < 0) ends[i]! -= NEVER;
      if (u + 1 < w) {
        const q = y * W + wrapX(x0 + u + 1);
        const b = place[q]!;
        const e00 = seamCost(atlas, old, b, 1, off.column[x]!);
        before += e00;
        join(
          i,
          i + 1,
          RIGHT,
          e00,
          seamCost(atlas, old, fresh + 1, 1, off.column[x]!),
          seamCost(atlas, fresh, b, 1, off.column[x]!),
        );
      }
      if (v + 1 < h) {
        const q = wrapY(y0 + v + 1) * W + x;
        const b = place[q]!;
        const e00 = seamCost(atlas, old, b, stride, off.row[y]!);
        before += e00;
        join(
          i,
          i + w,
          DOWN,
          e00,
          seamCost(atlas, old, fresh + stride, stride, off.row[y]!),
          seamCost(atlas, fresh, b, stride, off.row[y]!),
        );
      }
      // Neighbours outside the window stay as they are.
      if (u === 0 && (closed.across || x > 0))
        outside(i, place[y * W + wrapX(x - 1)]!, old, fresh, 1, true, off.column[wrapX(x - 1)]!);
      if (u === w - 1 && (closed.across || x < W - 1))
        outside(i, place[y * W + wrapX(x + 1)]!, old, fresh, 1, false, off.column[x]!);
      if (v === 0 && (closed.up || y > 0))
        outside(i, place[wrapY(y - 1) * W + x]!, old, fresh, stride, true, off.row[wrapY(y - 1)]!);
      if (v === h - 1 && (closed.up || y < H - 1))
        outside(i, place[wrapY(y + 1) * W + x]!, old, fresh, stride, false, off.row[y]!);
    }
  }
  function outside(
    i: number,
    other: number,
    old: number,
    fresh: number,
    step: number,
    leads: boolean,
    more: number,
  ) {
    const was = leads ? seamCost(atlas, other, old, step, more) : seamCost(atlas, old, other, step, more);
    const is = leads ? seamCost(atlas, other, fresh, step, more) : seamCost(atlas, fresh, other, step, more);
    before += was;
    ends[i]! += is - was;
  }
  cutter.solve(w);
  // Energy of the outcome, counted anew: pairs that were held to be exact are.
  const taken = new Uint8Array(w * h);
  let changed = 0;
  let filled = 0;
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) {
      const i = v * w + u;
      if (!cutter.onSecondSide(i)) continue;
      const p = wrapY(y0 + v) * W + wrapX(x0 + u);
      const fresh = first + v * stride + u;
      if (usable[fresh] !== 1 || (free !== null && free[p] !== 1) || place[p] === fresh) continue;
      if (not !== null && not[p] === fresh) continue;
      taken[i] = 1;
      changed++;
      if (place[p]! < 0) filled++;
    }
  const at = (u: number, v: number) => {
    const x = x0 + u;
    const y = y0 + v;
    if ((!closed.across && (x < 0 || x >= W)) || (!closed.up && (y < 0 || y >= H))) return -1;
    return u >= 0 && v >= 0 && u < w && v < h && taken[v * w + u] === 1
      ? first + v * stride + u
      : place[wrapY(y) * W + wrapX(x)]!;
  };
  let after = 0;
  for (let v = -1; v < h; v++)
    for (let u = -1; u < w; u++) {
      const a = at(u, v);
      if (v >= 0) after += seamCost(atlas, a, at(u + 1, v), 1, off.column[wrapX(x0 + u)]!);
      if (u >= 0) after += seamCost(atlas, a, at(u, v + 1), stride, off.row[wrapY(y0 + v)]!);
    }
  return {
    before,
    after,
    filled,
    changed,
    apply: () => {
      for (let v = 0; v < h; v++)
        for (let u = 0; u < w; u++)
          if (taken[v * w + u] === 1) place[wrapY(y0 + v) * W + wrapX(x0 + u)] = first + v * stride + u;
    },
  };
}

/** Seam cost of every pixel with its right and lower neighbour. */
export function seamMap(torus: Torus): Int32Array {
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
