import type { ColourPicture } from '../../raster';
import { hashOf, turn, type RenderContext } from '../../surface';
import { applyCells } from '../cells';
import {
  withOrigin,
  cellsOf,
  closeByCut,
  compose,
  laidAsBefore,
  type ToroidalCanvas,
  type Turn,
} from '../compose';
import type { ComposedPlan, CutPlan } from '../plan';
import { arrangementOf, type ComposedSettings, type Redone, type RepeatSettings } from '../settings';
import { laysExactly } from '../version';
import {
  useOfJoints,
  keyOfSources,
  makeSolvedRepeat,
  sourcesToCompose,
  run,
  WORKING_PX,
  type SolvedRepeat,
} from './solved-repeat';
import { chooseOrigin } from './choose-origin';
import { reLaidArea } from './re-lay-area';
import { reLaidBoards, solveBoards } from './solve-boards';
import type { RepeatSource } from './places';

/** The most pixels of the longer side at which a placement is solved, when the sample is small in it. */
const MOST_WORKING_PX = 1024;
/** Shorter side that the sample should have at the working resolution, px. */
const SAMPLE_PX = 112;

/** Pixels at which a placement is solved: whole eighths, so that halving leaves nothing over. */
function workingPx(
  repeatMm: { width: number; height: number },
  usedMm: { width: number; height: number },
  samplePxPerMm: number,
): [number, number] {
  const long = Math.max(repeatMm.width, repeatMm.height);
  const short = Math.min(usedMm.width, usedMm.height);
  let density = WORKING_PX / long;
  if (short * density < SAMPLE_PX) density = Math.min(SAMPLE_PX / short, MOST_WORKING_PX / long);
  density = Math.min(density, samplePxPerMm);
  const side = (mm: number) => Math.max(16, 8 * Math.round((mm * density) / 8));
  return [side(repeatMm.width), side(repeatMm.height)];
}

/** How copies may lie; as the sample lies comes first. */
export function turnsOf({ turning, mirrored }: Pick<ComposedSettings, 'turning' | 'mirrored'>): Turn[] {
  const quarters = ({ none: [0], half: [0, 2], quarter: [0, 1, 2, 3] } as const)[turning];
  const flips = mirrored ? [false, true] : [false];
  return flips.flatMap((flipped) => quarters.map((q) => ({ quarters: q, flipped })));
}

/** Sides of a copy where none is asked for: a good part of the sample, and several to the repeat; longer in an oblong sample. */
function usualCopyMm(
  repeatMm: { width: number; height: number },
  { width, height }: { width: number; height: number },
): { width: number; height: number } {
  const side = (own: number, other: number) => Math.max(0.42 * own, Math.min(0.8 * own, 0.42 * other));
  return {
    width: Math.min(side(width, height), 0.5 * repeatMm.width),
    height: Math.min(side(height, width), 0.5 * repeatMm.height),
  };
}

/** Called with what a repeat would be so far, at the working resolution. */
export type Early = (picture: ColourPicture) => void;

type Step = (share: number) => Promise<void>;

/** What a solved repeat depends on, and what is laid anew in it after. */
export function arrangementKey(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  repeat: RepeatSettings,
  plan: CutPlan | ComposedPlan,
): { key: string; anew: readonly Redone[] } {
  const { seed, redone } = arrangementOf(repeat);
  const { stretchMost: _, ...laying } = repeat.composed;
  const { pitchMm } = plan;
  const by = plan.kind === 'composed' ? { laying, seed, pitchMm, joints: plan.joints } : 'cut';
  return {
    key: hashOf(
      'arranged',
      laysExactly(ctx),
      useOfJoints(ctx, plan),
      keyOfSources(from),
      plan.repeatMm,
      plan.closed,
      by,
    ),
    anew: plan.kind === 'composed' ? redone : [],
  };
}

/** What solving works with: sizes in pixels of the working resolution. */
interface Working {
  widthPx: number;
  heightPx: number;
  pxPerMm: { x: number; y: number };
  patchPx: { w: number; h: number };
  lattice: { acrossPx: number | null; upPx: number | null; stagger: number };
}

/**
 * Solves the placement of a repeat from the pixels of its sources, at a working resolution that depends on nothing but
 * the finish: drafts and full sets are the same arrangement.
 *
 * @param from the sources
 * @param step called now and then with the share of the work done; may throw to stop
 * @param early called with what the repeat would be so far
 * @returns the repeat as it was solved first, then after each area that was laid anew; the last one counts
 * @throws Refusal when nothing can be laid
 */
