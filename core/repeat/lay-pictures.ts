import type { ColourPicture, Plane } from '../raster';
import { findPart, type GreenRuns, type MapRole } from '../sample';
import { allAtDensity, frameOnMap, smallOf, type LaidPicture } from '../sources';
import {
  hashOf,
  Refusal,
  turn,
  withTurns,
  type Pending,
  type RenderContext,
  type Surface,
  namedPart,
} from '../surface';
import { applyPlacementInSteps } from './apply';
import { learnBlendSpace, type BlendSpace } from './histogram';
import type { BoardsLaid } from './boards';
import type { Cells, PlacedSource, PlacementMap } from './placement';
import type { RepeatPlan } from './plan';
import { madeReady, placedMasks, PLAIN_SPACE, type MadeReady } from './solve/masks';
import type { RepeatSource } from './solve/places';
import { normalsPerTurn, straightenedNormals } from './turned-normals';
import { laysExactly, turnsNormals } from './version';

/** Lays pictures, maps and parts of the sources over a repeat, all by one solved placement. */

/** Where everything lies, once that is solved. */
export interface Solution {
  map: PlacementMap;
  /** The picture made ready before it is laid; null: it is laid as it is, or the repeat itself is cut from copies. */
  whole: { sizeMm: { width: number; height: number }; cells: Cells } | null;
  copies: number | null;
  /** Boards of which the repeat is laid; null: it is not laid of boards. */
  boards: BoardsLaid | null;
  brokenHoldMm: number;
  /**
   * What evens out copies that meet; null: nothing does.
   * @param name of what the pictures show: the picture, or a map by its role
   */
  evened: (name: string, pictures: readonly LaidPicture[]) => Promise<ColourPicture | null>;
}

/** What the pictures of the sources show, beside the maps of a set. */
export const PICTURE = 'picture';
/** Directions are not evened out: their copies meet as they are. */
export const EVENED = (name: string) => name !== 'normal';

/** What laying a picture of every source over the repeat works with. */
export interface Laying {
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
 * @param greenRuns of normals that are to be turned with their copies
 */
export function placed(
  { ctx, plan, px, solution }: Laying,
  name: string,
  pictures: readonly LaidPicture[],
  greenRuns?: GreenRuns,
): Pending<ColourPicture> {
  const { repeatMm, laidMm } = plan;
  const exact = laysExactly(ctx);
  const turned = greenRuns ? [greenRuns] : [];
  return ctx.later(
    ['placed', name, exact, pictures.map(keyOfPicture), solution.key, px, ...turned],
    async () => {
      const solved = await solution.get();
      const { map, whole } = solved;
      const pxPerMm = { x: px.width / repeatMm.width, y: px.height / repeatMm.height };
      const dense = await allAtDensity(ctx, pictures, pxPerMm);
      await ctx.step(0.85, 'Placing the sample');
      const space = map.cells ? PLAIN_SPACE : await blendSpaceOf(ctx, pictures[0]!, laidMm);
      const evened = EVENED(name) ? await solved.evened(name, pictures) : null;
      await turn(ctx.options);
      const laid = whole ? [madeReady(dense[0]!, readyAs(plan, whole, dense[0]!), evened, exact)] : dense;
      await turn(ctx.options);
      const by = greenRuns ? normalsPerTurn(map, laid, greenRuns) : { map, sources: laid };
      const added = whole ? null : evened;
      return withTurns(
        ctx.options,
        applyPlacementInSteps(by.map, by.sources, px.width, px.height, space, added, exact),
      );
    },
  );
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
export function mapsOfSet(laying: Laying): Surface['maps'] {
  const { ctx, from } = laying;
  const roles = new Set(from.flatMap(({ source }) => source.settings.maps.map((m) => m.role)));
  return new Map(
    [...roles].map((role) => {
      const maps = from.map(({ source }) => source.settings.maps.find((m) => m.role === role));
      const turned = role === 'normal' && turnsNormals(ctx) ? ['turned'] : [];
      const pictures = from.map((f) => keyOfPicture(f));
      const key = ['map', role, maps, pictures, laying.solution.key, laying.px, ...turned];
      return [role, ctx.later(key, () => mapOfSet(laying, role))];
    }),
  );
}

async function mapOfSet(laying: Laying, role: MapRole) {
  const pictures = await laidMaps(laying, role);
  const { greenRuns } = laying.from[0]!.source.settings.maps.find((m) => m.role === role)!;
  if (role !== 'normal' || !turnsNormals(laying.ctx))
    return { picture: await placed(laying, role, pictures).get(), greenRuns };
  const straight = pictures.map((picture) => straightenedNormals(picture, greenRuns));
  return { picture: await placed(laying, role, straight, greenRuns).get(), greenRuns };
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
export async function picturesOfSet(laying: Laying): Promise<[MapRole, LaidPicture[]][]> {
  const { from } = laying;
  const has = (role: MapRole) =>
    from.every(({ source }) => source.settings.maps.some((m) => m.role === role));
  const out: [MapRole, LaidPicture[]][] = [];
  for (const { role } of from[0]!.source.settings.maps)
    if (has(role)) out.push([role, await laidMaps(laying, role)]);
  return out;
}

/** Where the parts that were found in the pictures lie in the repeat; a picture without a part has none of it. */
export function partsOf(laying: Laying): Surface['parts'] {
  const { ctx, from, plan, px, solution } = laying;
  const ids = new Set(from.flatMap(({ source }) => source.settings.preparation.parts.map((p) => p.id)));
  const asReceived = from.map(({ picture, laidMm }) => ({ picture, laidMm }));
  return new Map(
    [...ids].map((id) => {
      const parts = from.map(({ source }) => source.settings.preparation.parts.find((p) => p.id === id));
      const key = ['part', parts, asReceived.map(keyOfPicture), solution.key, px];
      const { name } = parts.find((part) => part)!;
      return [
        id,
        namedPart(
          name,
          ctx.later(key, () => partOver(parts)),
        ),
      ];
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
