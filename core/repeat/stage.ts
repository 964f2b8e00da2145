import type { ColourPicture } from '../raster';
import type { SourcesOrGenerated } from '../generate/stage';
import type { LaidPicture, Source } from '../sources';
import {
  hashOf,
  Refusal,
  refusing,
  type Pending,
  withTurns,
  type RenderContext,
  type Stage,
} from '../surface';
import { countBoards } from './boards';
import { piecesOfCells } from './cells';
import { checkRepeat } from './checks';
import type { RepeatedSurface } from './repeated-surface';
import { generatedRepeat, reportOfGenerated } from './generated';
import { decodeKept, type KeptRepeat } from './kept';
import {
  EVENED,
  mapsOfSet,
  partsOf,
  PICTURE,
  picturesOfSet,
  placed,
  type Laying,
  type Solution,
} from './lay-pictures';
import type { PlacementMap } from './placement';
import { pixelsAt, pixelsOf } from './pixels';
import { leadOf, planFaces, planRepeat, type FaceStretches, type RepeatPlan } from './plan';
import type { RepeatReport } from './report';
import { seamFiguresSteps } from './seam';
import type { AsFaces, RepeatSettings } from './settings';
import type { Courses } from './show';
import { solvePlacement, arrangementKey } from './solve/solve-placement';
import type { SolvedRepeat } from './solve/solved-repeat';
import { copyCorrection } from './solve/copy-correction';
import { costsOfRepeat } from './solve/cost';
import { inpaintKeepOuts, inpaintedKey } from './solve/inpaint-keep-outs';
import { knowsFaces, REPEAT } from './version';
import { clearStretches } from './solve/clear-stretches';
import { keptOutShare, sourcesOfRepeat, usedSource, type FaceFrom, type RepeatSource } from './solve/places';

/** Where everything in a repeat comes from. */
export interface PlacedRepeat {
  map: PlacementMap;
  sources: readonly RepeatSource[];
  /** Regular structure in the repeat. */
  courses: Courses;
}

/** With more of a picture kept out, nothing is left to make a repeat from. */
const MOST_KEPT_OUT = 0.98;

/** Makes a repeat of the sources. */
export const repeatStage: Stage<RepeatSettings & AsFaces, SourcesOrGenerated, RepeatedSurface, RepeatReport> =
  {
    ...REPEAT,
    work: 8,

    async run(ctx, repeat, { sources, generated }) {
      if (generated) return generatedRepeat(ctx, generated, repeat.asFaces ?? false);
      const { places, stretches } = repeat.asFaces
        ? usableFaces(ctx, repeat.from, sources)
        : { places: repeat.from, stretches: null };
      const lead = usedSource(sources, repeat.asFaces ? places[0]! : leadOf(repeat));
      const plan = repeat.asFaces
        ? planFaces(
            repeat,
            places.map((place) => usedSource(sources, place)),
            stretches,
            knowsFaces(ctx),
          )
        : planRepeat(repeat, lead, ctx.versionOf(REPEAT));
      const px = ctx.asked.facesPxPerMm
        ? pixelsAt(plan.repeatMm, ctx.asked.facesPxPerMm, lead, plan)
        : pixelsOf(plan.repeatMm, ctx.asked.widthPx);
      const keptOut = keptOutShare(lead);
      if (keptOut > MOST_KEPT_OUT)
        throw new Refusal(
          'all-kept-out',
          'The keep-outs cover the whole sample, so that nothing is left to make a repeat from. Take some of them away, or undo the last one.',
          `sources.${lead.settings.id}.preparation.keepOuts`,
        );
      await ctx.step(0, 'Placing the sample');
      const from = await sourcesOfRepeat(ctx, sources, places, plan, repeat.enlarged);
      const solution = solutionOf(ctx, repeat, plan, from);
      const laying: Laying = { ctx, plan, px, from, solution };
      const isSolved = solution.keptAs !== undefined;
      ctx.expect(...costsOfRepeat(laying, repeat, inferredOf(repeat, plan, px, from[0]!), isSolved));
      return {
        plan,
        sources: from,
        keptOut,
        solution,
        keptAs: solution.keptAs ?? null,
        sizeMm: plan.repeatMm,
        px,
        detailMm: detailOf(from[0]!),
        pictures: () => picturesOfSet(laying),
        fields: { picture: placed(laying, PICTURE, from) },
        maps: mapsOfSet(laying),
        parts: partsOf(laying),
        pieces: ctx.later(['pieces', solution.key, px], async () => {
          const { map } = await solution.get();
          return map.cells?.sharp ? piecesOfCells(map.cells, px.width, px.height) : null;
        }),
      };
    },

    async report(ctx, repeat, made) {
      if (made.sources.length === 0) return { report: await reportOfGenerated(ctx, made), checks: [] };
      const { plan, sources: from, keptOut, solution, px, fields } = made;
      const { across, up, repeatMm } = plan;
      const { source, usedMm, calibration } = from[0]!;
      const { size } = source;
      const { copies, boards, brokenHoldMm, map } = await solution.get();
      // A bond that the repeat holds once is compared with its courses.
      const modules = { across: across.modules, up: up.modules === 1 ? plan.courses.up : up.modules };
      const seamKey = hashOf('seam', fields.picture!.key, modules.across, modules.up);
      const seam = await ctx.known(seamKey, async () =>
        withTurns(ctx.options, seamFiguresSteps(await fields.picture!.get(), modules)),
      );
      const stretch = { across: across.stretch ?? 0, up: up.stretch ?? 0 };
      const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
      const tolerance = (mm: number, length: { mm: number; toleranceMm: number }, stretched: number) =>
        mm * (length.toleranceMm / length.mm + Math.abs(stretched));
      const report: RepeatReport = {
        repeatMm,
        copies,
        boards,
        arrangement: plan.kind === 'composed' ? repeat.arrangement : null,
        joined: from.map(({ gain }) => ({ gain })),
        brokenHoldMm,
        stretch,
        stretchNeeded: { across: across.stretchNeeded, up: up.stretchNeeded },
        repeatToleranceMm: {
          width: tolerance(repeatMm.width, size.width, stretch.across),
          height: tolerance(repeatMm.height, size.height, stretch.up),
        },
        inferred: inferredOf(repeat, plan, px, from[0]!),
        sampleMm: { width: size.width.mm, height: size.height.mm },
        usedMm,
        keptOut,
        pxPerMm,
        seam,
        calibration: calibration.report,
      };
      // Pictures that pieces are cut from need not close.
      return {
        report,
        checks: repeat.asFaces ? [] : checkRepeat(repeat, plan, report, map.cells?.sharp !== undefined),
      };
    },
  };

