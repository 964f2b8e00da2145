import { matchedAlone, type ColourReport } from '../light';
import { extent, type ColourPicture } from '../raster';
import { solveLayoutInTurns, type LayoutReport } from '../layout';
import { occlusionOfRest, occlusionRadiusMm, sharedRelief, type ReliefReport } from '../relief';
import {
  encodeKept,
  keptRepeat,
  type PlacedRepeat,
  type RepeatedSurface,
  type RepeatReport,
} from '../repeat';
import type { ResponseReport } from '../response';
import {
  byWeight,
  checkpoint,
  type Budget,
  mmPerPxOf,
  refusing,
  withFields,
  type RenderContext,
  type Check,
  type ContextOptions,
  type Cost,
  type LaidSurface,
  type Pending,
  type Pictures,
  type Surface,
} from '../surface';
import type { WeatheringReport } from '../weathering';
import { contextOf } from './context';
import { checkMeasuredSize } from './measured-recipe';
import { MAPS, mapsOf, type MapName, type RenderedMaps } from './maps';
import type { Recipe } from './recipe';
import { FINISH } from './stages';

/** What a rendered finish measures, and what of it does not hold, the weightiest first. */
export interface RenderReport
  extends
    RepeatReport,
    ColourReport,
    LayoutReport,
    ReliefReport,
    Omit<WeatheringReport, 'heightMm' | 'slopeDeg'>,
    ResponseReport {
  checks: Check[];
}

export interface RenderOptions<M extends MapName = MapName, R extends M = M> extends Omit<
  ContextOptions,
  'onEarly'
> {
  /** Width of the repeat in pixels; the height follows from its proportions. */
  widthPx: number;
  /** The maps that are computed; default: those the finish is handed over as. */
  maps?: readonly M[];
  /** A colourway of the finish; default: the finish itself. */
  way?: string | null;
  /** Kind of finish, by which figures are found unlikely. */
  category?: string;
  /**
   * Shares the relief between mesh and normals at this wavelength, mm: the height is what a mesh is displaced by, normals and
   * occlusion hold the rest. Default: height and normals each hold all of it.
   */
  splitMm?: number | null;
  /** Those of them that are returned; default: all. A large map that is not is let go once `onMap` has had it. */
  returned?: readonly R[];
  /** Called with each map as soon as it is computed. */
  onMap?: (name: M, map: RenderedMaps[M], px: { width: number; height: number }) => void;
  /** Called while a placement is being solved, with the colour as it would be so far. */
  onEarly?: (early: { colour: ColourPicture; repeatMm: { width: number; height: number } }) => void;
}

/** Maps of a finish. */
export interface RenderedFinish<M extends MapName = MapName, Report = RenderReport> {
  widthPx: number;
  heightPx: number;
  maps: Pick<RenderedMaps, M>;
  report: Report;
  placed: PlacedRepeat;
  /** Of a finish that is laid of pieces: which piece lies where, and where its face was taken from; null: it is not. */
  laid: LaidPieces | null;
  /** What had to be solved for it, to be looked up another time: see `solvedBefore`; null: nothing had to be. */
  solved: Solved | null;
}

/** What was solved: the key of all it depends on, and the bytes to keep under it. */
export interface Solved {
  key: string;
  bytes: () => Promise<Uint8Array>;
}

const solvedOf = (surface: RepeatedSurface): Solved | null =>
  surface.keptAs === null
    ? null
    : {
        key: surface.keptAs,
        bytes: async () => encodeKept((await keptRepeat(surface, surface.keptAs!))!),
      };

export interface LaidPieces {
  /** Number of the piece at every pixel of the maps; −1 in joints. */
  pieces: Pending<Int32Array | null>;
  origin: LaidSurface['origin'];
  /** Size of the surface that faces were cut from. */
  facesMm: { width: number; height: number };
}

/**
 * Computes maps of a finish from its recipe, with all that it measures and everything that does not hold.
 *
 * @param recipe a valid recipe
 * @param pictures those that it names
 * @throws Stopped when the signal asks; Refusal when a person has to change something first
 */
export async function renderFinish<M extends MapName = MapName, R extends M = M>(
  recipe: Recipe,
  pictures: Pictures,
  options: RenderOptions<M, R>,
): Promise<RenderedFinish<R>> {
  const { report, checks, ...finish } = await rendered(recipe, pictures, options);
  return { ...finish, report: { ...report, ...report.recoloured, checks: byWeight(checks) } as RenderReport };
}

/**
 * What drawing a draft may cost: more would keep a person waiting for many minutes, or end the tab that draws it. Times are
 * estimated as if nothing were known already, and on the safe side, so most drafts take a fraction.
 */
export const DRAFT_BUDGET: Budget = { seconds: 1800, bytes: 2e9 };

/**
 * What computing all maps of a finish costs, estimated from its settings: nothing is computed for it but geometry, and the tone of
 * pictures that are joined or calibrated by a card. What is known already costs less, and so do fewer maps.
 * @param pictures those that it names
 * @throws Refusal when a person has to change something first
 */
