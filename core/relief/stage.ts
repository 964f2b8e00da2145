import {
  hashOf,
  mmPerPxOf,
  open,
  Refusal,
  withFields,
  wrong,
  type Check,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { makePlane, type ColourPicture, type Plane } from '../raster';
import { printNumber } from '../units';
import {
  bandsOfPicture,
  bandsOfPlane,
  reliefFromBands,
  withZero,
  type Bands,
  type HeightField,
} from './height';
import { heightOfNormals } from './integrate';
import { normalsOfHeight, slopes } from './normal';
import { occlusionOfHeight } from './occlusion';
import { depthOf, type ReliefContribution, type ReliefSettings } from './settings';

/** What the relief stage came to. */
export interface ReliefReport {
  heightMm: { min: number; max: number; zero: number };
  slopeDeg: { mean: number; p99: number };
}

/** Composes the height of contributions, and derives normals and occlusion from it. */
export const reliefStage: SurfaceStage<ReliefSettings, ReliefReport> = {
  name: 'relief',
  version: 1,
  work: 6,

  run(ctx, settings, surface) {
    const mm = mmPerPxOf(surface);
    const height = heightOf(ctx, settings, surface);
    const normal = ctx.later(['normal', height.key], async () => {
      const h = await height.get();
      await ctx.step(0.4, 'Deriving normals');
      return normalsOfHeight(h, mm);
    });
    const occlusion = ctx.later(['occlusion', height.key], async () => {
      const [h, n] = [await height.get(), await normal.get()];
      await ctx.step(0.5, 'Deriving occlusion');
      return occlusionOfHeight(h, n, mm, occlusionRadiusMm(settings, mm));
    });
    return withFields(surface, { height, normal, occlusion });
  },

  async report(ctx, settings, { fields }) {
    const { minMm, maxMm } = await fields.height!.get();
    const slope = await ctx.known(hashOf('slopes', fields.normal!.key), async () =>
      slopes(await fields.normal!.get()),
    );
    const report: ReliefReport = {
      heightMm: { min: minMm, max: maxMm, zero: 0 },
      slopeDeg: { mean: slope.meanDeg, p99: slope.p99Deg },
    };
    return { report, checks: checkRelief(settings, report) };
  },
};

/** Beyond six times the depth a rise stands below 10° and takes next to no light. */
function occlusionRadiusMm(settings: ReliefSettings, mm: { x: number; y: number }): number {
  return Math.max(6 * depthOf(settings), 2 * Math.max(mm.x, mm.y));
}

function heightOf(
  ctx: RenderContext,
  { contributions, zero }: ReliefSettings,
  surface: Surface,
): Pending<HeightField> {
  const parts = contributions.map((contribution) => heightFrom(ctx, contribution, surface));
  const keys = parts.map((part) => part.key);
  return ctx.later(['height', keys, zero, surface.px], async () => {
    await ctx.step(0, 'Reading the relief');
    const sum = makePlane(surface.px.width, surface.px.height);
    for (const part of parts) {
      const { data } = await part.get();
      for (let i = 0; i < data.length; i++) sum.data[i]! += data[i]!;
    }
    return withZero(sum, zero);
  });
}

/** Height by one contribution alone, mm about the middle of its depth. */
function heightFrom(ctx: RenderContext, contribution: ReliefContribution, surface: Surface): Pending<Plane> {
  const mm = mmPerPxOf(surface);
  const { kind, id: _, name: __, depthMm, ...shape } = contribution;
  const { broadFromMm, fineBelowMm } = shape;
  const from =
    kind === 'map' ? heightMapOf(surface) : { key: surface.fields.picture!.key, role: 'picture' as const };
  const bands = ctx.later(
    ['bands', from.key, from.role, broadFromMm, fineBelowMm],
    async (): Promise<Bands> => {
      if (from.role === 'picture') return bandsOfPicture(await surface.fields.picture!.get(), mm, shape);
      const { picture, greenRuns } = await from.get();
      const plane = from.role === 'normal' ? heightOfNormals(picture, mm, greenRuns) : planeOf(picture);
      return bandsOfPlane(plane, mm, shape);
    },
  );
  return ctx.later(['relief', bands.key, shape, depthMm.value], async () =>
    reliefFromBands(await bands.get(), mm, { ...shape, depthMm: depthMm.value }),
  );
}

/** The map of the set that height is taken from. @throws Refusal when there is none */
function heightMapOf({ maps }: Surface) {
  for (const role of ['height', 'normal'] as const) {
    const map = maps.get(role);
    if (map) return { ...map, role };
  }
  throw new Refusal(
    'no-height-map',
    'The relief is to come from a map, but the set holds neither a height nor a normal map. Take it from the picture, or bring the map in.',
    'relief.contributions',
  );
}

/** A map as one plane: its green channel. */
const planeOf = ({ widthPx, heightPx, g }: ColourPicture): Plane => ({ widthPx, heightPx, data: g });

/** One in a hundred pixels may be so steep, degrees. */
const STEEP_DEG = 60;

function checkRelief({ contributions }: ReliefSettings, { slopeDeg }: ReliefReport): Check[] {
  const checks: Check[] = [];
  if (slopeDeg.p99 > STEEP_DEG)
    checks.push(
      wrong(
        'relief',
        'too-steep',
        `The relief is very steep: 1 % of it stands at more than ${printNumber(slopeDeg.p99, 0)}°. Lower its depth or its fine detail.`,
      ),
    );
  const assumed = contributions.find((c) => c.depthMm.basis === 'assumed');
  if (assumed)
    checks.push(
      open(
        'relief',
        'depth-assumed',
        `The relief depth of ${printNumber(assumed.depthMm.value, 2)}\u2009mm is assumed.`,
      ),
    );
  return checks;
}
