import {
  fillCells,
  jointsOfBoards,
  jointsOfLatticeSteps,
  jointsOfPiecesSteps,
  type CoursesOfSample,
  type JointsAndPieces,
} from '../../pieces';
import { drawContinuityLines } from '../../sample';
import { allAtDensity } from '../../sources';
import { hashOf, turn, withTurns, type RenderContext } from '../../surface';
import {
  brokenHoldPx,
  cellsOf,
  type ComposeSource,
  type Jointed,
  type Pitch,
  type Steps,
  type ToroidalCanvas,
} from '../compose';
import type { LaidFloor } from '../boards';
import type { Cells, PlacedSource, Placement, PlacementMap } from '../placement';
import type { ComposedPlan, CutPlan } from '../plan';
import { coursesOfBond } from '../settings';
import { knowsPieces, laysBoards, runsJointsOn, seesAnyJoints } from '../version';
import { keptOutOfSource, type RepeatSource } from './places';

/** What all solving of placements shares: what comes out, what it works on, and how it is run. */

/** A repeat whose placement was solved from the pixels of its sources. */
export interface SolvedRepeat {
  map: PlacementMap & { cells: Cells };
  key: string;
  /** Density at which it was solved. */
  pxPerMm: { x: number; y: number };
  /** How many copies it is cut from. */
  copies: number;
  /** Over what length continuity lines are broken where copies meet. */
  brokenHoldMm: number;
  /** The repeat as solved, for what is laid anew in it. */
  solved: SolvedCopies | LaidFloor;
  /** The same repeat as it was solved, begun so many cells earlier; what evens it out is taken from there. */
  asSolvedFirst: { cells: Cells; key: string; x: number; y: number } | null;
  /** 1 where something was laid anew over what was there before; null: nothing was. */
  free: Uint8Array | null;
}

/** Copies cut along outlines, and where they lie by name. */
export interface SolvedCopies {
  kind: 'copies';
  torus: ToroidalCanvas;
  laid: Map<string, Placement>;
}

/** Pixels of the longer side at which a placement is solved. */
export const WORKING_PX = 512;

/**
 * What the joints that pictures show are taken for: whether they run on over outlines, whether copies are cut in them, and whether
 * parts of pieces are brought to one tone.
 */
export type UseOfJoints = Pick<Jointed, 'runOn' | 'cutIn'> & {
  pieces: boolean;
  /** Courses of boards in the leading picture: where they meet, mm; null: it has no courses, or pieces that lie in step both ways. */
  courses: CoursesMm | null;
  /** The same courses, where the repeat is laid of whole boards. */
  boards?: CoursesMm | null;
  /** Periods of pieces that lie in step both ways, mm; null: they do not. */
  lattice?: { across: number; up: number; stagger: number; courses: number } | null;
};

interface CoursesMm {
  along: 'across' | 'up';
  pitchMm: number;
  firstMm: number;
}

const NO_USE: UseOfJoints = { runOn: false, cutIn: false, pieces: false, courses: null };

/** Before version 6 a structure that is kept told where joints are, on whole lines. */
export function useOfJoints(ctx: RenderContext, plan: CutPlan | ComposedPlan): UseOfJoints {
  const { pitchMm } = plan;
  const kept = Boolean(pitchMm.across || pitchMm.up);
  return {
    runOn: runsJointsOn(ctx) && !kept,
    cutIn: knowsPieces(ctx) && kept,
    pieces: knowsPieces(ctx),
    courses: knowsPieces(ctx) ? coursesOf(plan) : null,
    ...(laysBoards(ctx) && plan.kind === 'composed' ? { boards: coursesOf(plan) } : {}),
    ...(seesAnyJoints(ctx) ? { lattice: latticeOf(plan) } : {}),
  };
}

function latticeOf({ pitchMm: { across, up, stagger } }: CutPlan | ComposedPlan): UseOfJoints['lattice'] {
  const courses = coursesOfBond(stagger);
  const comesBack = courses > 1 || stagger === 0;
  return across && up && comesBack ? { across, up, stagger, courses } : null;
}

/** Pieces that were seen, unless they are too few to be those of the lattice that is kept. */
function inLattice(
  seen: JointsAndPieces | null,
  { lattice }: UseOfJoints,
  { laidMm }: RepeatSource,
): JointsAndPieces | null {
  if (!seen || !lattice) return seen;
  const cells = (laidMm.width * laidMm.height) / (lattice.across * lattice.up);
  return fillCells(seen.count, cells) ? seen : null;
}

/** A bond is so many pixels long at most where its mean cell is looked at: its joints are a pixel wide then. */
const BOND_PX = 420;

/** Joints between pieces of a lattice, by its mean cell. */
async function jointsOfLattice(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  { lattice }: UseOfJoints,
  asked: { widthPx: number; heightPx: number },
) {
  if (!lattice) return null;
  const { across, up, courses, stagger } = lattice;
  const { laidMm, usedMm, source } = from[0]!;
  const own = (source.size.pxPerMm.x * usedMm.width) / laidMm.width;
  const density = Math.min(own, BOND_PX / Math.max(across, courses * up));
  const [dense] = await allAtDensity(ctx, from.slice(0, 1), { x: density, y: density });
  const { picture, pxPerMm } = dense!;
  const inPx = { acrossPx: across * pxPerMm.x, upPx: up * pxPerMm.y, stagger, courses };
  return withTurns(ctx.options, jointsOfLatticeSteps(picture, inPx, asked));
}

