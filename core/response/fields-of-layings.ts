import type { Plane } from '../raster';
import { spans, type Steps } from '../steps';
import {
  withTurns,
  type LaidFrom,
  type LaidSurface,
  type Pending,
  type RenderContext,
  type Surface,
} from '../surface';
import { ofMetal } from './fields-of-metals';
import { glossOf, planeOf } from './gloss-asked';
import { roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import { metalPartsOn } from './metals';
import type { ResponseSettings } from './settings';

/** Roughness and metalness of a laying: of its faces, its joints, and the pieces of other finishes in it. */

/** Mortar and grout have the refractive index of most minerals. */
const MORTAR: ReflectingSurface = { kind: 'dielectric', index: 1.5 };

/** Roughness of the faces, and between them that of the joints. */
export function withJoints(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
  { joint, jointGlossGu, others, jointFrom }: LaidSurface,
  ofMap: Pending<Plane> | undefined,
): Pending<Plane> {
  const key = ['roughness with joints', settings, joint.key, jointGlossGu, ofMap?.key ?? null];
  const made = [others.map((other) => other.key), jointFrom?.key ?? null];
  return ctx.later([...key, made, surface.fields.colour!.key], async () => {
    const weight = await joint.get();
    const own = ofMap ? await ofMap.get() : (await glossOf(ctx, settings, surface)).roughness;
    const faces = planeOf(own, weight);
    for (const other of others) await layField(other, 'roughness', faces);
    const metal = ofMetal(metalPartsOn(settings, surface).find(({ part }) => part === 'joint')?.colour);
    const mortar = roughnessOfGloss(jointGlossGu, metal ?? MORTAR).roughness;
    const between = planeOf(mortar, weight);
    if (jointFrom) await layField(jointFrom, 'roughness', between);
    return withTurns(ctx.options, mixed(weight, between.data, faces.data));
  });
}

/** One plane where a weight is 1, another where it is 0. */
function* mixed(weight: Plane, one: Float32Array, other: Float32Array): Steps<Plane> {
  const shares = weight.data;
  const data = new Float32Array(shares.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++) data[i] = shares[i]! * one[i]! + (1 - shares[i]!) * other[i]!;
  }
  return { ...weight, data };
}

/** Lays what another finish has over its places. */
async function layField(
  { surface, layOver }: LaidFrom,
  name: 'roughness' | 'metalness',
  into: Plane,
): Promise<void> {
  const { fields, px } = await surface.get();
  const field = fields[name]!;
  const value = typeof field === 'number' ? field : await field.get();
  const shape = { widthPx: px.width, heightPx: px.height, data: new Float32Array(px.width * px.height) };
  await layOver(typeof value === 'number' ? planeOf(value, shape) : value, into);
}

/** Metalness with that of pieces and joints of other finishes. */
export function withMetalOfOthers(
  ctx: RenderContext,
  { laid, px }: Surface,
  own: number | Pending<Plane>,
): number | Pending<Plane> {
  const others = laid ? [...laid.others, ...(laid.jointFrom ? [laid.jointFrom] : [])] : [];
  if (others.length === 0) return own;
  const key = ['metalness with others', typeof own === 'number' ? own : own.key, others.map((o) => o.key)];
  return ctx.later([...key, px], async () => {
    const shape = { widthPx: px.width, heightPx: px.height, data: new Float32Array(px.width * px.height) };
    const plane = planeOf(typeof own === 'number' ? own : await own.get(), shape);
    for (const other of others) await layField(other, 'metalness', plane);
    return plane;
  });
}
