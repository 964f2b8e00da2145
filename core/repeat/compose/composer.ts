import { squared } from '../../exact';
import { seededRandom, type Random } from '../../raster';
import type { Steps as PlainSteps } from '../../steps';
import { FEATURES, type Atlas } from './atlas';
import { makeSearcher, type Found, type Searcher } from './search';
import { SummedAreaTable } from './summed-area-table';
import { proposeCopy, seamMap, type Move, type ToroidalCanvas, type Window } from './toroidal-canvas';

/** Period of a regular structure on each axis, px of the repeat; copies are then laid in step with it. */
export interface Lattice {
  acrossPx: number | null;
  upPx: number | null;
  /** Shift of one course against the next, as a share of the period across. */
  stagger: number;
}

/** How far work is, 0–1, and what is there so far when that is worth a look. */
export interface Step {
  share: number;
  soFar?: ToroidalCanvas;
}
/** Work is done in steps between which others may have their turn. */
export type Steps<T> = Generator<Step, T>;

/** Steps that do not tell how far they are, while a share of the whole is done. */
export function* whileAt<T>(share: number, steps: PlainSteps<T>): Steps<T> {
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    yield { share };
  }
}

/** One use more of a place costs as much as this share of the sample's own variance, and at least about 2 L*, squared. */
const PER_USE = 0.5;
const LEAST_PER_USE = 1100;
/** How far off its lattice a copy may be laid, px; what is left is settled later. */
const OFF_LATTICE_PX = 0.75;

const offStep = (value: number, period: number) => Math.abs(value - Math.round(value / period) * period);
const wrapped = (v: number, n: number) => ((v % n) + n) % n;

/** Where a repeat that is there is laid anew. */
export interface Anew {
  /** 1 where its pixels may change. */
  free: Uint8Array;
  /** What it was before: no free pixel becomes that again. */
  before: Int32Array;
}

/** Lays copies of the sample on a repeat in the making: where nothing lies, and where what lies shows. */
export class Composer {
  private readonly searcher: Searcher;
  private readonly usable: readonly SummedAreaTable[];
  private used: readonly SummedAreaTable[] = [];
  private readonly random: Random;
  private readonly perUse: number;

  /**
   * @param torus the repeat in the making
   * @param seed same seed, same repeat
   * @param lattice of a regular structure; copies then lie as the sample lies
   * @param anew what is laid anew in a repeat that is there; null: all of it is made
   */
  constructor(
    readonly torus: ToroidalCanvas,
    seed: number,
    private readonly lattice: Lattice,
    private readonly anew: Anew | null = null,
  ) {
    const { atlas } = torus;
    this.searcher = makeSearcher(atlas);
    this.random = seededRandom(seed);
    this.usable = atlas.parts.map(
      (p) =>
        new SummedAreaTable(p.widthPx, p.heightPx, (x, y) => atlas.usable[p.first + y * atlas.stride + x]!),
    );
    this.perUse = Math.max(LEAST_PER_USE, PER_USE * varianceOf(atlas));
    this.countUse();
  }

  /** Counts how often each place of the samples is used so far. */
  private countUse(): void {
    const { atlas, place } = this.torus;
    const uses = new Uint16Array(atlas.usable.length);
    for (const p of place) if (p >= 0) uses[p]!++;
    this.used = atlas.parts.map(
      (p) => new SummedAreaTable(p.widthPx, p.heightPx, (x, y) => uses[p.first + y * atlas.stride + x]!),
    );
  }

  /** The best outline of what was found, within what may change. */
  private propose(window: Window, found: Found): Move | null {
    const { torus, anew } = this;
    return proposeCopy(torus, window, found.partIndex, found, anew?.free ?? null, anew?.before);
  }

  /** The places of the samples that fit a window best. */
  private *search(window: Window, weights: Float32Array, most: number, wholly: boolean): PlainSteps<Found[]> {
    const { torus, usable, used, lattice } = this;
    const { widthPx: w, heightPx: h } = window;
    const area = w * h;
    return yield* this.searcher.find(torus, window, weights, most, {
      allowed: (part, x, y) => {
        const free = usable[part]!.over(x, y, w, h);
        if (wholly ? free < area : free < 0.6 * area) return false;
        const { acrossPx, upPx, stagger } = lattice;
        const [dx, dy] = [x - window.x - torus.begins.x, y - window.y - torus.begins.y];
        if (upPx && offStep(dy, upPx) > OFF_LATTICE_PX) return false;
        if (!acrossPx) return true;
        const courses = upPx ? Math.round(dy / upPx) : 0;
        return offStep(dx - courses * stagger * acrossPx, acrossPx) <= OFF_LATTICE_PX;
      },
      penalty: (part, x, y) => (this.perUse * used[part]!.over(x, y, w, h)) / area,
      random: () => this.random.next(),
    });
  }

