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
} from '../repeat';
import type { Plane } from '../raster';
import type { StageCache } from './cache';
import { sampleAtDensity } from './density';
import type { RepeatGeometry } from './geometry';
import { hashOf } from './hash';
import { keptOutOfSource, type RepeatSource } from './joined';
import type { Recipe } from './recipe';
import type { Sources } from './result';

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
function coursesOf({ pitchMm, joints, map }: RepeatGeometry): CoursesOfSample | null {
  if (pitchMm.across && pitchMm.up) return null;
  if (pitchMm.up && joints.up)
    return { along: 'across', pitchMm: pitchMm.up, firstMm: joints.up.first * map.repeatMm.height };
  if (pitchMm.across && joints.across)
    return { along: 'up', pitchMm: pitchMm.across, firstMm: joints.across.first * map.repeatMm.width };
  return null;
}

/**
 * Boards for a repeat.
 * @param widthPx cells of the repeat
 * @returns null where the sample shows no courses, no joints across them, or no board long enough; it is then composed of
 * copies cut anywhere
 */
export async function boardsFor(
  sources: Sources,
  cache: StageCache,
  from: readonly RepeatSource[],
  recipe: Pick<Recipe, 'sample' | 'repeat'>,
  geometry: RepeatGeometry,
  { widthPx, heightPx, seed }: { widthPx: number; heightPx: number; seed: number },
): Promise<BoardsLaid | null> {
  const courses = coursesOf(geometry);
  // Courses are known of the first picture only.
  if (!courses || from.length > 1 || recipe.repeat.compose.ends !== 'joints') return null;
  const stock = await stockOf(sources, cache, from[0]!, recipe, geometry, courses);
  if (!stock) return null;
  const { map, closed } = geometry;
  const { repeatMm } = map;
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
  sources: Sources,
  cache: StageCache,
  source: RepeatSource,
  recipe: Pick<Recipe, 'sample'>,
  { size, usedMm, laidMm }: RepeatGeometry,
  courses: CoursesOfSample,
): Promise<BoardStock | null> {
  const most = FINDING_PX / Math.max(laidMm.width, laidMm.height);
  const pxPerMm = {
    x: Math.min(most, (size.pxPerMm.x * usedMm.width) / laidMm.width),
    y: Math.min(most, (size.pxPerMm.y * usedMm.height) / laidMm.height),
  };
  const dense = await sampleAtDensity(sources, cache, source.picture, laidMm, pxPerMm, source.change);
  const key = hashOf('boards', dense.key, courses, recipe.sample.keepOuts);
  const known = cache.get<{ stock: BoardStock | null }>(key);
  if (known) return known.stock;
  const { widthPx, heightPx } = dense.picture;
  const keptOut = keptOutOfSource(recipe, source, widthPx, heightPx);
  const stock = findBoards(dense.picture, dense.pxPerMm, courses, keptOut);
  cache.set(key, { stock });
  return stock;
}

/**
 * Boards with those laid anew that lie in an area, or show what is taken out.
 * @param area 1 where something is to be laid anew, over the cells of the repeat
 * @param taken 1 where the sample is not to be used any more; null: nothing of it
 * @throws RangeError when nothing is left
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
    throw new RangeError(
      'Nothing is left to lay there: what is kept out or replaced leaves no board long enough. Take the last replacement back.',
    );
  const next = { ...laid, boards };
  return {
    boards: { laid: next, task: { ...task, stock } },
    free: changedBetween(cellsOfBoards(laid), cellsOfBoards(next)),
  };
}
