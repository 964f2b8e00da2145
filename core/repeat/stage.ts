import type { ColourPicture, Plane } from '../raster';
import { findPart, type MapRole } from '../sample';
import { allAtDensity, frameOnMap, smallOf, type LaidPicture, type Source } from '../sources';
import {
  hashOf,
  Refusal,
  refusing,
  type Pending,
  type RenderContext,
  type Stage,
  type Surface,
} from '../surface';
import { piecesOfCells } from './cells';
import { checkRepeat } from './checks';
import { learnBlendSpace, type BlendSpace } from './histogram';
import { applyPlacement, type PlacedSource, type PlacementMap } from './placement';
import { leadOf, planRepeat, type RepeatPlan } from './plan';
import type { RepeatReport } from './report';
import { seamFigures } from './seam';
import type { RepeatSettings } from './settings';
import type { Courses } from './show';
import { arrange, arrangementKey } from './solve/arrange';
import type { Arranged } from './solve/arranged';
import { countBoards } from './solve/boards';
import { evenedOut } from './solve/evened';
import { mended, mendedKey } from './solve/make-ready';
import { madeReady, placedMasks, PLAIN_SPACE, type MadeReady } from './solve/masks';
import { keptOutShare, sourcesOfRepeat, usedSource, type RepeatSource } from './solve/places';

/** Where everything in a repeat comes from. */
export interface PlacedRepeat {
  map: PlacementMap;
  sources: readonly RepeatSource[];
  /** Regular structure in the repeat. */
  courses: Courses;
}

/** A surface that was made a repeat. */
export interface RepeatedSurface extends Surface {
  plan: RepeatPlan;
  sources: readonly RepeatSource[];
  keptOut: number;
  solution: Pending<Solution>;
}

/** Where everything lies, once that is solved. */
interface Solution {
  map: PlacementMap;
  /** Of a cut or composed repeat: as it was solved, and after each area that was laid anew. */
  steps: readonly Arranged[] | null;
  /** The picture made ready before it is laid; null: it is laid as it is. */
  whole: Arranged | null;
}

const LARGEST_SIDE_PX = 16384;
/** With more of a picture kept out, nothing is left to make a repeat from. */
const MOST_KEPT_OUT = 0.98;

/** Makes a repeat of the sources. */
export const repeatStage: Stage<RepeatSettings, readonly Source[], RepeatedSurface, RepeatReport> = {
  name: 'repeat',
  version: 1,
  work: 8,

  async run(ctx, repeat, sources) {
    const lead = usedSource(sources, leadOf(repeat));
    const plan = planRepeat(repeat, lead);
    const px = pixelsOf(plan.repeatMm, ctx.asked.widthPx);
    const keptOut = keptOutShare(lead);
    if (keptOut > MOST_KEPT_OUT)
      throw new Refusal(
        'all-kept-out',
        'The keep-outs cover the whole sample, so that nothing is left to make a repeat from. Take some of them away, or undo the last one.',
        `sources.${lead.settings.id}.preparation.keepOuts`,
      );
    await ctx.step(0, 'Placing the sample');
    const from = await sourcesOfRepeat(ctx, sources, repeat.from, plan, repeat.enlarged);
    const solution = solutionOf(ctx, repeat, plan, from);
    const laying: Laying = { ctx, plan, px, from, solution };
    return {
      plan,
      sources: from,
      keptOut,
      solution,
      sizeMm: plan.repeatMm,
      px,
      fields: { picture: placed(laying, from) },
      maps: mapsOfSet(laying),
      parts: partsOf(laying),
      pieces: ctx.later(['pieces', solution.key, px], async () => {
        const { map } = await solution.get();
        return map.cells?.sharp ? piecesOfCells(map.cells, px.width, px.height) : null;
      }),
    };
  },

  async report(ctx, repeat, made) {
    const { plan, sources: from, keptOut, solution, px, fields } = made;
    const { across, up, repeatMm, laidMm } = plan;
    const { source, usedMm, calibration } = from[0]!;
    const { size } = source;
    const { steps, whole } = await solution.get();
    const solved = steps?.at(-1) ?? whole;
    const seamKey = hashOf('seam', fields.picture!.key, across.modules, up.modules);
    const seam = await ctx.known(seamKey, async () =>
      seamFigures(await fields.picture!.get(), { across: across.modules, up: up.modules }),
    );
    const stretch = { across: across.stretch ?? 0, up: up.stretch ?? 0 };
    const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
    const tolerance = (mm: number, length: { mm: number; toleranceMm: number }, stretched: number) =>
      mm * (length.toleranceMm / length.mm + Math.abs(stretched));
    const report: RepeatReport = {
      repeatMm,
      copies: steps ? steps.at(-1)!.copies : null,
      boards: solved?.boards ? countBoards(solved.boards) : null,
      arrangement: plan.kind === 'composed' ? repeat.arrangement : null,
      joined: from.map(({ gain }) => ({ gain })),
      brokenHoldMm: solved?.brokenHoldMm ?? 0,
      stretch,
      stretchNeeded: { across: across.stretchNeeded, up: up.stretchNeeded },
      repeatToleranceMm: {
        width: tolerance(repeatMm.width, size.width, stretch.across),
        height: tolerance(repeatMm.height, size.height, stretch.up),
      },
      inferred: inferredBy(repeat.enlarged, pxPerMm, {
        x: (size.pxPerMm.x * usedMm.width) / laidMm.width,
        y: (size.pxPerMm.y * usedMm.height) / laidMm.height,
      }),
      sampleMm: { width: size.width.mm, height: size.height.mm },
      usedMm,
      keptOut,
      pxPerMm,
      seam,
      calibration: calibration.report,
    };
    return { report, checks: checkRepeat(repeat, plan, report) };
  },
};

