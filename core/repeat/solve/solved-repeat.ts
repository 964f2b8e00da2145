import { jointsOfBoards, jointsOfPiecesSteps, type CoursesOfSample } from '../../pieces';
import { drawContinuityLines } from '../../sample';
import { allAtDensity } from '../../sources';
import { inTurns } from '../../steps';
import { checkpoint, type RenderContext } from '../../surface';
import {
  brokenHoldPx,
  cellsOf,
  type ComposeSource,
  type Jointed,
  type Pitch,
  type Steps,
  type ToroidalCanvas,
} from '../compose';
import type { Cells, PlacedSource, Placement, PlacementMap } from '../placement';
import type { ComposedPlan, CutPlan } from '../plan';
import { knowsPieces, runsJointsOn } from '../version';
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
  /** The repeat as solved, for what is laid anew in it, and where its copies lie by name. */
  solved: { torus: ToroidalCanvas; laid: Map<string, Placement> };
  /** The same repeat as it was solved, begun so many cells earlier; what evens it out is taken from there. */
  asSolvedFirst: { cells: Cells; key: string; x: number; y: number } | null;
  /** 1 where something was laid anew over what was there before; null: nothing was. */
  free: Uint8Array | null;
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
  courses: { along: 'across' | 'up'; pitchMm: number; firstMm: number } | null;
};

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
  };
}

function coursesOf(plan: CutPlan | ComposedPlan): UseOfJoints['courses'] {
  if (Boolean(plan.pitchMm.across) === Boolean(plan.pitchMm.up)) return null;
  const { across, up } = plan.joints;
  if (up) return { along: 'across', pitchMm: plan.pitchMm.up!, firstMm: up.first * plan.repeatMm.height };
  return (
    across && { along: 'up', pitchMm: plan.pitchMm.across!, firstMm: across.first * plan.repeatMm.width }
  );
}

/** The sources of a repeat at its working resolution. @param use of the joints that they show */
export async function sourcesToCompose(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  pxPerMm: { x: number; y: number },
  use: UseOfJoints = NO_USE,
) {
  const dense = await allAtDensity(ctx, from, pxPerMm);
  const toCompose: ComposeSource[] = [];
  for (const [k, { picture }] of dense.entries()) {
    const { widthPx: w, heightPx: h } = picture;
    const { source, picture: of } = from[k]!;
    const { continuityLines } = source.settings.preparation;
    const { pieces: partPieces, courses, runOn, cutIn } = use;
    const boards =
      courses && k === 0 ? jointsOfBoards(picture, coursesInPx(courses, dense[k]!.pxPerMm)) : null;
    const found =
      boards ??
      (runOn || cutIn || partPieces
        ? await inTurns(jointsOfPiecesSteps(picture), () => checkpoint(ctx.options))
        : null);
    toCompose.push({
      picture,
      keptOut: keptOutOfSource(from[k]!, w, h),
      held: continuityLines.length > 0 ? drawContinuityLines(of.frame, continuityLines, w, h) : null,
      jointed: found && { runOn, cutIn, joints: found.joints, pieces: partPieces ? found.pieces : null },
    });
  }
  return { dense, toCompose };
}

function coursesInPx(
  { along, pitchMm, firstMm }: NonNullable<UseOfJoints['courses']>,
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
    solved: { torus, laid },
    asSolvedFirst: null,
    free,
  };
}
