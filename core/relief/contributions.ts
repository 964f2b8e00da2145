import type { ColourPicture, Plane } from '../raster';
import { mmPerPxOf, Refusal, type Pending, type RenderContext, type Surface, withTurns } from '../surface';
import { withoutAlbedoSteps, type WithoutAlbedo } from './albedo';
import { generatedReliefSteps } from './generated';
import {
  bandsOfPictureSteps,
  bandsOfPlaneSteps,
  heightOfBandsSteps,
  summedBandsSteps,
  type Bands,
} from './height';
import { heightOfNormals } from './integrate';
import { piecesOfRepeatSteps, reliefOfJointsSteps, type PiecesOfRepeat } from './joints';
import { boundedSlopesSteps } from './octaves';
import { reliefOfPartSteps } from './parts';
import { profileReliefSteps } from './profile';
import type { BandedContribution, JointsContribution, ReliefContribution } from './settings';

/** How each kind of contribution becomes a height, mm about the middle of its depth. */

/**
 * Height by one contribution alone. A part that it is made of must be one of the surface.
 * @param used all contributions that count: joints of one tell what is colour to another
 */
export function heightOfContribution(
  ctx: RenderContext,
  used: readonly ReliefContribution[],
  c: ReliefContribution,
  surface: Surface,
): Pending<Plane> {
  const { px, sizeMm } = surface;
  switch (c.kind) {
    case 'joints':
      return heightOfJoints(ctx, c, surface);
    case 'generated': {
      return ctx.later(['generated', shapeOf(c), c.depthMm.value, sizeMm, px], () =>
        withTurns(ctx.options, generatedReliefSteps(c, sizeMm, px)),
      );
    }
    case 'profile':
      return ctx.later(['profile', shapeOf(c), c.depthMm.value, sizeMm, px], async () =>
        withTurns(ctx.options, profileReliefSteps(c, sizeMm, px)),
      );
    case 'part': {
      const { part, raised, edgeMm, depthMm } = c;
      const weight = surface.parts.get(part)!;
      return ctx.later(['relief of part', weight.key, raised, edgeMm, depthMm.value, px], async () =>
        withTurns(
          ctx.options,
          reliefOfPartSteps(await weight.get(), mmPerPxOf(surface), {
            depthMm: depthMm.value,
            raised,
            edgeMm,
          }),
        ),
      );
    }
    default:
      return heightOfBanded(ctx, used, c, surface);
  }
}

/** Pieces of the picture by the joints of a contribution. */
export function piecesBy(
  ctx: RenderContext,
  joints: JointsContribution,
  surface: Surface,
): Pending<PiecesOfRepeat> {
  const { look, widestMm, smoothShare } = joints;
  const picture = surface.fields.picture!;
  return ctx.later(
    ['pieces', picture.key, look, widestMm, ...(smoothShare ? [smoothShare] : [])],
    async () => {
      const shown = await picture.get();
      await ctx.step(0.05, 'Segmenting pieces');
      return withTurns(ctx.options, piecesOfRepeatSteps(shown, mmPerPxOf(surface), joints));
    },
  );
}

function heightOfJoints(ctx: RenderContext, joints: JointsContribution, surface: Surface): Pending<Plane> {
  const pieces = piecesBy(ctx, joints, surface);
  const { edgeMm, depthMm } = joints;
  const { width: widthPx, height: heightPx } = surface.px;
  return ctx.later(['joints', pieces.key, edgeMm, depthMm.value], async () =>
    withTurns(
      ctx.options,
      reliefOfJointsSteps(await pieces.get(), { widthPx, heightPx }, { edgeMm, depthMm: depthMm.value }),
    ),
  );
}

/** Lightness of the picture less what is colour; pieces are those of the first contribution that knows joints. */
export function lightnessAlone(
  ctx: RenderContext,
  contributions: readonly ReliefContribution[],
  surface: Surface,
): Pending<WithoutAlbedo> {
  const joints = contributions.find((c) => c.kind === 'joints');
  const pieces = joints ? piecesBy(ctx, joints, surface) : null;
  const picture = surface.fields.picture!;
  return ctx.later(['without albedo', picture.key, pieces?.key ?? null], async () =>
    withTurns(ctx.options, withoutAlbedoSteps(await picture.get(), pieces && (await pieces.get()))),
  );
}