function pixelsOf(repeatMm: { width: number; height: number }, widthPx: number) {
  const heightPx = Math.max(1, Math.round((widthPx * repeatMm.height) / repeatMm.width));
  if (heightPx > LARGEST_SIDE_PX || widthPx > LARGEST_SIDE_PX)
    throw new Refusal(
      'too-many-pixels',
      `At ${widthPx} px of width the repeat of ${repeatMm.width.toFixed(0)} × ${repeatMm.height.toFixed(0)} mm would be ${heightPx} px high; at most ${LARGEST_SIDE_PX} px are possible. Ask for fewer pixels.`,
    );
  return { width: widthPx, height: heightPx };
}

/** How many times finer than its own pixels the detail of a picture is made at a density. */
const inferredBy = (
  enlarged: number,
  asked: { x: number; y: number },
  own: { x: number; y: number },
): number => Math.max(1, Math.min(enlarged, Math.max(asked.x / own.x, asked.y / own.y)));

function solutionOf(
  ctx: RenderContext,
  repeat: RepeatSettings,
  plan: RepeatPlan,
  from: readonly RepeatSource[],
): Pending<Solution> {
  const step = (share: number) => ctx.step(0.1 + 0.7 * share, 'Composing the repeat');
  if (plan.kind === 'layered') {
    const { map } = plan;
    return {
      key: hashOf('layers', map, mendedKey(from[0]!, plan) ?? 'as it is'),
      get: () =>
        refusing('repeat', 'repeat', async () => ({
          map,
          steps: null,
          whole: await mended(ctx, from[0]!, plan, step),
        })),
    };
  }
  const { onEarly } = ctx.options;
  const early = onEarly && ((picture: ColourPicture) => onEarly({ picture, repeatMm: plan.repeatMm }));
  const { key, anew } = arrangementKey(from, repeat, plan);
  return {
    key: hashOf('arrangement', key, anew),
    get: () =>
      refusing('repeat', 'repeat', async () => {
        const steps = await arrange(ctx, from, repeat, plan, step, early);
        return { map: steps.at(-1)!.map, steps, whole: null };
      }),
  };
}

/** What laying a picture of every source over the repeat works with. */
interface Laying {
  ctx: RenderContext;
  plan: RepeatPlan;
  px: { width: number; height: number };
  from: readonly RepeatSource[];
  solution: Pending<Solution>;
}

const keyOfPicture = ({ picture: { sampleId: _, ...picture }, laidMm, change }: LaidPicture) => [
  { ...picture, info: picture.info.sha256, frame: [picture.frame.plane, picture.frame.bow] },
  laidMm,
  change?.key ?? 'as received',
];

/**
 * The same picture of every source, laid over the repeat as the placement map says.
 * @param evens whether copies that meet are evened out; directions are not: their copies meet as they are
 */
function placed(
  { ctx, plan, px, solution }: Laying,
  pictures: readonly LaidPicture[],
  evens = true,
): Pending<ColourPicture> {
  const { repeatMm, laidMm } = plan;
  return ctx.later(['placed', pictures.map(keyOfPicture), solution.key, px, evens], async () => {
    const { map, steps, whole } = await solution.get();
    const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
    const dense = await allAtDensity(ctx, pictures, pxPerMm);
    await ctx.step(0.85, 'Placing the sample');
    const space = steps ? PLAIN_SPACE : await blendSpaceOf(ctx, pictures[0]!, laidMm);
    const solved = steps ?? (whole && [whole]);
    const evened = solved && evens ? await evenedOut(ctx, pictures, solved) : null;
    const laid = whole ? [madeReady(dense[0]!, readyAs(plan, whole, dense[0]!), evened)] : dense;
    return applyPlacement(map, laid, px.width, px.height, space, whole ? null : evened);
  });
}