export async function solvePlacement(
  ctx: RenderContext,
  from: readonly RepeatSource[],
  repeat: RepeatSettings,
  plan: CutPlan | ComposedPlan,
  step: Step,
  early?: Early,
): Promise<SolvedRepeat[]> {
  const { seed } = arrangementOf(repeat);
  const working = workingOf(from[0]!, repeat.composed, plan);
  const { key, anew } = arrangementKey(ctx, from, repeat, plan);
  const basic = anew.length > 0 ? 0.7 : 1;
  const first = await ctx.known(key, async () => {
    await step(0);
    const solving: Solving = { ctx, from, plan, working, key, step: (share) => step(basic * share), early };
    const use = useOfJoints(ctx, plan);
    const boards =
      plan.kind === 'composed' && use.boards
        ? await solveBoards({ ctx, from, plan, use, key }, repeat.composed, seed)
        : null;
    return boards ?? solveCopies(solving, repeat.composed, seed);
  });
  const steps = [first];
  const { patchPx, lattice } = working;
  for (const [k, item] of anew.entries()) {
    const share = (more: number) => step(basic + ((1 - basic) * (k + more)) / anew.length);
    const task = { patchPx, lattice, pitchMm: plan.pitchMm, use: useOfJoints(ctx, plan) };
    const before = steps[k]!;
    const { solved } = before;
    steps.push(
      solved.kind === 'boards'
        ? await reLaidBoards(ctx, from, before, solved, item)
        : await reLaidArea(ctx, from, before, solved, item, task, share),
    );
  }
  return steps;
}

/** Sizes at which a repeat is solved. */
export function workingOf(
  { source, usedMm }: RepeatSource,
  settings: ComposedSettings,
  { repeatMm, laidMm, pitchMm }: CutPlan | ComposedPlan,
): Working {
  const scale = { x: usedMm.width / laidMm.width, y: usedMm.height / laidMm.height };
  const { pxPerMm: own } = source.size;
  const [widthPx, heightPx] = workingPx(repeatMm, laidMm, Math.min(own.x * scale.x, own.y * scale.y));
  const pxPerMm = { x: widthPx / repeatMm.width, y: heightPx / repeatMm.height };
  const usual = usualCopyMm(repeatMm, laidMm);
  return {
    widthPx,
    heightPx,
    pxPerMm,
    patchPx: {
      w: Math.max(8, Math.round((settings.copyMm ?? usual.width) * pxPerMm.x)),
      h: Math.max(8, Math.round((settings.copyMm ?? usual.height) * pxPerMm.y)),
    },
    lattice: {
      acrossPx: pitchMm.across && pitchMm.across * pxPerMm.x,
      upPx: pitchMm.up && pitchMm.up * pxPerMm.y,
      stagger: pitchMm.stagger,
    },
  };
}

interface Solving {
  ctx: RenderContext;
  from: readonly RepeatSource[];
  plan: CutPlan | ComposedPlan;
  working: Working;
  key: string;
  step: Step;
  early: Early | undefined;
}

const AS_SAMPLED = turnsOf({ turning: 'none', mirrored: false });

/** Copies cut along outlines. */
async function solveCopies(
  { ctx, from, plan, working, key, step, early }: Solving,
  settings: ComposedSettings,
  seed: number,
): Promise<SolvedRepeat> {
  const { repeatMm, closed, pitchMm } = plan;
  const { widthPx, heightPx, pxPerMm, patchPx, lattice } = working;
  const { dense, toCompose } = await sourcesToCompose(ctx, from, pxPerMm, useOfJoints(ctx, plan));
  await turn(ctx.options);
  const composed = plan.kind === 'composed';
  const joints = composed ? plan.joints : { across: null, up: null };
  const task = { sources: toCompose, widthPx, heightPx, closed, joints };
  // What keeps to a structure lies as it lies: turned, it would be out of step.
  const turns = pitchMm.across || pitchMm.up ? AS_SAMPLED : turnsOf(settings);
  const show = (soFar: ToroidalCanvas) => {
    const part = soFar.widthPx / widthPx;
    const densities = dense.map((d) => ({ x: d.pxPerMm.x * part, y: d.pxPerMm.y * part }));
    early?.(applyCells(cellsOf(soFar, repeatMm, densities), repeatMm, dense, widthPx, heightPx, null));
  };
  const torus = await run(
    composed ? compose({ ...task, turns, seed, patchPx, lattice }) : closeByCut(task),
    step,
    early && show,
  );
  await turn(ctx.options);
  const plain = { repeatMm, pxPerMm, dense, pitchMm: composed ? pitchMm : undefined };
  const asSolved = makeSolvedRepeat(hashOf('as solved', key), { ...plain, torus });
  const by = await chooseOrigin(ctx, from, plan, asSolved, torus);
  await turn(ctx.options);
  const now = withOrigin(torus, by);
  const { cells } = asSolved.map;
  const laid = laidAsBefore(cells, now, by, repeatMm);
  return {
    ...makeSolvedRepeat(key, { ...plain, torus: now }, laid),
    asSolvedFirst: { cells, key: asSolved.key, ...by },
  };
}
