import { colourReadingSteps } from '../colour';
import { makePlane, type ColourPicture, type Plane } from '../raster';
import type { MapRole } from '../sample';
import { spans, type Steps } from '../steps';
import {
  hashOf,
  withFields,
  withTurns,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { checkResponse } from './checks';
import { withJoints, withMetalOfOthers } from './fields-of-layings';
import {
  ofMetal,
  withColourOfMetals,
  withMetalnessOfMetals,
  withRoughnessOfMetals,
} from './fields-of-metals';
import { glossOf, planeOf } from './gloss-asked';
import { brushedOf, type BrushedReport } from './brushed';
import { glassOf, type GlassReport } from './glass';
import type { ReflectingSurface } from './glossmeter';
import { hazeOf, readingsOf, type HazeReport } from './haze';
import { coatOver, underTint, type CoatReport } from './coat';
import { baseMetalColour, metalPartsOn, type MetalColour, type MetalPart } from './metals';
import { openPlaces, threadsAlone } from './openness';
import type { ResponseSettings } from './settings';
import {
  glossOfGenerated,
  glossSpread,
  partsWithGloss,
  roughnessOfGlosses,
  variationWeight,
  variedGloss,
  varies,
  type GlossSpread,
} from './variation';

/** What the response stage came to. */
export interface ResponseReport {
  glossGu: number;
  /** glTF roughness that reads the asked gloss. */
  roughness: number;
  /** What the roughness reads where it is not the same everywhere; null: it is. */
  glossSpread: GlossSpread | null;
  /** What readings at 20° and 85° add; null: there are none. */
  haze: HazeReport | null;
  /** The clear coat; null: there is none. */
  coat: CoatReport | null;
  /** Colour that follows from optical constants: of the whole finish, and of parts of metal. */
  metals: { base: MetalColour | null; parts: MetalPart[] };
  /** Glass; null: it is none. */
  glass: GlassReport | null;
  /** Tilt of facets along and across scratches; null: it is not brushed. */
  brushed: BrushedReport | null;
  /** What the colour map reads where parts of metal or openings changed it; null: it is as the colour stage left it. */
  recoloured: { lrv: number; meanLab: readonly [number, number, number] } | null;
}

/** Turns the gloss into roughness; what came as a map of the set stands in place of the one value. */
export const responseStage: SurfaceStage<ResponseSettings, ResponseReport> = {
  name: 'response',
  version: 1,
  work: 1,

  run(ctx, settings, surface) {
    const ofMap = mapAsPlane(ctx, surface, 'roughness') ?? mapAsPlane(ctx, surface, 'gloss');
    const own = ofMap ?? variedRoughness(ctx, settings, surface);
    const faces = withRoughnessOfMetals(
      ctx,
      settings,
      surface,
      ofMap ? own : asBrushed(ctx, settings, surface, own),
    );
    const roughness = surface.laid ? withJoints(ctx, settings, surface, surface.laid, faces) : faces;
    const open = opens(settings, surface)
      ? openPlaces(ctx, settings.openness!, surface)
      : opacityOfGenerated(settings, surface);
    return withFields(surface, {
      colour: colourOf(ctx, settings, surface, open),
      gloss: settings.glossGu.value,
      roughness: underLayers(ctx, surface, roughness ?? evenRoughness(ctx, settings, surface)),
      metalness: bareMetal(
        ctx,
        surface,
        withMetalOfOthers(
          ctx,
          surface,
          withMetalnessOfMetals(
            ctx,
            settings,
            surface,
            mapAsPlane(ctx, surface, 'metalness') ?? (settings.base.kind === 'metal' ? 1 : 0),
          ),
        ),
      ),
      opacity: mapAsPlane(ctx, surface, 'opacity') ?? open ?? 1,
    });
  },

  async report(ctx, settings, surface) {
    const { roughness, reached, of } = await glossOf(ctx, settings, surface);
    const glossGu = settings.glossGu.value;
    const made = surface.fields.roughness!;
    const plane = typeof made === 'number' ? made : await made.get();
    const spread =
      // Along and across scratches a meter reads two figures, not the one that a spread is of.
      typeof plane === 'number' || typeof made === 'number' || settings.brushed
        ? null
        : await ctx.known(hashOf('gloss spread', made.key, of), async () =>
            withTurns(ctx.options, glossSpread(plane, of)),
          );
    const haze = hazeOf(readingsOf(settings), roughness, of);
    const coat = settings.coat ? coatOver(settings.coat, roughness, of) : null;
    const brushed = settings.brushed ? await brushedFrom(ctx, settings, of) : null;
    const glass = settings.base.kind === 'glass' ? glassOf(settings.base) : null;
    const parts = metalPartsOn(settings, surface);
    const metals = { base: baseMetalColour(settings), parts };
    const ofPart = (part: string) => ofMetal(parts.find((p) => p.part === part)?.colour) ?? of;
    return {
      report: {
        glossGu,
        roughness,
        glossSpread: spread,
        haze,
        coat,
        metals,
        glass,
        brushed,
        recoloured: await recolouredBy(ctx, settings, surface),
      },
      checks: checkResponse(settings, surface, { of, roughness, reached, ofPart, haze, glass, brushed }),
    };
  },
};

/** Roughness that is the same everywhere. */
const evenRoughness = (
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
): Pending<number> => ({
  key: hashOf('even roughness', settings, surface.fields.colour!.key),
  get: async () => (await glossOf(ctx, settings, surface)).roughness,
});

/** Roughness of a finish under what weathering laid on it. */
function underLayers(
  ctx: RenderContext,
  { weathered, px }: Surface,
  own: Pending<number | Plane>,
): Pending<number | Plane> {
  if (!weathered) return own;
  return ctx.later(['roughness under layers', own.key, weathered.keeps.key], async () => {
    const [keeps, laid] = [await weathered.keeps.get(), await weathered.roughness.get()];
    const plane = planeOf(await own.get(), makePlane(px.width, px.height));
    await withTurns(ctx.options, layOver(plane.data, keeps.data, laid.data));
    return plane;
  });
}

/** Roughness of which layers keep a share, and add their own. */
function* layOver(roughness: Float32Array, keeps: Float32Array, laid: Float32Array): Steps<void> {
  for (const { from, to } of spans(roughness.length)) {
    yield;
    for (let i = from; i < to; i++) roughness[i] = Math.min(1, roughness[i]! * keeps[i]! + laid[i]!);
  }
}

/** Metalness where no layer hides the metal. */
function bareMetal(
  ctx: RenderContext,
  { weathered, px }: Surface,
  own: number | Pending<Plane>,
): number | Pending<Plane> {
  if (!weathered || own === 0) return own;
  const key = typeof own === 'number' ? own : own.key;
  return ctx.later(['bare metal', key, weathered.bare.key], async () => {
    const bare = (await weathered.bare.get()).data;
    const plane = planeOf(typeof own === 'number' ? own : await own.get(), makePlane(px.width, px.height));
    for (let i = 0; i < plane.data.length; i++) plane.data[i]! *= bare[i]!;
    return plane;
  });
}

/** Whether it is a woven finish with openings that no map of the set gives. */
const opens = ({ openness, base }: ResponseSettings, { maps }: Surface): boolean =>
  openness !== undefined && base.kind !== 'glass' && !maps.has('opacity');

/** Openings of a generated finish, as it lies; null: it has none. */
function opacityOfGenerated({ base }: ResponseSettings, { generated, laid }: Surface): Pending<Plane> | null {
  const own = base.kind === 'glass' ? null : (generated ?? laid?.faces.generated)?.opacity;
  if (!own) return null;
  return laid ? { key: own.key, get: async () => laid.lay(await own.get()) } : own;
}

/** Roughness of a gloss that varies; undefined: it is the same everywhere. */
function variedRoughness(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
): Pending<Plane> | undefined {
  if (!varies(settings, surface)) return undefined;
  const { base, glossGu, spreadLike, parts = [], variation = [] } = settings;
  const variations = variation.filter(({ byGu }) => byGu !== 0);
  const weights = variations.map((each) => variationWeight(ctx, each, surface));
  // A correction of the colour changes the gloss only where the gloss follows from it, by the reflectance of a metal.
  const of =
    base.kind === 'metal' ? [base, (surface.weathered?.supplied ?? surface.fields.colour!).key] : base;
  const key = [
    'varied roughness',
    { of, glossGu, spreadLike, parts, by: variations.map(({ byGu }) => byGu) },
    weights.map((weight) => weight.key),
    partsWithGloss(settings, surface).map(({ part }) => surface.parts.get(part)!.key),
    surface.laid?.joint.key ?? null,
    glossOfGenerated(surface)?.key ?? null,
    surface.px,
  ];
  return ctx.later(key, async () => {
    const { of } = await glossOf(ctx, settings, surface);
    const joint = surface.laid ? await surface.laid.joint.get() : null;
    const varied = await Promise.all(
      variations.map(async ({ byGu }, k) => ({ byGu, weight: await weights[k]!.get() })),
    );
    const gloss = await variedGloss(ctx, settings, surface, varied, joint, of);
    return withTurns(ctx.options, roughnessOfGlosses(gloss, of));
  });
}

const brushedFrom = (ctx: RenderContext, { glossGu, brushed }: ResponseSettings, of: ReflectingSurface) =>
  ctx.known(hashOf('brushed', glossGu.value, brushed!.acrossGu.value, of), async () =>
    brushedOf(glossGu.value, brushed!.acrossGu.value, of),
  );

/** Roughness along the scratches of a brushed surface, in proportion to what one that is not would have. */
function asBrushed(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  own: Pending<Plane> | undefined,
): Pending<Plane> | undefined {
  if (!settings.brushed) return own;
  return ctx.later(['brushed', settings, own?.key ?? null, surface.fields.colour!.key], async () => {
    const { of, roughness } = await glossOf(ctx, settings, surface);
    const along = (await brushedFrom(ctx, settings, of)).roughness;
    if (!own) return planeOf(along, makePlane(surface.px.width, surface.px.height));
    const plane = await own.get();
    const factor = roughness > 0 ? along / roughness : 1;
    return { ...plane, data: plane.data.map((v) => Math.min(1, v * factor)) };
  });
}

/** What the colour reads where the response changed it. Of a laid finish the reflectance is that of its faces, and stays. */
async function recolouredBy(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
): Promise<ResponseReport['recoloured']> {
  const changed =
    metalPartsOn(settings, surface).length > 0 || opens(settings, surface) || tintOf(settings) !== null;
  if (!changed || surface.laid || surface.weathered) return null;
  const colour = surface.fields.colour!;
  const { shown } = await ctx.known(hashOf('reading', colour.key), async () =>
    withTurns(ctx.options, colourReadingSteps(await colour.get())),
  );
  return { lrv: shown.lrv, meanLab: shown.meanLab };
}

/** Colour with that of metals where they are, of a woven finish that of its threads alone, under what its coat absorbs. */
function colourOf(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  open: Pending<Plane> | null,
): Pending<ColourPicture> {
  const colour =
    metalPartsOn(settings, surface).length > 0
      ? withColourOfMetals(ctx, settings, surface)
      : surface.fields.colour!;
  const threads = open
    ? ctx.later(['threads', colour.key, open.key], async () =>
        threadsAlone(await colour.get(), await open.get()),
      )
    : colour;
  const tint = tintOf(settings);
  return tint
    ? ctx.later(['under a tint', threads.key, tint], async () => underTint(await threads.get(), tint))
    : threads;
}

/** What the clear coat absorbs; null: there is none, or it absorbs nothing. Glass has none. */
const tintOf = ({ coat, base }: ResponseSettings) => (base.kind === 'glass' ? null : (coat?.tint ?? null));

/** A map of the set as one plane, 0–1; undefined: there is none. Gloss counts the other way: what is smooth is bright. */
function mapAsPlane(ctx: RenderContext, { maps }: Surface, role: MapRole): Pending<Plane> | undefined {
  const map = maps.get(role);
  return (
    map &&
    ctx.later(['response map', map.key, role], async () => {
      const { widthPx, heightPx, g } = (await map.get()).picture;
      return { widthPx, heightPx, data: role === 'gloss' ? g.map((v) => 1 - v) : g.slice() };
    })
  );
}
