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
import type { KeptRepeat } from './kept';
import { applyPlacement } from './apply';
import type { Cells, PlacedSource, PlacementMap } from './placement';
import { pixelsAt, pixelsOf } from './pixels';
import { leadOf, planFaces, planRepeat, type FaceStretches, type RepeatPlan } from './plan';
import type { RepeatReport } from './report';
import { seamFigures } from './seam';
import type { AsFaces, RepeatSettings } from './settings';
import type { Courses } from './show';
import { arrange, arrangementKey } from './solve/arrange';
import type { Arranged } from './solve/arranged';
import { evenedOut } from './solve/evened';
import { mended, mendedKey } from './solve/make-ready';
import { madeReady, placedMasks, PLAIN_SPACE, type MadeReady } from './solve/masks';
import { knowsFaces, laysExactly, REPEAT } from './version';
import { clearStretches } from './solve/clear-stretches';
import { keptOutShare, sourcesOfRepeat, usedSource, type FaceFrom, type RepeatSource } from './solve/places';

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
  /** Every map of the set by its role, as it is laid. */
  pictures: () => Promise<[MapRole, LaidPicture[]][]>;
}

/** Where everything lies, once that is solved. */
interface Solution {
  map: PlacementMap;
  /** The picture made ready before it is laid; null: it is laid as it is, or the repeat itself is cut from copies. */
  whole: { sizeMm: { width: number; height: number }; cells: Cells } | null;
  copies: number | null;
  brokenHoldMm: number;
  /**
   * What evens out copies that meet; null: nothing does.
   * @param name of what the pictures show: the picture, or a map by its role
   */
  evened: (name: string, pictures: readonly LaidPicture[]) => Promise<ColourPicture | null>;
}

/** What the pictures of the sources show, beside the maps of a set. */
const PICTURE = 'picture';
/** Directions are not evened out: their copies meet as they are. */
const EVENED = (name: string) => name !== 'normal';

/** With more of a picture kept out, nothing is left to make a repeat from. */
const MOST_KEPT_OUT = 0.98;

