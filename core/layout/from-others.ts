import type { Triple } from '../colour';
import { meanSteps, seededRandom, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import { hashOf, withTurns, type LaidFrom, type Pending, type RenderContext, type Surface } from '../surface';
import type { Cover } from './cover';
import { chooseFaces, type ChosenFaces } from './faces';
import { laidPlanes, type Laying } from './sampling';
import type { LaidFinish, LayoutSettings } from './settings';
import type { SolvedLayout } from './solved';

/** Pieces and joints that are made of other finishes. */

export interface FromFinish extends LaidFrom {
  /** Lays several planes of its surface at once. */
  layAll: (planes: readonly Float32Array[], into: Float32Array[]) => Promise<void>;
}

export interface FromOthers {
  /** By the number of the kind in the blend, from 1; null: it is of the finish itself. */
  kinds: readonly (FromFinish | null)[];
  joint: FromFinish | null;
}

const OTHERS_SEED = 911;

/**
 * Other finishes that a layout takes pieces or joints from. They are made at the density of its own faces, and cut anywhere from
 * their repeat.
 */
export function fromOthers(
  ctx: RenderContext,
  settings: LayoutSettings,
  { geometry, kindOf }: SolvedLayout,
  cover: Pending<Cover>,
): FromOthers {
  const { blend, joint } = settings;
  const nearMm = (px: Cover['px']) =>
    Math.max(geometry.repeatMm.width / px.width, geometry.repeatMm.height / px.height);
  const from = (
    finish: LaidFinish | null,
    number: number,
    where: (piece: number, distanceMm: number, nearMm: number) => boolean,
  ): FromFinish | null => {
    if (!finish) return null;
    const pxPerMm = ctx.asked.facesPxPerMm!;
    const key = hashOf('from finish', finish, pxPerMm, number, settings.seed, cover.key);
    const surface = ctx.later(['surface of another finish', finish, pxPerMm], () =>
      surfaceOf(ctx, finish, pxPerMm),
    );
    const layAll: FromFinish['layAll'] = async (planes, into) => {
      const laying = layingOf(settings, geometry, await cover.get(), await surface.get(), number);
      const near = nearMm(laying.cover.px);
      const over = { into, where: (piece: number, distanceMm: number) => where(piece, distanceMm, near) };
      await withTurns(ctx.options, laidPlanes(laying, planes, over));
    };
    return { key, surface, layAll, layOver: (plane, into) => layAll([plane.data], [into.data]) };
  };
  return {
    kinds: blend.others.map(({ finish }, k) =>
      from(finish, k + 1, (piece, distance, near) => kindOf[piece] === k + 1 && distance >= -near),
    ),
    joint: from(joint.finish, blend.others.length + 1, (_, distance, near) => distance <= near),
  };
}

function surfaceOf(ctx: RenderContext, finish: LaidFinish, pxPerMm: number): Promise<Surface> {
  const { surfaceOf } = ctx.options;
  if (!surfaceOf) throw new Error('Nothing is known here of other finishes.');
  return surfaceOf(finish, pxPerMm);
}

function layingOf(
  settings: LayoutSettings,
  geometry: SolvedLayout['geometry'],
  cover: Cover,
  { sizeMm, px }: Surface,
  number: number,
): Laying {
  const areas = [{ left: 0, bottom: 0, ...sizeMm, closed: true }];
  const { halfTurn, mirror } = settings.faces;
  const random = seededRandom(settings.seed + OTHERS_SEED * number);
  const { faces }: ChosenFaces = chooseFaces(
    geometry,
    areas,
    { ...settings.faces, grainDeg: 0, halfTurn, mirror },
    random,
  );
  return { geometry, cover, faces, areas, continuations: [], from: { sizeMm, px } };
}

/** Mean of a picture, linear light. */
export function* meanColourSteps({ r, g, b }: ColourPicture): Steps<Triple> {
  return [yield* meanSteps(r), yield* meanSteps(g), yield* meanSteps(b)];
}

/** What joints are made of, laid over all joints; null: a plain colour. */
export async function jointPlanes(joint: FromFinish | null, count: number): Promise<ColourPlanes | null> {
  if (!joint) return null;
  const { r, g, b } = await (await joint.surface.get()).fields.colour!.get();
  const planes: ColourPlanes = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  await joint.layAll([r, g, b], planes);
  return planes;
}
export type ColourPlanes = [Float32Array, Float32Array, Float32Array];

/** Height of what joints are made of about its mean, mm, laid over all joints; null: they have a plain grain. */
export async function jointHeight(joint: FromFinish | null, count: number): Promise<Float32Array | null> {
  if (!joint) return null;
  const height = await (await joint.surface.get()).fields.height!.get();
  const middle = atOnce(meanSteps(height.data));
  const into = new Float32Array(count);
  await joint.layAll([height.data.map((v) => v - middle)], [into]);
  return into;
}
