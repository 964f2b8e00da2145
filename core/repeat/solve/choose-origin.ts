import { allAtDensity } from '../../sources';
import { turn, withTurns, type RenderContext } from '../../surface';
import { applyCellsInSteps } from '../cells';
import { originCandidates, offBy, type OriginCandidate, type ToroidalCanvas } from '../compose';
import type { Lines } from '../cells';
import type { RepeatPlan } from '../plan';
import { stepsOf } from '../seam';
import { laysExactly } from '../version';
import type { SolvedRepeat } from './solved-repeat';
import { copyCorrection } from './copy-correction';
import type { RepeatSource } from './places';

/** Where a solved repeat begins: judged by what it looks like, at several resolutions. */

/** It is drawn whole so many times as finely as it was solved, or as finely as its sources are. */
const WHOLE = 2;
/** The best lines are judged at so many times that resolution as well: thin lines fall otherwise on other pixels. */
const CLOSER = [0.75, 1.375] as const;
const SHORTLIST = 24;
/** Lines of a strip: those on both sides of an edge and one more on each. */
const STRIP = [-2, -1, 0, 1] as const;

/**
 * How many cells further a repeat should begin.
 * @param asSolved the repeat
 * @param torus where its copies lie
 */
export async function chooseOrigin(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  { repeatMm, laidMm, ...plan }: Pick<RepeatPlan, 'repeatMm' | 'laidMm' | 'across' | 'up'>,
  asSolved: SolvedRepeat,
  torus: ToroidalCanvas,
): Promise<{ x: number; y: number }> {
  const { cells } = asSolved.map;
  const evened = await copyCorrection(ctx, from, [asSolved]);
  const { source, usedMm } = from[0]!;
  const own = (source.size.pxPerMm.x * usedMm.width * repeatMm.width) / laidMm.width / cells.widthPx;
  const whole = Math.max(1, Math.min(WHOLE, own));
  /** Draws it, or some of its rows or columns, so many times as finely as its cells. */
  const drawn = async (times: number, only?: (widthPx: number, heightPx: number) => Lines) => {
    const [w, h] = [Math.round(times * cells.widthPx), Math.round(times * cells.heightPx)];
    const dense = await allAtDensity(ctx, from, { x: w / repeatMm.width, y: h / repeatMm.height });
    return {
      w,
      h,
      picture: await withTurns(
        ctx.options,
        applyCellsInSteps(cells, repeatMm, dense, w, h, evened, only?.(w, h), laysExactly(ctx)),
      ),
    };
  };
  const modules = { across: plan.across.modules, up: plan.up.modules };
  await turn(ctx.options);
  const found = originCandidates(torus, (await drawn(whole)).picture, modules);

  const begin = { across: 0, up: 0 };
  for (const axis of ['across', 'up'] as const) {
    const upright = axis === 'across';
    let best = found[axis].slice(0, SHORTLIST);
    // Joints are as steep at one resolution as at another.
    if (!modules[axis] && best.length > 1)
      for (const closer of CLOSER) {
        const cellsAlong = upright ? cells.widthPx : cells.heightPx;
        const lines = (n: number) =>
          best.flatMap(({ line }) => {
            const at = Math.round((line * n) / cellsAlong);
            return STRIP.map((d) => (at + d + n) % n);
          });
        const { picture } = await drawn(closer * whole, (w, h) =>
          upright ? { columns: lines(w) } : { rows: lines(h) },
        );
        const { columns, rows } = stepsOf(picture);
        best = judged(best, upright ? columns : rows);
      }
    begin[axis] = best.reduce((a, b) => (b.off < a.off ? b : a), best[0] ?? { line: 0, off: 0 }).line;
  }
  return { x: begin.across, y: begin.up };
}

/**
 * The shortlist judged by strips drawn about each line as well.
 * @param steps between the lines of all strips, one strip after the other
 */
function judged(best: readonly OriginCandidate[], steps: Float64Array): OriginCandidate[] {
  const within = (k: number) => [1, 2, 3].map((i) => steps[STRIP.length * k + i]!);
  // All of them differ as lines do on average, so their mean is about that of all lines.
  let mean = 0;
  for (let k = 0; k < best.length; k++) for (const step of within(k)) mean += step / (3 * best.length);
  return best.map(({ line, off }, k) => {
    const [before, at, after] = within(k).map((step) => step / Math.max(1e-12, mean));
    return { line, off: Math.max(off, offBy(before!, at!, after!)) };
  });
}
