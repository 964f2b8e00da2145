import { allAtDensity } from '../../sources';
import { hashOf, withTurns, type RenderContext } from '../../surface';
import {
  boardsOfPicture,
  cellsOfBoards,
  layBoards,
  layBoardsAnew,
  type Board,
  type LaidFloor,
  type Lying,
} from '../boards';
import type { ComposedPlan } from '../plan';
import type { ComposedSettings, Redone } from '../settings';
import { areasOver, takenOf } from './areas';
import { keptOutOfSource, type RepeatSource } from './places';
import { coursesInPx, type SolvedRepeat, type UseOfJoints } from './solved-repeat';

/** A repeat of boards: laid of whole ones, where the sample shows boards that joints part. */

/** Pixels of the longer side at which boards and their joints are looked for. */
const LOOKED_AT_PX = 2048;
/** A joint is so many cells wide; no fewer and no more cells lie along the longer side. */
const CELLS_TO_JOINT = 2;
const FEWEST_CELLS = 1024;
const MOST_CELLS = 4096;
/** Pixels along the longer side of the raster on which areas to be laid anew are drawn. */
const AREA_PX = 512;

interface BoardsSolving {
  ctx: RenderContext;
  from: readonly RepeatSource[];
  plan: ComposedPlan;
  use: UseOfJoints;
  key: string;
}

/** @returns null where the sample shows no boards that joints part, or they cannot be laid in this size */
export async function solveBoards(
  solving: BoardsSolving,
  settings: ComposedSettings,
  seed: number,
): Promise<SolvedRepeat | null> {
  const floor = await floorOf(solving, settings);
  if (!floor) return null;
  const courses = await withTurns(solving.ctx.options, layBoards(floor.task, seed));
  return courses && solvedOf(solving.plan, solving.key, { ...floor, courses });
}

/** What boards there are, and the courses that they are to be laid in. */
async function floorOf(
  { ctx, from, plan, use: { boards: courses } }: BoardsSolving,
  settings: ComposedSettings,
): Promise<Omit<LaidFloor, 'courses'> | null> {
  const number = courses && plan.courses[courses.along === 'across' ? 'up' : 'across'];
  // What continuity lines hold together would be parted at the ends of boards.
  const isHeld = from[0]!.source.settings.preparation.continuityLines.length > 0;
  if (!courses || !number || from.length !== 1 || isHeld) return null;
  const [{ picture, pxPerMm }] = await atLookingDensity(ctx, from);
  const keptOut = keptOutOfSource(from[0]!, picture.widthPx, picture.heightPx) ?? undefined;
  const shown = boardsOfPicture(picture, coursesInPx(courses, pxPerMm), pxPerMm, keptOut);
  if (!shown) return null;
  const { along } = courses;
  const { width, height } = plan.repeatMm;
  const [lengthMm, acrossMm] = along === 'across' ? [width, height] : [height, width];
  const jointMm = Math.min(...shown.joints.map((j) => j.toMm - j.fromMm));
  const longMm = Math.max(width, height);
  const cellMm = Math.min(longMm / FEWEST_CELLS, Math.max(longMm / MOST_CELLS, jointMm / CELLS_TO_JOINT));
  const cells = Math.round(lengthMm / cellMm);
  const pitchMm = acrossMm / number;
  return {
    kind: 'boards',
    along,
    rows: Math.max(2, Math.round(pitchMm / cellMm)),
    task: {
      ...shown,
      cells,
      cellMm: lengthMm / cells,
      courses: number,
      pitchMm,
      lyings: lyingsOf(settings, along),
    },
  };
}

async function atLookingDensity(ctx: RenderContext, from: readonly RepeatSource[]) {
  const { laidMm, usedMm, source } = from[0]!;
  const own = (source.size.pxPerMm.x * usedMm.width) / laidMm.width;
  const density = Math.min(own, LOOKED_AT_PX / Math.max(laidMm.width, laidMm.height));
  const dense = await allAtDensity(ctx, from, { x: density, y: density });
  return dense as [(typeof dense)[number]];
}

/** Boards may be turned by half a turn and mirrored; by quarters they would lie across the courses. */
function lyingsOf({ turning, mirrored }: ComposedSettings, along: 'across' | 'up'): Lying[] {
  const asMirrored: Lying = along === 'across' ? { along: -1, across: 1 } : { along: 1, across: -1 };
  const lyings: Lying[] = [{ along: 1, across: 1 }, ...(mirrored ? [asMirrored] : [])];
  const turned = lyings.map((l): Lying => ({ along: l.along > 0 ? -1 : 1, across: l.across > 0 ? -1 : 1 }));
  return turning === 'none' ? lyings : [...lyings, ...turned];
}