/** What keep-outs leave of picked areas. @throws Refusal when they cover all of them */
function usableFaces(
  ctx: RenderContext,
  from: readonly FaceFrom[],
  sources: readonly Source[],
): { places: readonly FaceFrom[]; stretches: FaceStretches | null } {
  if (!knowsFaces(ctx)) return { places: from, stretches: null };
  const pictures = from.map((place) => usedSource(sources, place));
  const clear = from.flatMap((place, picture) =>
    clearStretches(place, pictures[picture]!).map((stretch) => ({ ...stretch, picture })),
  );
  if (clear.length === 0)
    throw new Refusal(
      'faces-kept-out',
      'Keep-outs reach into every picked area, so that no face is left. Take some of them away, or pick other areas.',
      'layout.faces',
    );
  const isAll = clear.length === from.length && clear.every(({ stretch }) => !stretch);
  return {
    places: clear.map(({ picture: _, ...place }) => place),
    stretches: isAll ? null : { of: clear, picturesMm: pictures.map(({ usedMm }) => usedMm) },
  };
}

/** What was one pixel of the leading picture, as it is laid. */
const detailOf = ({ source: { size }, usedMm, laidMm }: RepeatSource) => ({
  x: laidMm.width / usedMm.width / size.pxPerMm.x,
  y: laidMm.height / usedMm.height / size.pxPerMm.y,
});

/** How many times finer than its own pixels the detail of the leading picture is made. */
function inferredOf(
  { enlarged }: Pick<RepeatSettings, 'enlarged'>,
  { repeatMm, laidMm }: RepeatPlan,
  px: { width: number; height: number },
  { source: { size }, usedMm }: RepeatSource,
): number {
  const [across, up] = [px.width / repeatMm.width, px.height / repeatMm.height];
  const x = (across * laidMm.width) / (size.pxPerMm.x * usedMm.width);
  const y = (up * laidMm.height) / (size.pxPerMm.y * usedMm.height);
  return Math.max(1, Math.min(enlarged, Math.max(x, y)));
}

/** Where everything lies, once that is solved, or found to have been solved before. */
interface FoundSolution extends Pending<Solution> {
  /** Key under which what was solved is looked up another time; none: nothing has to be solved. */
  keptAs?: string;
}

function solutionOf(
  ctx: RenderContext,
  repeat: RepeatSettings,
  plan: RepeatPlan,
  from: readonly RepeatSource[],
): FoundSolution {
  const kept = ctx.options.kept?.[REPEAT.name] as KeptRepeat | undefined;
  if (kept) return { key: hashOf('kept', kept.id), get: async () => asKept(plan, kept) };
  const solution = toSolve(ctx, repeat, plan, from);
  if (!solution.isSlow) return solution;
  const keptAs = keyOfSolved(ctx, solution.key, from);
  let made: Promise<Solution> | undefined;
  const find = async () => (await solvedBefore(ctx, plan, keptAs)) ?? solution.get();
  return { key: solution.key, keptAs, get: () => (made ??= find()) };
}

