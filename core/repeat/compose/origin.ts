import type { ColourPicture } from '../../raster';
import { edgeFigures, stepsOf } from '../seam';
import type { ToroidalCanvas } from './toroidal-canvas';

/**
 * Where a repeat may begin makes no difference to the surface, but its edges are what is looked at. A regular structure
 * begins in a joint, so that its pieces lie whole in the repeat; all else begins at a line that differs from its
 * neighbours as lines do on average.
 */

/** Lines before which a repeat may begin on each axis, the best first, with how far their figures are off. */
export interface Beginnings {
  across: OriginCandidate[];
  up: OriginCandidate[];
}
export interface OriginCandidate {
  /** Cell of the repeat as it was solved. */
  line: number;
  /** Logarithm of its figure, or of the mean with the lines beside it, whichever is further from nothing. */
  off: number;
}

/**
 * @param torus the repeat
 * @param picture it, drawn
 * @param modules whole modules in the repeat on each axis
 * @returns nothing on an axis whose edges do not meet
 */
export function originCandidates(
  { closed, off }: ToroidalCanvas,
  picture: ColourPicture,
  modules: { across?: number | undefined; up?: number | undefined },
): Beginnings {
  const steps = stepsOf(picture);
  return {
    across: closed.across ? candidatesAlong(steps.columns, off.column, modules.across) : [],
    up: closed.up ? candidatesAlong(steps.rows, off.row, modules.up) : [],
  };
}

/** How far the figures of a line and of those beside it are off; a line that stands out from its own neighbours is not a good one. */
export const offBy = (before: number, at: number, after: number): number =>
  Math.max(Math.abs(Math.log(at)), Math.abs(Math.log((before + at + after) / 3)));

/** Lines that lie in the middle of a joint, where there are any, or all. */
function candidatesAlong(
  steps: Float64Array,
  off: Int32Array,
  modules: number | undefined,
): OriginCandidate[] {
  const [n, lines] = [off.length, steps.length];
  const out: OriginCandidate[] = [];
  const may = off.some((more) => more > 0)
    ? (i: number) => inTheMiddle(off, i)
    : modules && modules > 1
      ? inSeenJoints(steps, modules, n)
      : () => true;
  const figureAt = edgeFigures(steps, modules);
  for (let i = 0; i < n; i++) {
    if (!may(i)) continue;
    const figure = (beside: number) => figureAt((Math.round((i * lines) / n) + beside + lines) % lines);
    out.push({ line: i, off: offBy(figure(-1), figure(0), figure(1)) });
  }
  return out.sort((a, b) => a.off - b.off || a.line - b.line);
}

/** A joint is as wide as steps beside its steepest one are more than this share of it, up to a quarter of a period away. */
const FLANK = 0.5;
const WIDEST = 1 / 4;

/**
 * Where joints lie that nobody told of: where steps are steepest in all modules together. Lines in the middle of them.
 * @param n lines to choose among, round the repeat
 */
function inSeenJoints(steps: Float64Array, modules: number, n: number): (line: number) => boolean {
  const period = steps.length / modules;
  const folded = Float64Array.from({ length: Math.floor(period) }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < modules; k++) sum += steps[Math.round(i + k * period) % steps.length]!;
    return sum;
  });
  const steepest = folded.reduce((best, v, i) => (v > folded[best]! ? i : best), 0);
  const far = Math.floor(WIDEST * period);
  let [from, to] = [0, 0];
  for (let d = -far; d <= far; d++) {
    const there = folded[(steepest + d + folded.length) % folded.length]!;
    if (there < FLANK * folded[steepest]!) continue;
    from = Math.min(from, d);
    to = Math.max(to, d);
  }
  const middle = steepest + (from + to) / 2;
  const chosen = new Set(
    Array.from({ length: modules }, (_, k) => {
      const line = Math.round(((middle + k * period) * n) / steps.length);
      return ((line % n) + n) % n;
    }),
  );
  return (line) => chosen.has(line);
}

/** Whether a line is the middle of a run of lines that lie in a joint. */
function inTheMiddle(off: Int32Array, i: number): boolean {
  const n = off.length;
  const inJoint = (k: number) => off[(k - 1 + 2 * n) % n] === 0;
  if (!inJoint(i)) return false;
  let [before, after] = [0, 0];
  while (before < n && inJoint((i - before - 1 + n) % n)) before++;
  while (after < n && inJoint((i + after + 1) % n)) after++;
  return before === after || before === after + 1;
}

/** The same repeat, begun so many cells further. */
export function withOrigin(
  torus: ToroidalCanvas,
  { x: dx, y: dy }: { x: number; y: number },
): ToroidalCanvas {
  const { widthPx: W, heightPx: H, place, off } = torus;
  const rolled = (line: Int32Array, d: number) => line.map((_, i) => line[(i + d) % line.length]!);
  const begun = new Int32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) begun[y * W + x] = place[((y + dy) % H) * W + ((x + dx) % W)]!;
  return {
    ...torus,
    place: begun,
    off: { row: rolled(off.row, dy), column: rolled(off.column, dx) },
    begins: { x: torus.begins.x + dx, y: torus.begins.y + dy },
  };
}