/** Makes a repeat of the sources. */
export const repeatStage: Stage<RepeatSettings & AsFaces, readonly Source[], RepeatedSurface, RepeatReport> =
  {
    ...REPEAT,
    work: 8,

    async run(ctx, repeat, sources) {
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
        : planRepeat(repeat, lead);
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
      return {
        plan,
        sources: from,
        keptOut,
        solution,
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
      const { plan, sources: from, keptOut, solution, px, fields } = made;
      const { across, up, repeatMm, laidMm } = plan;
      const { source, usedMm, calibration } = from[0]!;
      const { size } = source;
      const { copies, brokenHoldMm, map } = await solution.get();
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
        copies,
        arrangement: plan.kind === 'composed' ? repeat.arrangement : null,
        joined: from.map(({ gain }) => ({ gain })),
        brokenHoldMm,
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
      // Pictures that pieces are cut from need not close.
      return {
        report,
        checks: repeat.asFaces ? [] : checkRepeat(repeat, plan, report, map.cells?.sharp ?? false),
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
  const kept = ctx.options.kept?.[REPEAT.name] as KeptRepeat | undefined;
  if (kept) return { key: hashOf('kept', kept.id), get: async () => asKept(plan, kept) };
  const step = (share: number) => ctx.step(0.1 + 0.7 * share, 'Composing the repeat');
  if (plan.kind === 'layered') {
    const { map } = plan;
    return {
      key: hashOf('layers', map, mendedKey(from[0]!, plan) ?? 'as it is'),
      get: () =>
        refusing('repeat', 'repeat', async () => {
          const whole = await mended(ctx, from[0]!, plan, step);
          return {
            ...asSolved(ctx, whole ? [whole] : []),
            map,
            whole: whole && readyOf(whole),
            copies: null,
          };
        }),
    };
  }
  const { onEarly } = ctx.options;
  const early = onEarly && ((picture: ColourPicture) => onEarly({ picture, repeatMm: plan.repeatMm }));
  const { key, anew } = arrangementKey(ctx, from, repeat, plan);
  return {
    key: hashOf('arrangement', key, anew),
    get: () =>
      refusing('repeat', 'repeat', async () => {
        const steps = await arrange(ctx, from, repeat, plan, step, early);
        return { ...asSolved(ctx, steps), map: steps.at(-1)!.map, whole: null };
      }),
  };
}

const readyOf = ({ map: { repeatMm, cells } }: Arranged) => ({ sizeMm: repeatMm, cells });

/** What solving came to; nothing was solved where there are no steps. */
function asSolved(ctx: RenderContext, steps: readonly Arranged[]): Omit<Solution, 'map' | 'whole'> {
  const last = steps.at(-1);
  return {
    copies: last?.copies ?? null,
    brokenHoldMm: last?.brokenHoldMm ?? 0,
    evened: async (_name, pictures) => (last ? evenedOut(ctx, pictures, steps) : null),
  };
}

/** What was solved when a revision was issued. */
function asKept(plan: RepeatPlan, kept: KeptRepeat): Solution {
  const { sizeMm, cells, copies, brokenHoldMm, evened } = kept;
  const layered = plan.kind === 'layered';
  return {
    map: layered ? plan.map : { repeatMm: sizeMm, layers: [], cells },
    whole: layered ? { sizeMm, cells } : null,
    copies: layered ? null : copies,
    brokenHoldMm,
    evened: async (name) => evened[name] ?? null,
  };
}

/**
 * What of a repeat is kept with a revision; null: nothing had to be solved.
 * @param id names it
 */
export async function keptRepeat(surface: RepeatedSurface, id: string): Promise<KeptRepeat | null> {
  const { map, whole, copies, brokenHoldMm, evened } = await surface.solution.get();
  const solved = whole ?? (map.cells && { sizeMm: map.repeatMm, cells: map.cells });
  if (!solved) return null;
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
    copies: copies ?? solved.cells.placements.length,
    brokenHoldMm,
    evened: planes,
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
 * @param name of what the pictures show: the picture, or a map by its role
 */
function placed(
  { ctx, plan, px, solution }: Laying,
  name: string,
  pictures: readonly LaidPicture[],
): Pending<ColourPicture> {
  const { repeatMm, laidMm } = plan;
  const exact = laysExactly(ctx);
  return ctx.later(['placed', name, exact, pictures.map(keyOfPicture), solution.key, px], async () => {
    const solved = await solution.get();
    const { map, whole } = solved;
    const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
    const dense = await allAtDensity(ctx, pictures, pxPerMm);
    await ctx.step(0.85, 'Placing the sample');
    const space = map.cells ? PLAIN_SPACE : await blendSpaceOf(ctx, pictures[0]!, laidMm);
    const evened = EVENED(name) ? await solved.evened(name, pictures) : null;
    const laid = whole ? [madeReady(dense[0]!, readyAs(plan, whole, dense[0]!), evened, exact)] : dense;
    return applyPlacement(map, laid, px.width, px.height, space, whole ? null : evened, exact);
  });
}

/** How a picture of a density is made ready. */
function readyAs(
  plan: RepeatPlan,
  { sizeMm, cells }: NonNullable<Solution['whole']>,
  { picture, pxPerMm }: PlacedSource,
): MadeReady {
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
  const pictures = await laidMaps(laying, role);
  const { greenRuns } = laying.from[0]!.source.settings.maps.find((m) => m.role === role)!;
  return { picture: await placed(laying, role, pictures).get(), greenRuns };
}

/** The map of a role of every picture, as it is laid. @throws Refusal when a picture has none */
async function laidMaps({ ctx, from }: Laying, role: MapRole): Promise<LaidPicture[]> {
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
  return pictures;
}

/** Every map that all pictures of the repeat have. */
async function picturesOfSet(laying: Laying): Promise<[MapRole, LaidPicture[]][]> {
  const { from } = laying;
  const has = (role: MapRole) =>
    from.every(({ source }) => source.settings.maps.some((m) => m.role === role));
  const out: [MapRole, LaidPicture[]][] = [];
  for (const { role } of from[0]!.source.settings.maps)
    if (has(role)) out.push([role, await laidMaps(laying, role)]);
  return out;
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
    const exact = laysExactly(ctx);
    return placedMasks(masks, map, px.width, px.height, whole && readyAs(plan, whole, dense[0]!), exact);
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
