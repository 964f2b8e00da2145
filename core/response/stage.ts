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
import { highestGloss, METER_ANGLES, roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import { hazeOf, readingsOf, type HazeReport } from './haze';
import { coatOver, type CoatReport } from './coat';
import type { CoatSettings, ResponseSettings } from './settings';
import {
  glossSpread,
  partsWithGloss,
  roughnessOfGlosses,
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
}

/** Turns the gloss into roughness; what came as a map of the set stands in place of the one value. */
export const responseStage: SurfaceStage<ResponseSettings, ResponseReport> = {
  name: 'response',
  version: 1,
  work: 1,

  run(ctx, settings, surface) {
    const ofMap = mapAsPlane(ctx, surface, 'roughness') ?? mapAsPlane(ctx, surface, 'gloss');
    const own = ofMap ?? variedRoughness(ctx, settings, surface);
    const roughness = surface.laid ? withJoints(ctx, settings, surface, surface.laid, own) : own;
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
    const made = surface.fields.roughness!;
    const plane = typeof made === 'number' ? made : await made.get();
    const spread =
      typeof plane === 'number' || typeof made === 'number'
        ? null
        : await ctx.known(hashOf('gloss spread', made.key, of), async () => glossSpread(plane, of));
    const haze = hazeOf(readingsOf(settings), roughness, of);
    const coat = settings.coat ? coatOver(settings.coat, roughness, of) : null;
    return {
      report: { glossGu, roughness, glossSpread: spread, haze, coat },
      checks: [
        ...(reached ? [] : [outOfReach(glossGu, roughness, of)]),
        ...takenOnTrust(settings),
        ...contradicting(haze),
        ...(settings.coat ? checkCoat(settings.coat) : []),
        ...checkParts(settings, surface, of),
        ...unusedByMap(settings, surface),
      ],
    };
  },
};

/** Roughness of a gloss that varies; undefined: it is the same everywhere. */
function variedRoughness(
  ctx: RenderContext,
  settings: ResponseSettings,
  surface: Surface,
): Pending<Plane> | undefined {
  if (!varies(settings, surface)) return undefined;
  const { colour, height } = surface.fields;
  const parts = partsWithGloss(settings, surface).map(({ part }) => surface.parts.get(part)!.key);
  const key = [
    'varied roughness',
    settings,
    colour!.key,
    height?.key ?? null,
    parts,
    surface.laid?.joint.key ?? null,
  ];
  return ctx.later(key, async () => {
    const { of } = await glossOf(ctx, settings, surface);
    const joint = surface.laid ? await surface.laid.joint.get() : null;
    return roughnessOfGlosses(await variedGloss(settings, surface, joint, of), of);
  });
}

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

/** Parts that are gone, and glosses that the material cannot have. */
function checkParts({ parts = [] }: ResponseSettings, surface: Surface, of: ReflectingSurface): Check[] {
  return parts.flatMap(({ part, glossGu }) => {
    if (!surface.parts.has(part))
      return [
        wrong(
          'response',
          `gloss-part-missing-${part}`,
          `A gloss is given for the part “${part}”, which this finish does not have, so it counts nowhere. ${
            surface.parts.size > 0
              ? `Choose one of: ${[...surface.parts.keys()].join(', ')}.`
              : 'Mark parts by colour in Sample, or lay the finish of pieces.'
          }`,
        ),
      ];
    const { roughness, reached } = roughnessOfGloss(glossGu.value, of);
    return reached
      ? []
      : [{ ...outOfReach(glossGu.value, roughness, of), code: `gloss-out-of-reach-${part}` }];
  });
}

function checkCoat({ glossGu, index }: CoatSettings): Check[] {
  const of: ReflectingSurface = { kind: 'dielectric', index: index.value };
  const { roughness, reached } = roughnessOfGloss(glossGu.value, of);
  return [
    ...(reached ? [] : [{ ...outOfReach(glossGu.value, roughness, of), code: 'coat-gloss-out-of-reach' }]),
    ...(glossGu.basis === 'assumed'
      ? [
          open(
            'response',
            'coat-gloss-assumed',
            `The gloss of the clear coat, ${printNumber(glossGu.value, 0)} GU, is assumed.`,
          ),
        ]
      : []),
  ];
}

const contradicting = (haze: HazeReport | null): Check[] =>
  haze?.contradicts
    ? [
        wrong(
          'response',
          'gloss-readings-contradict',
          `No surface of this material reads ${METER_ANGLES.filter((a) => haze.read[a] !== undefined)
            .map((a) => `${printNumber(haze.read[a]!, 1)} GU at ${a}°`)
            .join(
              ', ',
            )}; the nearest is off by ${printNumber(haze.restGu, 1)} GU. Read again, or see to the refractive index.`,
        ),
      ]
    : [];

const unusedByMap = ({ parts = [], variation = [] }: ResponseSettings, { maps }: Surface): Check[] =>
  parts.length + variation.length > 0 && (maps.has('roughness') || maps.has('gloss'))
    ? [
        open(
          'response',
          'gloss-variation-unused',
          'The set has a roughness or gloss map, which stands in place of the gloss of parts and its variation. Take the map out of the set in Sample, or remove them.',
        ),
      ]
    : [];

const takenOnTrust = ({ glossGu }: ResponseSettings): Check[] =>
  glossGu.basis === 'assumed'
    ? [open('response', 'gloss-assumed', `The gloss of ${printNumber(glossGu.value, 0)} GU is assumed.`)]
    : [];
