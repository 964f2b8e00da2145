import type { ColourPicture } from '../../raster';
import { edgeFigure, stepsOf } from '../seam';
import type { Torus } from './torus';

/**
 * The same repeat, begun elsewhere: where it begins makes no difference to the surface, but its edges are what is looked
 * at. A regular structure begins in a joint, so that its pieces lie whole in the repeat; all else begins at a line that
 * differs from its neighbours as lines do on average, at every resolution that is given.
 *
 * @param torus the repeat
 * @param pictures it, drawn at any resolutions
 * @param modules whole modules in the repeat on each axis
 */
export function begunWell(
  torus: Torus,
  pictures: readonly ColourPicture[],
  modules: { across?: number | undefined; up?: number | undefined } = {},
): Torus {
  const { widthPx: W, heightPx: H, closed, place, off } = torus;
  const steps = pictures.map(stepsOf);
  const dx = closed.across
    ? beginning(
        steps.map((s) => s.columns),
        W,
        off.column,
        modules.across,
      )
    : 0;
  const dy = closed.up
    ? beginning(
        steps.map((s) => s.rows),
        H,
        off.row,
        modules.up,
      )
    : 0;
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

/** A line is judged by what is found so many lines beside it as well: at another size they may be one. */
const BESIDE = [-0.75, 0, 0.75] as const;

/** The line before which a repeat begins: among joints, where there are any, the one whose figure is nearest to 1. */
function beginning(
  steps: readonly Float64Array[],
  n: number,
  off: Int32Array,
  modules: number | undefined,
): number {
  const jointed = off.some((more) => more > 0);
  let candidates = Array.from({ length: n }, (_, i) => i);
  if (jointed) {
    // The middle of each run of lines that lie in a joint.
    const inJoint = (i: number) => off[(i - 1 + n) % n] === 0;
    candidates = candidates.filter((i) => {
      if (!inJoint(i)) return false;
      let [before, after] = [0, 0];
      while (before < n && inJoint((i - before - 1 + n) % n)) before++;
      while (after < n && inJoint((i + after + 1) % n)) after++;
      return before === after || before === after + 1;
    });
  }
  let [best, least] = [0, Infinity];
  for (const i of candidates) {
    let worst = 0;
    for (const line of steps)
      for (const beside of BESIDE) {
        const at = Math.round(((i + beside) * line.length) / n + line.length) % line.length;
        worst = Math.max(worst, Math.abs(Math.log(edgeFigure(line, modules, at))));
      }
    if (worst < least) [best, least] = [i, worst];
  }
  return best;
}