/** How much of the contrast is left without colours. */
export const sharesLeft = (ctx: RenderContext, alone: Pending<WithoutAlbedo>) =>
  ctx.excerpt(alone, 'left without albedo', ({ left, leftWithin }) => ({ left, leftWithin })).get();

/** Height by one contribution in bands, mm about the middle of its depth. */
function heightOfBanded(
  ctx: RenderContext,
  used: readonly ReliefContribution[],
  contribution: BandedContribution,
  surface: Surface,
): Pending<Plane> {
  const mm = mmPerPxOf(surface);
  const { kind, depthMm } = contribution;
  const shape = shapeOf(contribution);
  const { broadFromMm, fineBelowMm, broad, middle, fine, smoothMm } = shape;
  const alone = kind === 'picture' && contribution.colourOut ? lightnessAlone(ctx, used, surface) : null;
  const from =
    kind === 'map' || kind === 'measured'
      ? heightMapOf(surface, kind)
      : { key: alone?.key ?? surface.fields.picture!.key, role: 'picture' as const };
  const bands = ctx.later(
    ['bands', from.key, from.role, broadFromMm, fineBelowMm],
    async (): Promise<Bands> => {
      if (from.role === 'picture' && !alone)
        return withTurns(ctx.options, bandsOfPictureSteps(await surface.fields.picture!.get(), mm, shape));
      const plane = alone ? (await alone.get()).lightness : await planeOfMap(from as HeightMap, mm);
      return withTurns(ctx.options, bandsOfPlaneSteps(plane, mm, shape));
    },
  );
  const summed = ctx.later(['summed bands', bands.key, broad, middle, fine, smoothMm], async () =>
    withTurns(ctx.options, summedBandsSteps(await bands.get(), mm, shape)),
  );
  const how = kind === 'measured' ? ['absolute'] : [];
  return ctx.later(['relief', bands.key, shape, depthMm.value, ...how], async () => {
    // The depth is that of the whole contrast of the picture.
    const left = alone ? (await sharesLeft(ctx, alone)).left : 1;
    const asked = { ...shape, depthMm: left * depthMm.value, absolute: kind === 'measured' };
    const relief = await withTurns(ctx.options, heightOfBandsSteps(await summed.get(), asked));
    return withTurns(ctx.options, boundedSlopesSteps(relief, mm, shape.steepestDeg ?? 90));
  });
}

/** What says nothing of the shape of a contribution: its name, its depth, and how it meets the others. */
const NOT_SHAPE = ['kind', 'id', 'name', 'depthMm', 'off', 'combine', 'mask', 'lightSetId'] as const;

/** What of a contribution its height depends on besides its kind and depth. */
const shapeOf = <C extends ReliefContribution>(c: C) =>
  Object.fromEntries(
    Object.entries(c).filter(([key]) => !(NOT_SHAPE as readonly string[]).includes(key)),
  ) as Omit<C, (typeof NOT_SHAPE)[number]>;

/** The map of the set that height is taken from. @throws Refusal when there is none */
function heightMapOf({ maps }: Surface, kind: 'map' | 'measured') {
  for (const role of kind === 'map' ? (['height', 'normal'] as const) : (['height'] as const)) {
    const map = maps.get(role);
    if (map) return { ...map, role };
  }
  throw kind === 'map'
    ? new Refusal(
        'no-height-map',
        'The relief is to come from a map, but the set holds neither a height nor a normal map. Take it from the picture, or bring the map in.',
        'relief.contributions',
      )
    : new Refusal(
        'no-measured-height',
        'The relief is to be the measured one, but the picture has no measured height. Measure it from a light set, or take the contribution out.',
        'relief.contributions',
      );
}

type HeightMap = ReturnType<typeof heightMapOf>;

/** Heights of a map, or those whose normals it holds. */
async function planeOfMap(map: HeightMap, mm: { x: number; y: number }): Promise<Plane> {
  const { picture, greenRuns } = await map.get();
  return map.role === 'normal' ? heightOfNormals(picture, mm, greenRuns) : planeOf(picture);
}

/** A map as one plane: its green channel. */
const planeOf = ({ widthPx, heightPx, g }: ColourPicture): Plane => ({ widthPx, heightPx, data: g });
