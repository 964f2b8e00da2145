import { colourReadingSteps } from '../colour';
import { refuseTooManyCells } from '../generate/noise';
import { extent, meanSteps, type Plane } from '../raster';
import { curvatureSteps } from '../relief/curvature';
import type { HeightField } from '../relief/height';
import { normalFieldOf, slopesOf } from '../relief/normal-field';
import type { ReliefReport } from '../relief/stage';
import { occlusionInSteps } from '../relief/occlusion';
import { inTurns } from '../steps';
import {
  hashOf,
  mmPerPxOf,
  open,
  refusing,
  turn,
  withTurns,
  wrong,
  type Check,
  type Cost,
  type LaidLayer,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { printNumber } from '../units';
import { coverOf } from './coverage';
import { weakPlaces } from './flaking';
import { PAINTERS, smallestCellMm, type Beside } from './layers';
import { missingPlace, placeField, type Ground } from './places';
import {
  finishesOfLayers,
  PLACES_AT_A_HEIGHT,
  usedLayers,
  type WeatheringLayer,
  type WeatheringSettings,
} from './settings';
import type { Weathering } from './state';

/** What the weathering stage came to. */
export interface WeatheringReport extends Partial<Pick<ReliefReport, 'heightMm' | 'slopeDeg'>> {
  weathering: {
    /** Every layer that lies, with the share of the surface that it covers. */
    layers: readonly LaidLayer[];
    /** Height of the wall that it is for, where it does not repeat upwards; null: it does. */
    wallMm: number | null;
  } | null;
}

/** What layers made of the finish. */
interface Weathered {
  state: Weathering;
  laid: LaidLayer[];
  missing: { id: string; name: string; why: string }[];
}

/** Lays what happened to the finish over its relief, in the order it happened. */
export const weatheringStage: SurfaceStage<WeatheringSettings, WeatheringReport> = {
  name: 'weathering',
  version: 1,
  work: 4,

  run(ctx, settings, surface) {
    const layers = usedLayers(settings);
    if (layers.length === 0) return surface;
    refuseTooFine(layers, surface);
    ctx.expect(costOf(layers, surface));
    const weathered = weatheredBy(ctx, layers, surface);
    const mm = mmPerPxOf(surface);
    const of = <T>(name: string, pick: (w: Weathered) => T): Pending<T> => ({
      key: hashOf(name, weathered.key),
      get: async () => pick(await weathered.get()),
    });
    const height = ctx.later(['weathered height', weathered.key], async () =>
      heightFieldOf((await weathered.get()).state.height),
    );
    const normal = normalFieldOf(ctx, height, mm);
    const plane = (data: Float32Array) => ({ widthPx: surface.px.width, heightPx: surface.px.height, data });
    return {
      ...surface,
      fields: {
        ...surface.fields,
        colour: of('weathered colour', ({ state }) => state.colour),
        height,
        normal,
        occlusion: ctx.releasable(['occlusion', height.key], async () => {
          const h = await height.get();
          const radiusMm = Math.max(6 * (h.maxMm - h.minMm), 2 * Math.max(mm.x, mm.y));
          return inTurns(occlusionInSteps(h, await normal.get(), mm, radiusMm), () =>
            ctx.step(1, 'Deriving occlusion'),
          );
        }),
        curvature: ctx.later(['curvature', height.key], async () =>
          withTurns(ctx.options, curvatureSteps(await height.get(), mm)),
        ),
      },
      weathered: {
        supplied: surface.fields.colour!,
        keeps: of('weathered keeps', ({ state }) => plane(state.keeps)),
        roughness: of('weathered roughness', ({ state }) => plane(state.roughness)),
        bare: of('weathered bare', ({ state }) => plane(state.bare)),
        outcome: of('weathered outcome', ({ laid, missing }) => ({ laid, missing })),
      },
    };
  },

  async report(ctx, settings, surface) {
    const layers = usedLayers(settings);
    if (layers.length === 0 || !surface.weathered) return { report: { weathering: null }, checks: [] };
    const { laid, missing } = await surface.weathered.outcome.get();
    const { minMm, maxMm } = await surface.fields.height!.get();
    const slope = await slopesOf(ctx, surface.fields.normal!).get();
    const wallMm = layers.some((l) => PLACES_AT_A_HEIGHT.includes(l.place.at) && l.coverPercent > 0)
      ? surface.sizeMm.height
      : null;
    return {
      report: {
        weathering: { layers: laid, wallMm },
        heightMm: { min: minMm, max: maxMm, zero: 0 },
        slopeDeg: { mean: slope.meanDeg, p99: slope.p99Deg },
      },
      checks: [
        ...missingPlaces(missing),
        ...notUpwards(layers, wallMm),
        ...overTheTop(layers, surface.sizeMm.height),
        ...pathsOf(layers, surface.sizeMm.width),
      ],
    };
  },
};

/** Refuses layers that are drawn by more cells than a repeat can have, before anything is drawn. */
function refuseTooFine(layers: readonly WeatheringLayer[], { sizeMm }: Surface): void {
  for (const layer of layers) {
    const mm = smallestCellMm(layer);
    if (mm === null) continue;
    // At least so many, however their number is rounded.
    const cells = (sizeMm.width / mm - 1) * (sizeMm.height / mm - 1);
    refusing('weathering', 'weathering', () => refuseTooManyCells(cells));
  }
}

const costOf = (layers: readonly WeatheringLayer[], { px: { width, height } }: Surface): Cost => ({
  what: `weathering ${width} × ${height} px with ${layers.length} ${layers.length === 1 ? 'layer' : 'layers'}`,
  less: 'Take layers of weathering out',
  where: 'weathering',
  seconds: 0.2 + layers.length * (0.1 + (0.9 * width * height) / 1e6),
  bytes: 40 * width * height,
});

function weatheredBy(
  ctx: RenderContext,
  layers: readonly WeatheringLayer[],
  surface: Surface,
): Pending<Weathered> {
  const { colour, height, occlusion } = surface.fields;
  const parts = layers.map((l) => (l.place.part ? (surface.parts.get(l.place.part)?.key ?? null) : null));
  return ctx.later(['weathered', layers, colour!.key, height!.key, parts], async () => {
    const start = await startOf(ctx, surface);
    const enclosed = layers.some(({ place }) => place.at === 'hollows') ? await occlusion!.get() : null;
    const out: Weathered = { state: start, laid: [], missing: [] };
    for (const [k, layer] of layers.entries()) {
      await ctx.step(k / layers.length, `Weathering: ${layer.name}`);
      const ground: Ground = {
        height: start.height,
        occlusion: enclosed,
        mm: start.mm,
        sizeMm: start.sizeMm,
      };
      const why = await withTurns(ctx.options, missingPlace(layer.place, ground, surface.parts));
      if (why) {
        out.missing.push({ id: layer.id, name: layer.name, why });
        continue;
      }
      const inTurn = () => turn(ctx.options);
      const place = await placeField(layer.place, ground, surface.parts, inTurn);
      await inTurn();
      const weight = await coverOf(layer, start, place, inTurn);
      const beside: Beside = {
        detail: layer.kind === 'detail' ? await detailOf(ctx, layer, surface) : null,
        weak: layer.kind === 'coating' ? await weakPlaces(layer, start, surface, inTurn) : {},
        turn: inTurn,
      };
      await refusing('weathering', 'weathering', () =>
        PAINTERS[layer.kind](start, layer as never, weight, beside),
      );
      await inTurn();
      const { shown } = await withTurns(ctx.options, colourReadingSteps(start.colour));
      out.laid.push({
        id: layer.id,
        name: layer.name,
        covers: await withTurns(ctx.options, meanSteps(weight.data)),
        lrv: shown.lrv,
        meanLab: shown.meanLab,
      });
    }
    return out;
  });
}

/** Heights as they are, over the level that they are given over. */
function heightFieldOf(plane: Plane): HeightField {
  const { min, max } = extent(plane.data);
  return { ...plane, minMm: min, maxMm: max };
}

async function startOf({ options }: RenderContext, surface: Surface): Promise<Weathering> {
  const colour = await surface.fields.colour!.get();
  const height = await surface.fields.height!.get();
  const n = surface.px.width * surface.px.height;
  const copied = async (data: Float32Array) => {
    await turn(options);
    return data.slice();
  };
  return {
    colour: { ...colour, r: await copied(colour.r), g: await copied(colour.g), b: await copied(colour.b) },
    height: { widthPx: height.widthPx, heightPx: height.heightPx, data: await copied(height.data) },
    keeps: new Float32Array(n).fill(1),
    roughness: new Float32Array(n),
    bare: new Float32Array(n).fill(1),
    mm: mmPerPxOf(surface),
    sizeMm: surface.sizeMm,
    px: surface.px,
  };
}

async function detailOf(
  ctx: RenderContext,
  layer: WeatheringLayer,
  surface: Surface,
): Promise<Surface | null> {
  const [named] = finishesOfLayers([layer]);
  const pxPerMm = surface.px.width / surface.sizeMm.width;
  return named ? ((await ctx.options.surfaceOf?.(named.finish, pxPerMm)) ?? null) : null;
}

const missingPlaces = (missing: readonly Weathered['missing'][number][]): Check[] =>
  missing.map(({ id, name, why }) =>
    wrong('weathering', `place-missing-${id}`, `The layer “${name}” lies nowhere and is left out: ${why}.`),
  );

function notUpwards(layers: readonly WeatheringLayer[], wallMm: number | null): Check[] {
  if (wallMm === null) return [];
  const at = layers.filter((l) => PLACES_AT_A_HEIGHT.includes(l.place.at));
  return [
    open(
      'weathering',
      'not-upwards',
      `The repeat does not close upwards: ${at.map((l) => `“${l.name}” lies from ${printNumber(l.place.fromMm ?? 0, 0)} to ${printNumber(l.place.toMm ?? 0, 0)}\u2009mm above the floor`).join(', ')}. It is for a wall ${printNumber(wallMm, 0)}\u2009mm high, its lower edge on the floor.`,
    ),
  ];
}

const pathsOf = (layers: readonly WeatheringLayer[], widthMm: number): Check[] =>
  layers
    .filter(({ place: { at, fromMm = 0 } }) => at === 'path' && fromMm < widthMm)
    .map(({ id, name }) =>
      open(
        'weathering',
        `path-repeats-${id}`,
        `“${name}” lies every ${printNumber(widthMm, 0)}\u2009mm, as wide as the repeat is. For one path, make the repeat as wide as the floor.`,
      ),
    );

const overTheTop = (layers: readonly WeatheringLayer[], heightMm: number): Check[] =>
  layers
    .filter(
      (l) =>
        PLACES_AT_A_HEIGHT.includes(l.place.at) &&
        (l.place.toMm ?? 0) > heightMm + 0.5 &&
        (l.place.fromMm ?? 0) < heightMm,
    )
    .map((l) =>
      open(
        'weathering',
        `over-the-top-${l.id}`,
        `“${l.name}” reaches up to ${printNumber(l.place.toMm!, 0)}\u2009mm, but the repeat is ${printNumber(heightMm, 0)}\u2009mm high: what lies above it is not shown. A repeat of that height shows it whole.`,
      ),
    );