function coursesOf(plan: CutPlan | ComposedPlan): CoursesMm | null {
  if (Boolean(plan.pitchMm.across) === Boolean(plan.pitchMm.up)) return null;
  const { across, up } = plan.joints;
  if (up) return { along: 'across', pitchMm: plan.pitchMm.up!, firstMm: up.first * plan.repeatMm.height };
  return (
    across && { along: 'up', pitchMm: plan.pitchMm.across!, firstMm: across.first * plan.repeatMm.width }
  );
}

/** The sources of a repeat at its working resolution: the same for all that is laid anew in it. @param use of the joints that they show */
export function sourcesToCompose(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  pxPerMm: { x: number; y: number },
  use: UseOfJoints = NO_USE,
) {
  const key = hashOf('sources to compose', keyOfSources(from), pxPerMm, use, seesAnyJoints(ctx));
  return ctx.known(key, () => preparedToCompose(ctx, from, pxPerMm, use));
}

async function preparedToCompose(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  pxPerMm: { x: number; y: number },
  use: UseOfJoints,
) {
  const dense = await allAtDensity(ctx, from, pxPerMm);
  const toCompose: ComposeSource[] = [];
  for (const [k, { picture }] of dense.entries()) {
    await turn(ctx.options);
    const { widthPx: w, heightPx: h } = picture;
    const { source, picture: of } = from[k]!;
    const { continuityLines } = source.settings.preparation;
    const { pieces: partPieces, courses, runOn, cutIn } = use;
    const boards = () =>
      courses && k === 0 ? jointsOfBoards(picture, coursesInPx(courses, dense[k]!.pxPerMm)) : null;
    const pieces = async () =>
      runOn || cutIn || partPieces
        ? withTurns(ctx.options, jointsOfPiecesSteps(picture, seesAnyJoints(ctx)))
        : null;
    // Setts lie in rows as boards do, but what is seen of their joints tells more than where rows meet.
    const found = seesAnyJoints(ctx)
      ? (inLattice(await pieces(), use, from[k]!) ??
        (k === 0 ? await jointsOfLattice(ctx, from, use, picture) : null) ??
        boards())
      : (boards() ?? (await pieces()));
    toCompose.push({
      picture,
      keptOut: keptOutOfSource(from[k]!, w, h),
      held: continuityLines.length > 0 ? drawContinuityLines(of.frame, continuityLines, w, h) : null,
      jointed: found && { runOn, cutIn, joints: found.joints, pieces: partPieces ? found.pieces : null },
    });
  }
  return { dense, toCompose };
}

export function coursesInPx(
  { along, pitchMm, firstMm }: CoursesMm,
  pxPerMm: { x: number; y: number },
): CoursesOfSample {
  const px = along === 'across' ? pxPerMm.y : pxPerMm.x;
  return { along, pitchPx: pitchMm * px, firstPx: firstMm * px };
}

/** What depends on the sources of a repeat. */
export const keyOfSources = (from: readonly RepeatSource[]) =>
  from.map(({ source: { settings }, picture: { info, frame }, change, laidMm }) => [
    info.sha256,
    frame.plane,
    frame.bow,
    laidMm,
    change.key,
    settings.preparation.keepOuts,
    settings.preparation.continuityLines,
  ]);

/** Fewer pixels of a continuity line are no break: lines are drawn softly. */
const SOFT_PX = 6;

function brokenHoldMm(torus: ToroidalCanvas, pxPerMm: { x: number; y: number }): number {
  const px = brokenHoldPx(torus);
  return px > SOFT_PX ? (2 * px) / (pxPerMm.x + pxPerMm.y) : 0;
}

/** Time after which others have their turn. */
const TURN_MS = 60;

/** Does work in steps, with a turn for others in between. @param look shown what is there so far */
export async function run<T>(
  steps: Steps<T>,
  step: (share: number) => Promise<void>,
  look?: (soFar: ToroidalCanvas) => void,
): Promise<T> {
  let last = Date.now();
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
    const { share, soFar } = next.value;
    if (soFar) look?.(soFar);
    else if (Date.now() - last < TURN_MS) continue;
    await step(share);
    last = Date.now();
  }
}

/**
 * What a solved repeat is.
 * @param key names it in the cache
 * @param solved the repeat at its working resolution, of a size and density, from sources of a density
 * @param laid where copies lay before something was laid anew
 */
export function makeSolvedRepeat(
  key: string,
  solved: {
    torus: ToroidalCanvas;
    repeatMm: { width: number; height: number };
    pxPerMm: { x: number; y: number };
    dense: readonly PlacedSource[];
    pitchMm?: Pitch | undefined;
  },
  laid = new Map<string, Placement>(),
  free: Uint8Array | null = null,
): SolvedRepeat {
  const { torus, repeatMm, pxPerMm, dense, pitchMm } = solved;
  const cells = cellsOf(
    torus,
    repeatMm,
    dense.map((d) => d.pxPerMm),
    pitchMm,
    laid,
  );
  return {
    map: { repeatMm, layers: [], cells },
    key,
    pxPerMm,
    copies: cells.placements.length,
    brokenHoldMm: brokenHoldMm(torus, pxPerMm),
    solved: { kind: 'copies', torus, laid },
    asSolvedFirst: null,
    free,
  };
}
