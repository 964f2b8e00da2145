import { z } from 'zod';
import { laidFinishSchema, type LaidFinish } from '../layout/settings';
import { colourFigureSchema } from '../light/settings';
import { figureSchema } from '../units';

/** What happened to a finish after it was laid, layer by layer, in the order it happened. */

/** Where a layer lies. */
export const PLACES = [
  'everywhere',
  'hollows',
  'arrises',
  'faces',
  'ledges',
  'run-off',
  'foot',
  'top',
  'hand',
  'path',
  'part',
] as const;
export type Place = (typeof PLACES)[number];

/** Places at a height above the floor: what lies there does not repeat upwards. */
export const PLACES_AT_A_HEIGHT: readonly Place[] = ['foot', 'top', 'hand'];
/** Places between two distances: from the floor, or of a path from the left edge of the repeat. */
export const PLACES_BETWEEN: readonly Place[] = [...PLACES_AT_A_HEIGHT, 'path'];

const placeSchema = z
  .object({
    at: z
      .enum(PLACES)
      .describe(
        'hollows, arrises, faces: by the relief; ledges: what faces upwards on a wall; run-off: where water runs down a wall; foot, top, hand: at a height above the floor; path: where people walk, along the height of the repeat; part: a part of the finish',
      ),
    part: z.string().min(1).max(60).optional().describe('Id of the part'),
    reachMm: z
      .number()
      .min(0.02, 'At least 0.02 mm.')
      .max(2000, 'At most 2 m.')
      .describe('What counts as surroundings of hollows and arrises, mm'),
    fromMm: z
      .number()
      .min(0)
      .max(20000)
      .optional()
      .describe('Height above the floor, or distance of a path from the left edge, from which it lies, mm'),
    toMm: z
      .number()
      .min(0)
      .max(20000)
      .optional()
      .describe('Height above the floor, or distance from the left edge, up to which it lies, mm'),
  })
  .superRefine(({ at, part, fromMm, toMm }, context) => {
    const issue = (path: string, message: string) =>
      context.addIssue({ code: 'custom', path: [path], message });
    if (at === 'part' && !part) issue('part', 'Name the part that the layer is kept to.');
    if (!PLACES_BETWEEN.includes(at)) return;
    const path = at === 'path';
    if (fromMm === undefined || toMm === undefined)
      issue('toMm', `Give the ${path ? 'distances' : 'heights'} that it lies between.`);
    else if (toMm <= fromMm)
      issue('toMm', `The ${path ? 'far side' : 'upper height'} must be above ${fromMm} mm.`);
  })
  .describe('Where the layer lies');
export type LayerPlace = z.infer<typeof placeSchema>;

const common = {
  id: z.string().min(1).max(60).describe('Name of the layer within the recipe'),
  name: z.string().min(1, 'Give the layer a name.').max(80).describe('Name, for people'),
  off: z.boolean().optional().describe('Kept, but left out'),
  place: placeSchema,
  coverPercent: z
    .number()
    .min(0, 'A share is between 0 and 100 %.')
    .max(100, 'A share is between 0 and 100 %.')
    .describe('Share of its place that it covers, percent'),
  scaleMm: z
    .number()
    .min(0.1, 'Patches are between 0.1 mm and 5 m.')
    .max(5000, 'Patches are between 0.1 mm and 5 m.')
    .describe('From one patch to the next, mm'),
  soft: z.number().min(0).max(1).describe('How softly it ends: 0 sharp, 1 gradual'),
  seed: z.number().int().min(0).max(999999).describe('Number of this particular one'),
};

const degree = (what: string) =>
  z
    .number()
    .int(`${what}: a whole degree from 0 to 5.`)
    .min(0, `${what}: a degree from 0 to 5.`)
    .max(5, `${what}: a degree from 0 to 5.`)
    .describe(`${what}, degree`);

export const DEPOSIT_TEXTURES = ['film', 'grains', 'cushions', 'rosettes'] as const;
export const COATING_KINDS = ['opaque', 'translucent', 'clear'] as const;
export const FLAKING_PLACES = ['arrises', 'below-joints', 'ends'] as const;
export type FlakingPlace = (typeof FLAKING_PLACES)[number];
export const CRACK_PATTERNS = ['shrinkage', 'settlement', 'crazing'] as const;