export async function estimateCost(
  recipe: Recipe,
  pictures: Pictures,
  {
    widthPx,
    versions,
    kept,
    ...options
  }: Pick<RenderOptions, 'widthPx' | 'signal' | 'pause' | 'versions' | 'kept'>,
): Promise<{ seconds: number; bytes: number; costs: readonly Cost[] }> {
  await solveLayoutOf(recipe, options);
  const costs = await FINISH.costs(
    contextOf(
      recipe,
      pictures,
      { widthPx, way: null, category: null },
      { ...(versions ? { versions } : {}), ...(kept ? { kept } : {}) },
    ),
    recipe,
  );
  const sum = (of: 'seconds' | 'bytes') => costs.reduce((all, cost) => all + cost[of], 0);
  return { seconds: sum('seconds'), bytes: sum('bytes'), costs };
}

/**
 * Computes maps of a finish, and of what it measures only what some stages report.
 * @param reports names of these stages; default: none
 */
export async function renderMaps<M extends MapName>(
  recipe: Recipe,
  pictures: Pictures,
  options: RenderOptions<M>,
  reports: readonly string[] = [],
): Promise<RenderedFinish<M, Partial<RenderReport>>> {
  const { checks, report, ...finish } = await rendered(recipe, pictures, options, new Set(reports));
  return { ...finish, report: { ...report, ...report.recoloured, checks: byWeight(checks) } };
}

/** Lets go of the fields that no map reads which is still to come: normals are for their map and for occlusion alone. */
function letGoRead({ fields: { normal, occlusion } }: Surface, toCome: readonly MapName[]): void {
  if (toCome.includes('occlusion')) return;
  occlusion?.letGo?.();
  if (!toCome.includes('normal')) normal?.letGo?.();
}

/** The surface with its relief shared between what a mesh is displaced by, and normals and occlusion. */
function withSharedRelief(
  ctx: RenderContext,
  surface: Surface,
  splitMm: number,
  occlusionMm: number | undefined,
): Surface {
  const mm = mmPerPxOf(surface);
  const height = surface.fields.height!;
  const shared = ctx.later(['shared relief', height.key, splitMm], async () =>
    sharedRelief(await height.get(), mm, splitMm),
  );
  return withFields(surface, {
    height: ctx.later(['mesh', shared.key], async () => (await shared.get()).mesh),
    normal: ctx.later(['normals on the mesh', shared.key], async () => (await shared.get()).normal),
    occlusion: ctx.later(['occlusion of the rest', shared.key, occlusionMm], async () => {
      const parts = await shared.get();
      const { min, max } = extent(parts.rest.data);
      await ctx.step(0.5, 'Deriving occlusion');
      return occlusionOfRest(parts, mm, occlusionMm ?? occlusionRadiusMm(max - min, mm));
    }),
  });
}

/** Solves the layout of a recipe, which may take seconds, before stages ask for it. @throws Refusal, Stopped */
const solveLayoutOf = async ({ layout }: Recipe, options: Pick<ContextOptions, 'pause' | 'signal'>) =>
  layout && refusing('layout', 'layout', () => solveLayoutInTurns(layout, () => checkpoint(options)));

const laidPieces = ({ laid, pieces }: Surface): LaidPieces | null =>
  laid ? { pieces, origin: laid.origin, facesMm: laid.faces.sizeMm } : null;

async function rendered<M extends MapName, R extends M>(
  recipe: Recipe,
  pictures: Pictures,
  { widthPx, maps, returned, way = null, category, onEarly, onMap, splitMm, ...options }: RenderOptions<M, R>,
  reports?: ReadonlySet<string>,
) {
  const names = maps ?? (mapsOf(recipe) as M[]);
  await solveLayoutOf(recipe, options);
  const ctx = contextOf(
    recipe,
    pictures,
    { widthPx, way, category: category ?? null },
    {
      ...options,
      // Of a finish that is laid of pieces, what is composed is only what they are cut from.
      ...(onEarly && !recipe.layout
        ? {
            onEarly: ({ picture, repeatMm }) =>
              onEarly({ colour: matchedAlone(picture, recipe.colour), repeatMm }),
          }
        : {}),
    },
  );
  const { wanted, report, checks } = await FINISH.run(
    ctx,
    recipe,
    async (surface) => {
      const computed: Partial<RenderedMaps> = {};
      const { sources, plan, px } = surface;
      const shared = splitMm ? withSharedRelief(ctx, surface, splitMm, recipe.relief.occlusionMm) : surface;
      for (const [k, name] of names.entries()) {
        const map = (await MAPS[name].compute(shared)) as RenderedMaps[M];
        if (!returned || (returned as readonly M[]).includes(name)) Object.assign(computed, { [name]: map });
        onMap?.(name, map, px);
        if (returned) letGoRead(shared, names.slice(k + 1));
      }
      const { map } = await surface.solution.get();
      return {
        widthPx: px.width,
        heightPx: px.height,
        maps: computed as Pick<RenderedMaps, R>,
        placed: { map, sources, courses: plan.courses },
        laid: laidPieces(surface),
        solved: solvedOf(surface),
      };
    },
    reports,
  );
  await ctx.step(1, 'Done');
  const [first] = wanted.placed.sources;
  const ofSize = first ? checkMeasuredSize(recipe, first.source.info, first.source.size.pxPerMm.x) : [];
  return { ...wanted, report, checks: [...checks, ...ofSize] };
}