function solvedOf({ repeatMm }: Pick<ComposedPlan, 'repeatMm'>, key: string, floor: LaidFloor): SolvedRepeat {
  const cells = cellsOfBoards(floor);
  return {
    map: { repeatMm, layers: [], cells },
    key,
    pxPerMm: { x: cells.widthPx / repeatMm.width, y: cells.heightPx / repeatMm.height },
    copies: floor.courses.reduce((sum, course) => sum + course.length, 0),
    brokenHoldMm: 0,
    solved: floor,
    asSolvedFirst: null,
    free: null,
  };
}

const NOTHING_ELSE =
  'No other boards are left to lay there: those that the sample shows are too short, or were all taken out. Take fewer of them out, or undo the last one.';

/** The same repeat, with the boards in an area laid anew. @throws RangeError when none are left to lay */
export async function reLaidBoards(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  before: SolvedRepeat,
  floor: LaidFloor,
  { id: _, ...item }: Redone,
): Promise<SolvedRepeat> {
  const key = hashOf('laid anew', before.key, item);
  return ctx.known(key, async () => {
    const { map } = before;
    const isIn = areaTest(item, map, floor);
    const mayShow = await usableTest(ctx, from, item, floor.along);
    const { boards } = floor.task;
    const courses = await withTurns(
      ctx.options,
      layBoardsAnew(
        floor.task,
        floor.courses,
        (laid, course) => isIn(laid, course) || !mayShow(boards[laid.board]!),
        mayShow,
        item.seed,
      ),
    );
    if (!courses) throw new RangeError(NOTHING_ELSE);
    return solvedOf(map, key, { ...floor, courses });
  });
}

/** Whether a board lies in one of the areas, at least in part. */
function areaTest(
  { areas }: Pick<Redone, 'areas'>,
  { repeatMm: { width, height }, cells: { closed } }: SolvedRepeat['map'],
  { task, along }: LaidFloor,
) {
  const perMm = AREA_PX / Math.max(width, height);
  const [w, h] = [Math.max(8, Math.round(width * perMm)), Math.max(8, Math.round(height * perMm))];
  const inside = areasOver(areas, w, h, closed);
  const lies = along === 'across';
  const [length, across] = lies ? [w, h] : [h, w];
  return ({ at, cells }: { at: number; cells: number }, course: number): boolean => {
    const px = (cell: number) => Math.floor((cell * length) / task.cells);
    const [top, bottom] = [course, course + 1].map((c) => Math.round((c * across) / task.courses));
    for (let v = top!; v < bottom!; v++)
      for (let u = px(at); u <= px(at + cells - 1); u++) {
        const x = u % length;
        if (inside[lies ? v * w + x : x * w + v] === 1) return true;
      }
    return false;
  };
}

/** Whether a board of the picture lies clear of what was taken out of it. */
async function usableTest(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  item: Pick<Redone, 'taken'>,
  along: 'across' | 'up',
): Promise<(board: Board) => boolean> {
  const [{ picture, pxPerMm }] = await atLookingDensity(ctx, from);
  const taken = takenOf(item, from[0]!, picture.widthPx, picture.heightPx);
  if (!taken) return () => true;
  const lies = along === 'across';
  const { widthPx: w } = taken;
  const [length, across] = lies ? [taken.widthPx, taken.heightPx] : [taken.heightPx, taken.widthPx];
  const [perMm, acrossPerMm] = lies ? [pxPerMm.x, pxPerMm.y] : [pxPerMm.y, pxPerMm.x];
  return ({ fromMm, toMm, middleMm, widthMm }) => {
    const clamped = (px: number, most: number) => Math.min(most, Math.max(0, Math.round(px)));
    const half = widthMm / 2;
    const [u0, u1] = [clamped(fromMm * perMm, length), clamped(toMm * perMm, length)];
    const v0 = clamped((middleMm - half) * acrossPerMm, across);
    const v1 = clamped((middleMm + half) * acrossPerMm, across);
    for (let v = v0; v < v1; v++)
      for (let u = u0; u < u1; u++) if (taken.data[lies ? v * w + u : u * w + v]! > 0.5) return false;
    return true;
  };
}
