import type { Plane } from '../../raster';
import { sampleAtDensity } from '../../sources';
import { hashOf, Refusal, type RenderContext } from '../../surface';
import {
  boardsIn,
  cellsOfBoards,
  changedBetween,
  coursesOver,
  findBoards,
  layBoards,
  relayBoards,
  withoutTaken,
  type Board,
  type BoardsTask,
  type BoardStock,
  type CoursesOfSample,
  type LaidBoards,
} from '../compose';
import type { ComposedPlan } from '../plan';
import { keptOutOfSource, type RepeatSource } from './places';

/** Repeats of boards: whole boards, cut to length and laid from joint to joint. */

/** Boards as they lie in a repeat, and what they were cut from. */
export interface BoardsLaid {
  laid: LaidBoards;
  task: BoardsTask;
}

/** How many boards lie in the repeat, and how many joints were found in the sample. */
export const countBoards = ({ laid, task }: BoardsLaid): { laid: number; joints: number } => ({
  laid: laid.boards.flat().filter((b) => b.shows !== 'joint').length,
  joints: task.stock.joints.length,
});

/** Joints are looked for at up to so many pixels of the longer side. */
const FINDING_PX = 2048;

/** How the courses of a sample lie; null where it has none, or pieces on both axes. */
function coursesOf({ pitchMm, joints, repeatMm }: ComposedPlan): CoursesOfSample | null {
  if (pitchMm.across && pitchMm.up) return null;
  if (pitchMm.up && joints.up)
    return { along: 'across', pitchMm: pitchMm.up, firstMm: joints.up.first * repeatMm.height };
  if (pitchMm.across && joints.across)
    return { along: 'up', pitchMm: pitchMm.across, firstMm: joints.across.first * repeatMm.width };
  return null;
}

/**
 * Boards for a repeat.
 * @param widthPx cells of the repeat
 * @returns null where the sample shows no courses, no joints across them, or no board long enough; it is then composed of
 * copies cut anywhere
 */
export async function boardsFor(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  plan: ComposedPlan,
  { widthPx, heightPx, seed }: { widthPx: number; heightPx: number; seed: number },
): Promise<BoardsLaid | null> {
  const courses = coursesOf(plan);
  // Courses are known of the leading picture only.
  if (!courses || from.length > 1) return null;
  const stock = await stockOf(ctx, from[0]!, courses);
  if (!stock) return null;
  const { repeatMm, closed } = plan;
  const run = courses.along === 'across';
  const count = coursesOver(courses, run ? repeatMm.height : repeatMm.width);
  // Courses begin between cells.
  const even = (px: number) => count * Math.max(2, Math.round(px / count));
  const over = { widthPx: run ? widthPx : even(widthPx), heightPx: run ? even(heightPx) : heightPx };
  const cells = run ? over.widthPx : over.heightPx;
  const lengthMm = run ? repeatMm.width : repeatMm.height;
  const closes = run
    ? { along: closed.across, courses: closed.up }
    : { along: closed.up, courses: closed.across };
  const task: BoardsTask = {
    stock,
    cells,
    cellMm: lengthMm / cells,
    courses: count,
    closed: closes,
    seed,
  };
  const boards = layBoards(task);
  return (
    boards && {
      task,
      laid: {
        boards,
        courses,
        beginsMm: stock.beginsMm,
        ...over,
        repeatMm,
        closed,
        begins: { x: 0, y: 0 },
      },
    }
  );
}

/** What boards can be cut from in a source. */
async function stockOf(
  ctx: RenderContext,
  from: RepeatSource,
  courses: CoursesOfSample,
): Promise<BoardStock | null> {
  const { laidMm, usedMm, source } = from;
  const { size } = source;
  const most = FINDING_PX / Math.max(laidMm.width, laidMm.height);
  const pxPerMm = {
    x: Math.min(most, (size.pxPerMm.x * usedMm.width) / laidMm.width),
    y: Math.min(most, (size.pxPerMm.y * usedMm.height) / laidMm.height),
  };
  const dense = await sampleAtDensity(ctx, from.picture, laidMm, pxPerMm, from.change);
  const key = hashOf('boards', dense.key, courses, source.settings.preparation.keepOuts);
  const { stock } = await ctx.known(key, () => {
    const keptOut = keptOutOfSource(from, dense.picture.widthPx, dense.picture.heightPx);
    return { stock: findBoards(dense.picture, dense.pxPerMm, courses, keptOut) };
  });
  return stock;
}

/**
 * Boards with those laid anew that lie in an area, or show what is taken out.
 * @param area 1 where something is to be laid anew, over the cells of the repeat
 * @param taken 1 where the sample is not to be used any more; null: nothing of it
 * @throws Refusal when nothing is left
 */
export function boardsAnew(
  { laid, task }: BoardsLaid,
  area: Uint8Array,
  taken: { plane: Plane; pxPerMm: { x: number; y: number } } | null,
  seed: number,
): { boards: BoardsLaid; free: Uint8Array } {
  const stock = taken ? withoutTaken(task.stock, taken.plane, taken.pxPerMm, laid.courses) : task.stock;
  const touched = boardsIn(laid, area);
  const { cellMm } = task;
  // A board stays if what it shows is still there, within a cell.
  const isThere = (b: Board) =>
    stock.runs.some(
      (run) =>
        run.course === b.course &&
        b.startMm + cellMm >= run.fromMm - run.jointBeforeMm &&
        b.startMm + b.cells * cellMm - cellMm <= run.toMm + run.jointAfterMm,
    );
  const now: BoardsTask = { ...task, stock, calm: true, seed: task.seed + 7919 * (seed + 1) };
  const boards = relayBoards(now, laid.boards, (b) => touched.has(b) || !isThere(b));
  if (!boards)
    throw new Refusal(
      'no-board-left',
      'Nothing is left to lay there: what is kept out or replaced leaves no board long enough. Take the last replacement back.',
      'repeat.arrangements',
    );
  const next = { ...laid, boards };
  return {
    boards: { laid: next, task: { ...task, stock } },
    free: changedBetween(cellsOfBoards(laid), cellsOfBoards(next)),
  };
}