  /** Lays copies side by side, overlapping, until nothing is empty that can be covered. */
  *fill(patch: { w: number; h: number }): Steps<void> {
    const { torus, random } = this;
    const { widthPx: W, heightPx: H, closed } = torus;
    const columns = Math.max(1, Math.ceil(W / Math.max(2, Math.round(patch.w * 0.62))));
    const rows = Math.max(1, Math.ceil(H / Math.max(2, Math.round(patch.h * 0.62))));
    const shift = { x: closed.across ? random.whole(W) : 0, y: closed.up ? random.whole(H) : 0 };
    let laid = 0;
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const share = (row * columns + column) / (rows * columns);
        yield { share };
        const x = (Math.round((column * W) / columns) + shift.x) % W;
        const y = (Math.round((row * H) / rows) + shift.y) % H;
        const window = this.windowAt(x, y, patch.w, patch.h);
        if (!this.touchesEmpty(window)) continue;
        if (laid++ % 4 === 0) this.countUse();
        yield* whileAt(share, this.layFirst(window));
      }
    yield* this.fillHoles(Math.min(patch.w, patch.h));
  }

  /** Covers what is still empty, with smaller and smaller copies. */
  *fillHoles(sidePx: number): Steps<void> {
    const { torus } = this;
    const { widthPx: W, place } = torus;
    for (let side = sidePx; side >= 1 && place.includes(-1); side = Math.floor(side / 2)) {
      if (!this.hasWholly(side)) continue;
      for (let p = 0; p < place.length; p++) {
        if (place[p]! >= 0) continue;
        yield { share: 1 };
        const half = side >> 1;
        const window = this.windowAt((p % W) - half, Math.floor(p / W) - half, side, side);
        const [found] = yield* whileAt(1, this.search(window, evenWeights(window), 1, true));
        if (found) this.propose(window, found)?.apply();
      }
    }
  }

  /** Whether a square of a side is usable as a whole anywhere in the samples. */
  private hasWholly(side: number): boolean {
    return this.torus.atlas.parts.some((part, k) => {
      const [w, h] = [Math.min(side, part.widthPx), Math.min(side, part.heightPx)];
      for (let y = 0; y + h <= part.heightPx; y++)
        for (let x = 0; x + w <= part.widthPx; x++)
          if (this.usable[k]!.over(x, y, w, h) === w * h) return true;
      return false;
    });
  }

  private *layFirst(window: Window): PlainSteps<void> {
    let best: Move | null = null;
    let least = Infinity;
    for (const found of yield* this.search(window, evenWeights(window), this.anew ? 6 : 3, false)) {
      yield;
      const move = this.propose(window, found);
      if (!move || move.filled === 0) continue;
      const cost = (move.after - move.before) / Math.sqrt(move.filled) + Math.sqrt(found.cost);
      if (cost < least) [least, best] = [cost, move];
    }
    best?.apply();
  }

  /** Lays anew what shows most, until nothing gets better or the moves are used up. */
  *improve(patch: { w: number; h: number }, moves: number): Steps<void> {
    const { torus, random } = this;
    const { widthPx: W, heightPx: H } = torus;
    // Places that were tried rest for a while.
    const rested = new Float32Array(W * H).fill(1);
    const box = Math.max(2, Math.min(W, H, Math.round(Math.min(patch.w, patch.h) / 3)));
    for (let k = 0; k < moves; k++) {
      yield { share: k / moves };
      const seams = seamMap(torus);
      if (this.anew) this.blankFixed(seams, this.anew.free);
      const sums = new SummedAreaTable(W + box, H + box, (x, y) => seams[(y % H) * W + (x % W)]!);
      let worst = -1;
      let most = 0;
      for (let y = 0; y < H; y += 2)
        for (let x = 0; x < W; x += 2) {
          const shows = sums.over(x, y, box, box) * rested[y * W + x]!;
          if (shows > most) [most, worst] = [shows, y * W + x];
        }
      if (worst < 0) return;
      const [wx, wy] = [worst % W, Math.floor(worst / W)];
      const scale = random.between(0.55, 1.1);
      const [w, h] = [Math.max(8, Math.round(patch.w * scale)), Math.max(8, Math.round(patch.h * scale))];
      const window = this.windowAt(wx + (box >> 1) - (w >> 1), wy + (box >> 1) - (h >> 1), w, h);
      if (k % 6 === 0) this.countUse();
      const rest = (yield* whileAt(k / moves, this.layBetter(window))) ? 0.8 : 0.35;
      for (let v = -box; v <= box; v++)
        for (let u = -box; u <= box; u++) rested[wrapped(wy + v, H) * W + wrapped(wx + u, W)]! *= rest;
    }
  }

  /** Seams between pixels that may not change do not count. */
  private blankFixed(seams: Int32Array, free: Uint8Array): void {
    const { widthPx: W, heightPx: H } = this.torus;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const p = y * W + x;
        if (free[p] || free[y * W + ((x + 1) % W)] || free[((y + 1) % H) * W + x]) continue;
        seams[p] = 0;
      }
  }

  /**
   * Covers what is empty in a box with one copy, as far as that goes.
   * @param rim how far about the box is looked for what fits; by chance more or less on each side, so that another seed
   * finds something else
   */
  *cover({ x, y, widthPx, heightPx }: Window, rim: { x: number; y: number }): PlainSteps<void> {
    this.countUse();
    const about = (px: number) => Math.max(2, Math.round(px * this.random.between(0.6, 1.6)));
    const [left, right, above, below] = [about(rim.x), about(rim.x), about(rim.y), about(rim.y)];
    yield* this.layFirst(
      this.windowAt(x - left, y - above, widthPx + left + right, heightPx + above + below),
    );
  }

  private *layBetter(window: Window): PlainSteps<boolean> {
    let best: Move | null = null;
    for (const found of yield* this.search(window, rimWeights(window), 4, false)) {
      yield;
      const move = this.propose(window, found);
      if (
        move &&
        move.after < move.before &&
        move.before - move.after > (best ? best.before - best.after : 0)
      )
        best = move;
    }
    best?.apply();
    return best !== null;
  }

  /** A window at a place, within what is open, and no wider or higher than the widest and the highest sample. */
  private windowAt(x: number, y: number, w: number, h: number): Window {
    const { widthPx: W, heightPx: H, closed, atlas } = this.torus;
    const widest = Math.max(...atlas.parts.map((p) => p.widthPx));
    const highest = Math.max(...atlas.parts.map((p) => p.heightPx));
    const widthPx = Math.max(1, Math.min(w, widest, closed.across ? W - 1 : W));
    const heightPx = Math.max(1, Math.min(h, highest, closed.up ? H - 1 : H));
    return {
      x: closed.across ? x : Math.min(W - widthPx, Math.max(0, x)),
      y: closed.up ? y : Math.min(H - heightPx, Math.max(0, y)),
      widthPx,
      heightPx,
    };
  }

  private touchesEmpty({ x, y, widthPx, heightPx }: Window): boolean {
    const { widthPx: W, heightPx: H, place } = this.torus;
    for (let v = 0; v < heightPx; v++)
      for (let u = 0; u < widthPx; u++) {
        if (place[wrapped(y + v, H) * W + wrapped(x + u, W)]! < 0) return true;
      }
    return false;
  }
}

const evenWeights = ({ widthPx, heightPx }: Window) => new Float32Array(widthPx * heightPx).fill(1);

/** The rim counts; the middle, which is to be replaced, hardly. */
function rimWeights({ widthPx: w, heightPx: h }: Window): Float32Array {
  const out = new Float32Array(w * h);
  const rim = Math.max(2, Math.round(Math.min(w, h) / 4));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) out[y * w + x] = Math.min(x, y, w - 1 - x, h - 1 - y) < rim ? 1 : 0.08;
  return out;
}

/** Variance of colour over the usable places of the samples, in squared steps of features. */
function varianceOf({ features, usable }: Atlas): number {
  let variance = 0;
  for (let c = 0; c < 3; c++) {
    let [n, sum, squares] = [0, 0, 0];
    for (let i = 0; i < usable.length; i++) {
      if (usable[i] !== 1) continue;
      const v = features[i * FEATURES + c]!;
      n++;
      sum += v;
      squares += v * v;
    }
    if (n > 0) variance += squares / n - squared(sum / n);
  }
  return variance;
}