/** Names what is kept of a solved repeat: it also evens out every map of the set. */
const keyOfSolved = (ctx: RenderContext, solutionKey: string, from: readonly RepeatSource[]): string =>
  hashOf(
    'solved repeat',
    ctx.versionOf(REPEAT),
    solutionKey,
    from.map(({ source }) => source.settings.maps),
  );

/** A repeat that was solved before; null: none is known. */
async function solvedBefore(ctx: RenderContext, plan: RepeatPlan, key: string): Promise<Solution | null> {
  const { solvedBefore: find } = ctx.options;
  if (!find) return null;
  // It is looked up once: what is not known then is solved here, and kept in the cache.
  const { kept } = await ctx.known(hashOf('looked up', key), async () => {
    const bytes = await find(key);
    return { kept: bytes && readKept(bytes, key) };
  });
  return kept && asKept(plan, kept);
}

/** What was kept, unless its bytes are damaged or were written in another form: it is solved again then. */
function readKept(bytes: Uint8Array, key: string): KeptRepeat | null {
  try {
    return decodeKept(bytes, key);
  } catch {
    return null;
  }
}

/** A repeat that is solved when it is first asked for. */
interface ToSolve extends Pending<Solution> {
  /** Whether there is anything to solve. */
  isSlow: boolean;
}

function toSolve(
  ctx: RenderContext,
  repeat: RepeatSettings,
  plan: RepeatPlan,
  from: readonly RepeatSource[],
): ToSolve {
  const step = (share: number) => ctx.step(0.1 + 0.7 * share, 'Composing the repeat');
  if (plan.kind === 'layered') {
    const { map } = plan;
    const inpainted = inpaintedKey(from[0]!, plan);
    return {
      key: hashOf('layers', map, inpainted ?? 'as it is'),
      isSlow: inpainted !== null,
      get: () =>
        refusing('repeat', 'repeat', async () => {
          const whole = await inpaintKeepOuts(ctx, from[0]!, plan, step);
          return {
            ...asSolved(ctx, whole ? [whole] : []),
            map,
            whole: whole && readyOf(whole),
            copies: null,
            boards: null,
          };
        }),
    };
  }
  const { onEarly } = ctx.options;
  const early = onEarly && ((picture: ColourPicture) => onEarly({ picture, repeatMm: plan.repeatMm }));
  const { key, anew } = arrangementKey(ctx, from, repeat, plan);
  return {
    key: hashOf('arrangement', key, anew),
    isSlow: true,
    get: () =>
      refusing('repeat', 'repeat', async () => {
        const steps = await solvePlacement(ctx, from, repeat, plan, step, early);
        return { ...asSolved(ctx, steps), map: steps.at(-1)!.map, whole: null };
      }),
  };
}

const readyOf = ({ map: { repeatMm, cells } }: SolvedRepeat) => ({ sizeMm: repeatMm, cells });

/** What solving came to; nothing was solved where there are no steps. */
function asSolved(ctx: RenderContext, steps: readonly SolvedRepeat[]): Omit<Solution, 'map' | 'whole'> {
  const last = steps.at(-1);
  return {
    copies: last?.copies ?? null,
    boards: last?.solved.kind === 'boards' ? countBoards(last.solved.task, last.solved.courses) : null,
    brokenHoldMm: last?.brokenHoldMm ?? 0,
    evened: async (_name, pictures) => (last ? copyCorrection(ctx, pictures, steps) : null),
  };
}

/** What was solved when a revision was issued. */
function asKept(plan: RepeatPlan, kept: KeptRepeat): Solution {
  const { sizeMm, cells, copies, boards, brokenHoldMm, evened } = kept;
  const layered = plan.kind === 'layered';
  return {
    map: layered ? plan.map : { repeatMm: sizeMm, layers: [], cells },
    whole: layered ? { sizeMm, cells } : null,
    copies: layered ? null : copies,
    boards: boards ?? null,
    brokenHoldMm,
    evened: async (name) => evened[name] ?? null,
  };
}

/**
 * What of a repeat is kept with a revision; null: nothing had to be solved.
 * @param id names it
 */
export async function keptRepeat(surface: RepeatedSurface, id: string): Promise<KeptRepeat | null> {
  const { map, whole, copies, boards, brokenHoldMm, evened } = await surface.solution.get();
  const solved = whole ?? (map.cells && { sizeMm: map.repeatMm, cells: map.cells });
  if (!solved) return null;
  // Where pieces are is only asked while copies are evened out.
  const { inPiece: _, ...cells } = solved.cells;
  const planes: Record<string, ColourPicture> = {};
  const keep = async (name: string, pictures: readonly LaidPicture[]) => {
    const plane = await evened(name, pictures);
    if (plane) planes[name] = plane;
  };
  await keep(PICTURE, surface.sources);
  for (const [role, pictures] of await surface.pictures()) if (EVENED(role)) await keep(role, pictures);
  return {
    id,
    ...solved,
    cells,
    copies: copies ?? cells.placements.length,
    ...(boards ? { boards } : {}),
    brokenHoldMm,
    evened: planes,
  };
}
