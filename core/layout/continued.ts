import type { ColourPicture } from '../raster';

/**
 * A face that is shorter than the piece laid of it is continued from the same picture: copies of it overlap, each shifted to where
 * it fits best, and are cut along the path that shows least (image quilting along one axis, Efros, Freeman 2001). Solved on a
 * small picture once, in shares of the face, it is the same at every size.
 */

/** Copies of a face one after another along an axis. All lengths are shares of the face. */
export interface Continuation {
  /** Copies from the second on; the first lies as it is. */
  copies: readonly ContinuedBy[];
  /** How far it reaches. */
  length: number;
}

export interface ContinuedBy {
  /** What of the picture lies at `at`. */
  from: number;
  at: number;
  /** From where on this copy is shown, for each of equal strips across. */
  cut: Float32Array;
}

/** Share of a face over which two copies overlap. */
const OVERLAP = 0.3;
/** A copy may begin anywhere in this first share of the face, so that the rest of it is new. */
const BEGINS_WITHIN = 0.45;
/** Shifts that are tried for a copy. */
const SHIFTS = 24;
/** A path goes from strip to strip by at most so many columns. */
const STEEPEST = 2;

/**
 * Continues a face along its rows.
 * @param face a small picture of it, linear light, a hundred pixels or so long
 * @param length how far it has to reach, in lengths of the face; more than 1
 */
export function continued(face: ColourPicture, length: number): Continuation {
  const { widthPx: w } = face;
  const overlap = Math.max(2, Math.round(OVERLAP * w));
  const copies: ContinuedBy[] = [];
  const light = rootOf(face);
  // What of the face the last copy showed where the next one begins, and which shifts were used.
  let [end, last] = [1, { from: 0, at: 0 }];
  const used: number[] = [];
  while (end < length - 1e-9) {
    const at = end - overlap / w;
    const shown = Math.round((at - last.at + last.from) * w);
    const best = bestShift(light, face, shown, overlap, used);
    used.push(best.from);
    last = { from: best.from / w, at };
    copies.push({ ...last, cut: Float32Array.from(best.path, (x) => at + x / w) });
    end = at + (w - best.from) / w;
  }
  return { copies, length: end };
}

/** The root of linear light, in which differences count about as they are seen. */
const rootOf = ({ r, g, b }: ColourPicture): readonly Float32Array[] =>
  [r, g, b].map((data) => data.map((v) => Math.sqrt(Math.max(0, v))));

/** The shift at which the cheapest cut costs least; one that was used costs more. */
function bestShift(
  light: readonly Float32Array[],
  { widthPx: w, heightPx: h }: ColourPicture,
  shown: number,
  overlap: number,
  used: readonly number[],
): { from: number; path: Float32Array } {
  const furthest = Math.max(1, Math.floor(BEGINS_WITHIN * w));
  let best: { from: number; path: Float32Array; cost: number } = {
    from: 0,
    path: new Float32Array(h),
    cost: Infinity,
  };
  for (let k = 0; k < SHIFTS; k++) {
    const from = Math.floor((k * furthest) / SHIFTS);
    // What continues itself unshifted is no cut, but leads nowhere new.
    if (from >= shown || shown - from < overlap / 4) continue;
    const { path, cost } = cheapestCut(light, w, h, shown, from, overlap);
    const again = used.filter((one) => Math.abs(one - from) < furthest / 6).length;
    const counted = cost * (1 + 0.5 * again);
    if (counted < best.cost) best = { from, path, cost: counted };
  }
  return best;
}

/** The path down the overlap along which two copies differ least (dynamic programming). */
function cheapestCut(
  light: readonly Float32Array[],
  w: number,
  h: number,
  shown: number,
  from: number,
  overlap: number,
): { path: Float32Array; cost: number } {
  const cost = new Float32Array(h * overlap);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < overlap; x++) {
      const [a, b] = [y * w + Math.min(w - 1, shown + x), y * w + Math.min(w - 1, from + x)];
      let differs = 0;
      for (const plane of light) differs += (plane[a]! - plane[b]!) * (plane[a]! - plane[b]!);
      cost[y * overlap + x] = differs + 1e-7;
    }
  for (let y = 1; y < h; y++)
    for (let x = 0; x < overlap; x++) {
      let least = Infinity;
      for (let s = Math.max(0, x - STEEPEST); s <= Math.min(overlap - 1, x + STEEPEST); s++)
        least = Math.min(least, cost[(y - 1) * overlap + s]!);
      cost[y * overlap + x]! += least;
    }
  const path = new Float32Array(h);
  let at = 0;
  for (let x = 1; x < overlap; x++) if (cost[(h - 1) * overlap + x]! < cost[(h - 1) * overlap + at]!) at = x;
  const total = cost[(h - 1) * overlap + at]!;
  for (let y = h - 1; y >= 0; y--) {
    path[y] = at + 0.5;
    if (y === 0) break;
    let next = at;
    for (let s = Math.max(0, at - STEEPEST); s <= Math.min(overlap - 1, at + STEEPEST); s++)
      if (cost[(y - 1) * overlap + s]! < cost[(y - 1) * overlap + next]!) next = s;
    at = next;
  }
  return { path, cost: total / h };
}

/** Width over which one copy passes into the next, as a share of the face. */
const PASSES_OVER = 0.006;

/** What of a face is shown at a place of its continuation: one place, or two and the weight of the second. */
export interface Shown {
  at: number;
  other: number;
  weight: number;
}

/**
 * @param along place along the continuation, 0 to its length
 * @param across place across the face, 0–1
 */
export function shownAt({ copies }: Continuation, along: number, across: number, out: Shown): Shown {
  out.at = along;
  out.weight = 0;
  for (const { from, at, cut } of copies) {
    if (along < at) break;
    const k = Math.min(cut.length - 1, Math.max(0, Math.floor(across * cut.length)));
    const past = (along - cut[k]!) / PASSES_OVER;
    if (past <= -0.5) break;
    const here = along - at + from;
    if (past < 0.5) {
      out.other = here;
      out.weight = past + 0.5;
      break;
    }
    out.at = here;
  }
  return out;
}