/** How a picture of a density is made ready. */
function readyAs(plan: RepeatPlan, whole: Arranged, { picture, pxPerMm }: PlacedSource): MadeReady {
  const { repeatMm: sizeMm, cells } = whole.map;
  const cutFirst = plan.kind === 'layered' ? plan.cutFirst : { across: false, up: false };
  return {
    cells,
    sizeMm,
    widthPx: cutFirst.across ? Math.round(sizeMm.width * pxPerMm.x) : picture.widthPx,
    heightPx: cutFirst.up ? Math.round(sizeMm.height * pxPerMm.y) : picture.heightPx,
  };
}

/** Blend statistics come from a picture no larger than this, so that every size mixes alike. */
const LEARNING_SIDE_PX = 512;

/** Statistics by which overlapping copies of a picture are mixed. */
function blendSpaceOf(
  ctx: RenderContext,
  laid: LaidPicture,
  laidMm: { width: number; height: number },
): Promise<BlendSpace> {
  return ctx.known(hashOf('blend space', keyOfPicture({ ...laid, laidMm })), async () =>
    learnBlendSpace(await smallOf(ctx, laid.picture, laidMm, LEARNING_SIDE_PX, laid.change)),
  );
}

/** Every kind of map that came with the pictures, laid over the repeat by the same placement. */
function mapsOfSet(laying: Laying): RepeatedSurface['maps'] {
  const { ctx, from } = laying;
  const roles = new Set(from.flatMap(({ source }) => source.settings.maps.map((m) => m.role)));
  return new Map(
    [...roles].map((role) => {
      const maps = from.map(({ source }) => source.settings.maps.find((m) => m.role === role));
      const key = ['map', role, maps, from.map((f) => keyOfPicture(f)), laying.solution.key, laying.px];
      return [role, ctx.later(key, () => mapOfSet(laying, role))];
    }),
  );
}

async function mapOfSet(laying: Laying, role: MapRole) {
  const { ctx, from } = laying;
  const pictures: LaidPicture[] = [];
  for (const { source, picture, laidMm } of from) {
    const map = source.settings.maps.find((m) => m.role === role);
    if (!map)
      throw new Refusal(
        'map-missing',
        `The repeat is made from several pictures, and not all of them have a ${role} map, so that nothing is known of it in the others. Join areas of one picture, or take the map out of the set.`,
        `sources.${source.settings.id}.maps`,
      );
    const info = await ctx.pictures.info(map.sampleId);
    const { frame, enlarged } = picture;
    pictures.push({
      picture: {
        sampleId: map.sampleId,
        info,
        frame: frameOnMap(frame, info),
        asData: true,
        ...(enlarged ? { enlarged } : {}),
      },
      laidMm,
    });
  }
  const { greenRuns } = from[0]!.source.settings.maps.find((m) => m.role === role)!;
  return { picture: await placed(laying, pictures, role !== 'normal').get(), greenRuns };
}

/** Where the parts that were found in the pictures lie in the repeat; a picture without a part has none of it. */
function partsOf(laying: Laying): RepeatedSurface['parts'] {
  const { ctx, from, plan, px, solution } = laying;
  const ids = new Set(from.flatMap(({ source }) => source.settings.preparation.parts.map((p) => p.id)));
  const asReceived = from.map(({ picture, laidMm }) => ({ picture, laidMm }));
  return new Map(
    [...ids].map((id) => {
      const parts = from.map(({ source }) => source.settings.preparation.parts.find((p) => p.id === id));
      const key = ['part', parts, asReceived.map(keyOfPicture), solution.key, px];
      return [id, ctx.later(key, () => partOver(parts))];
    }),
  );

  async function partOver(parts: readonly (Parameters<typeof findPart>[1] | undefined)[]): Promise<Plane> {
    const { map, whole } = await solution.get();
    const { repeatMm } = plan;
    const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
    const dense = await allAtDensity(ctx, asReceived, pxPerMm);
    const masks = dense.map(({ picture, pxPerMm: perMm }, k) => ({
      mask: maskOf(picture, parts[k], { x: 1 / perMm.x, y: 1 / perMm.y }),
      pxPerMm: perMm,
    }));
    return placedMasks(masks, map, px.width, px.height, whole && readyAs(plan, whole, dense[0]!));
  }
}

const maskOf = (
  picture: ColourPicture,
  part: Parameters<typeof findPart>[1] | undefined,
  mmPerPx: { x: number; y: number },
): Plane =>
  part
    ? findPart(picture, part, mmPerPx).weight
    : { widthPx: picture.widthPx, heightPx: picture.heightPx, data: new Float32Array(picture.r.length) };