const layerSchema = z
  .discriminatedUnion('kind', [
    z.object({
      kind: z
        .literal('deposit')
        .describe('Matter that lies on the finish: dust, soil, growth, bloom, patina'),
      ...common,
      colour: colourFigureSchema.describe('Its colour where it is thick'),
      second: colourFigureSchema.describe('Its second colour, in patches'),
      thickMm: figureSchema('mm', 'Thickness where it lies thickest', true),
      texture: z
        .enum(DEPOSIT_TEXTURES)
        .describe('film: even; grains: loose; cushions: moss; rosettes: lichen'),
      hidesPercent: z
        .number()
        .min(0)
        .max(100)
        .describe('How much of the finish it hides where it lies, percent'),
      glossGu: figureSchema('GU', 'Its gloss at 60°'),
    }),
    z.object({
      kind: z.literal('coating').describe('Paint, stain or varnish, and the state it is in by ISO 4628'),
      ...common,
      coat: z.enum(COATING_KINDS).describe('opaque; translucent: what lies under it shows through; clear'),
      colour: colourFigureSchema.describe('Its colour; of a translucent one over white'),
      filmUm: figureSchema('µm', 'Dry film thickness'),
      glossGu: figureSchema('GU', 'Its gloss at 60°'),
      blistering: degree('Blistering (ISO 4628-2)'),
      cracking: degree('Cracking (ISO 4628-4)'),
      flaking: degree('Flaking (ISO 4628-5)'),
      chalking: degree('Chalking (ISO 4628-6)'),
      flakesFirst: z
        .array(z.enum(FLAKING_PLACES))
        .optional()
        .describe(
          'Where it flakes first: at arrises; below joints of a wall, which hold water; at the ends of pieces that are laid. Default: arrises',
        ),
    }),
    z.object({
      kind: z.literal('wear').describe('What is rubbed off and polished or scuffed'),
      ...common,
      depthMm: figureSchema('mm', 'How much is worn off where it is worn most', true),
      lighterBy: z
        .number()
        .min(-40)
        .max(40)
        .describe('How much lighter worn places are, ΔL*; below 0: darker'),
      glossGu: figureSchema('GU', 'Gloss of worn places at 60°'),
    }),
    z.object({
      kind: z.literal('cracks').describe('Cracks of the body or of a glaze'),
      ...common,
      pattern: z
        .enum(CRACK_PATTERNS)
        .describe('shrinkage: a net; settlement: long and stepped; crazing: a fine net'),
      widthMm: figureSchema('mm', 'Width of the widest'),
      depthMm: figureSchema('mm', 'Depth', true),
    }),
    z.object({
      kind: z.literal('wet').describe('Water in the pores and on the face'),
      ...common,
      porousPercent: z
        .number()
        .min(0)
        .max(100)
        .describe('How porous the material is, percent: 0 glass and metal, 100 brick, plaster, raw timber'),
      filmUm: figureSchema('µm', 'Thickness of the film of water on the face; it fills fine relief'),
    }),
    z.object({
      kind: z.literal('detail').describe('Colour and relief of another finish, at its own size'),
      ...common,
      finish: laidFinishSchema.describe('The other finish, as it was issued'),
      colourPercent: z.number().min(0).max(100).describe('How much of its colour is taken, percent'),
      glossPercent: z.number().min(0).max(100).default(0).describe('How much of its gloss is taken, percent'),
      reliefTimes: z.number().min(-10).max(10).describe('How many times its relief is added'),
    }),
  ])
  .describe('One layer');
export type WeatheringLayer = z.infer<typeof layerSchema>;
export type LayerOf<K extends WeatheringLayer['kind']> = Extract<WeatheringLayer, { kind: K }>;

export const weatheringSchema = z
  .array(layerSchema)
  .max(20, 'At most 20 layers.')
  .refine((list) => new Set(list.map((l) => l.id)).size === list.length, 'Two layers have one id.')
  .describe('Weathering, in the order it happened');
export type WeatheringSettings = z.infer<typeof weatheringSchema>;

/** Layers that are not switched off. */
export const usedLayers = (layers: WeatheringSettings): WeatheringLayer[] => layers.filter((l) => !l.off);

/** Other finishes that layers take their detail from, and where they are named. */
export const finishesOfLayers = (
  layers: WeatheringSettings,
): { finish: LaidFinish; path: (string | number)[] }[] =>
  layers.flatMap((layer, k) =>
    layer.kind === 'detail' ? [{ finish: layer.finish, path: [k, 'finish'] }] : [],
  );
