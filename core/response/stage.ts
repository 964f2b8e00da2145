import { readColour } from '../colour';
import type { Plane } from '../raster';
import type { MapRole } from '../sample';
import {
  hashOf,
  open,
  withFields,
  wrong,
  type Check,
  type LaidFrom,
  type LaidSurface,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { printNumber } from '../units';
import { highestGloss, roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import type { ResponseSettings } from './settings';

/** What the response stage came to. */
export interface ResponseReport {
  glossGu: number;
  /** glTF roughness that reads the asked gloss. */
  roughness: number;
}

/** Turns the gloss into roughness; what came as a map of the set stands in place of the one value. */
export const responseStage: SurfaceStage<ResponseSettings, ResponseReport> = {
  name: 'response',
  version: 1,
  work: 1,

  run(ctx, settings, surface) {
    const ofMap = mapAsPlane(ctx, surface, 'roughness') ?? mapAsPlane(ctx, surface, 'gloss');
    const roughness = surface.laid ? withJoints(ctx, settings, surface, surface.laid, ofMap) : ofMap;
    return withFields(surface, {
      gloss: settings.glossGu.value,
      roughness: roughness ?? {
        key: hashOf('even roughness', settings, surface.fields.colour!.key),
        get: async () => (await glossOf(ctx, settings, surface)).roughness,
      },
      metalness: withMetalOfOthers(
        ctx,
        surface,
        mapAsPlane(ctx, surface, 'metalness') ?? (settings.base.kind === 'metal' ? 1 : 0),
      ),
      opacity: mapAsPlane(ctx, surface, 'opacity') ?? 1,
    });
  },

  async report(ctx, settings, surface) {
    const { roughness, reached, of } = await glossOf(ctx, settings, surface);
    const glossGu = settings.glossGu.value;
    return {
      report: { glossGu, roughness },
      checks: [...(reached ? [] : [outOfReach(glossGu, roughness, of)]), ...takenOnTrust(settings)],
    };
  },
};

/** Roughness of the faces, and between them that of the joints. */
function withJoints(
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
    const mortar = roughnessOfGloss(jointGlossGu, { kind: 'dielectric', index: MORTAR_INDEX }).roughness;
    const between = planeOf(mortar, weight);
    if (jointFrom) await layField(jointFrom, 'roughness', between);
    const data = weight.data.map((w, i) => w * between.data[i]! + (1 - w) * faces.data[i]!);
    return { ...weight, data };
  });
}

/** A plane of its own, of the shape of another one. */
const planeOf = (value: number | Plane, { widthPx, heightPx, data }: Plane): Plane => ({
  widthPx,
  heightPx,
  data: typeof value === 'number' ? new Float32Array(data.length).fill(value) : value.data.slice(),
});

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
function withMetalOfOthers(
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

/** Refractive index of mortar and grout, as of most minerals. */
const MORTAR_INDEX = 1.5;

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

/** The roughness that reads the asked gloss, and what it was worked out for. */
async function glossOf(ctx: RenderContext, { base, glossGu }: ResponseSettings, { fields }: Surface) {
  const of: ReflectingSurface =
    base.kind === 'metal'
      ? { kind: 'metal', f0: Math.min(1, (await meanLrv(ctx, fields.colour!)) / 100) }
      : { kind: 'dielectric', index: base.index.value };
  return { ...roughnessOfGloss(glossGu.value, of), of };
}

const meanLrv = (ctx: RenderContext, colour: NonNullable<Surface['fields']['colour']>) =>
  ctx.known(hashOf('lrv', colour.key), async () => readColour(await colour.get()).lrv);

function outOfReach(glossGu: number, roughness: number, of: ReflectingSurface): Check {
  const asked = printNumber(glossGu, 0);
  const material = of.kind === 'metal' ? 'this reflectance' : `index ${printNumber(of.index, 3)}`;
  return wrong(
    'response',
    'gloss-out-of-reach',
    roughness === 0
      ? `${asked} GU cannot be reached: a perfect mirror of ${material} has ${printNumber(highestGloss(of), 0)} GU.`
      : `${asked} GU is below the most matt surface this material can have.`,
  );
}

const takenOnTrust = ({ glossGu }: ResponseSettings): Check[] =>
  glossGu.basis === 'assumed'
    ? [open('response', 'gloss-assumed', `The gloss of ${printNumber(glossGu.value, 0)} GU is assumed.`)]
    : [];
