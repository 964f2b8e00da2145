import { z } from 'zod';
import { BASES, figureSchema, weakestBasis, type Basis } from '../units';
import { placeSchema } from '../straighten/places';

/** What rules the colour; all else that is given becomes a check. `picture`: as levelled and balanced. */
export const COLOUR_RULES = ['picture', 'lrv', 'colour', 'reference'] as const;
export type ColourRule = (typeof COLOUR_RULES)[number];

/** What the balance of the picture rests on. */
export const BALANCES = ['none', 'grey', 'card'] as const;
export type Balance = (typeof BALANCES)[number];

const triple = (what: string) => z.tuple([z.number(), z.number(), z.number()]).describe(what);
const amount = (min: number, max: number, what: string) =>
  z
    .number()
    .min(min, `${what}: from ${min} to ${max}.`)
    .max(max, `${what}: from ${min} to ${max}.`)
    .describe(`${what}, from ${min} to ${max}`);

/** A colour as CIELAB (D65, 2°) with what it rests on. */
export const colourFigureSchema = z
  .object({
    lab: z
      .tuple([
        z.number().min(0, 'L* is 0 or more.').max(100, 'L* is at most 100.'),
        z.number().min(-150, 'a* lies between −150 and 150.').max(150, 'a* lies between −150 and 150.'),
        z.number().min(-150, 'b* lies between −150 and 150.').max(150, 'b* lies between −150 and 150.'),
      ])
      .describe('CIELAB, D65, 2° observer'),
    basis: z.enum(BASES).describe('Where it comes from'),
    tolerance: z.number().min(0).max(100).optional().describe('Plus or minus, in CIEDE2000'),
    note: z.string().max(2000).optional().describe('Where it was read'),
  })
  .describe('A colour with its basis');
export type ColourFigure = z.infer<typeof colourFigureSchema>;

const levellingSchema = z
  .object({
    radiusMm: z
      .number()
      .min(1, 'A radius is at least 1 mm.')
      .max(100000, 'A radius is at most 100 000 mm.')
      .nullable()
      .describe('Also evens out what is broader than this, mm; null: only the broad fall of light'),
    shading: amount(0, 1, 'How much of the shading by the relief is taken out'),
    shadingMm: z.number().min(0.05).max(1000).describe('Shading is finer than this, mm'),
  })
  .describe('Levelling of uneven light');
export type Levelling = z.infer<typeof levellingSchema>;

const fillSchema = z
  .object({
    id: z.string().min(1).max(40).describe('Name of this place within the recipe'),
    points: z.array(placeSchema).min(3).max(500).describe('Outline of what is filled, shares of the picture'),
    from: z
      .tuple([z.number().min(-1).max(1), z.number().min(-1).max(1)])
      .describe('From where its detail is taken, as a step in shares of the straightened frame'),
  })
  .describe('A small place whose glare is filled from around');
export type GlareFill = z.infer<typeof fillSchema>;

export const referenceColourSchema = z
  .object({
    name: z.string().min(1).max(200).describe('Name of the finish or picture'),
    from: z
      .object({
        kind: z.enum(['finish', 'sample']).describe('A finish or a picture'),
        id: z.string().min(1).max(100).describe('Its id'),
      })
      .describe('Where the statistics were taken'),
    meanLinear: triple('Mean in linear light'),
    spread: triple('Standard deviation in Oklab'),
    takeSpread: amount(0, 1, 'How much of the spread is taken over'),
    limit: amount(1, 8, 'By how much the own spread may be amplified at most'),
  })
  .describe('Mean and spread of another finish or picture');
export type ReferenceColour = z.infer<typeof referenceColourSchema>;

const handSchema = z
  .object({
    lightness: amount(-50, 50, 'Lightness in hundredths of Oklab L'),
    contrast: amount(0, 3, 'Contrast about the mean; 1 as it is'),
    hueDeg: amount(-180, 180, 'Turn of hue in degrees'),
    saturation: amount(0, 3, 'Saturation; 1 as it is'),
    tint: z
      .tuple([
        amount(-20, 20, 'Tint to red (+) or green (−)'),
        amount(-20, 20, 'Tint to yellow (+) or blue (−)'),
      ])
      .describe('Shift in hundredths of Oklab a and b'),
    sharpness: amount(0, 3, 'Sharpness added; 0 none'),
    sharpMm: z.number().min(0.01).max(100).describe('Detail finer than this is sharpened, mm'),
    keepReflectance: z.boolean().describe('The light reflectance value stays while the rest changes'),
  })
  .describe('Corrections by hand, in Oklab');
export type HandCorrection = z.infer<typeof handSchema>;

const colourwaySchema = z
  .object({
    id: z.string().min(1).max(40).describe('Name within the recipe'),
    name: z.string().min(1, 'A colourway needs a name.').max(120).describe('Name of the colourway'),
    code: z.string().max(60).default('').describe('Code of the manufacturer'),
    target: colourFigureSchema.describe('Mean colour that the colourway has'),
  })
  .describe('A colour variant: it shares everything but colour');
export type Colourway = z.infer<typeof colourwaySchema>;

/** How the light of a photograph is taken out of it. */
export const lightSchema = z
  .object({
    levelling: levellingSchema
      .nullable()
      .describe('Levelling of uneven light; null: the light is left as it is'),
    fills: z.array(fillSchema).max(200).describe('Places of glare that are filled from around'),
    balance: z.enum(BALANCES).describe('What white balance and exposure rest on'),
    grey: z
      .object({
        at: placeSchema,
        radius: z.number().min(0.0005).max(0.5).describe('Share of the picture’s longer side'),
        lrv: figureSchema('LRV', 'Light reflectance value of the grey'),
      })
      .nullable()
      .describe('A grey patch of known reflectance in the picture'),
    target: z
      .object({
        reference: z
          .object({
            name: z.string().max(200).describe('Name of the list'),
            patches: z
              .array(
                z.object({
                  name: z.string().min(1).max(100).describe('Name of the patch'),
                  lab: triple('CIELAB, D65, 2°'),
                }),
              )
              .min(3)
              .max(1000)
              .describe('Values of the patches'),
          })
          .nullable()
          .describe('Values of the patches as read from a file; null: those that the card was printed by'),
        leftOut: z.array(z.string().max(100)).max(1000).describe('Patches that take no part in the fit'),
        offset: z.boolean().describe('Also takes out stray light: an offset per channel'),
      })
      .describe('How the target card is used; where it lies is known from the size'),
  })
  .superRefine((light, context) => {
    if (light.balance === 'grey' && light.grey === null)
      context.addIssue({
        code: 'custom',
        path: ['balance'],
        message: 'The balance is to rest on a grey patch, but none is given.',
      });
  })
  .describe('Levelling and balance of a picture');
export type LightSettings = z.infer<typeof lightSchema>;

/** Nothing done to the light. */
export const plainLight = (): LightSettings => ({
  levelling: null,
  fills: [],
  balance: 'none',
  grey: null,
  target: { reference: null, leftOut: [], offset: false },
});

/** Which colour the finish has, corrections by hand, and its colourways. */
export const colourSchema = z
  .object({
    ruling: z.enum(COLOUR_RULES).describe('What rules the colour; all else becomes a check'),
    lrv: figureSchema('LRV', 'Light reflectance value')
      .nullable()
      .describe('Light reflectance value; null: not known'),
    colour: colourFigureSchema.nullable().describe('Colour of the finish; null: not known'),
    reference: referenceColourSchema.nullable().describe('Another finish or picture to match'),
    hand: handSchema,
    recoloured: z
      .string()
      .max(40)
      .nullable()
      .describe('The part of the sample that colourways recolour, by its id; null: the whole finish'),
    ways: z.array(colourwaySchema).max(200, 'At most 200 colourways.').describe('Colourways'),
  })
  .superRefine((colour, context) => {
    const way = colour.ruling;
    if (way !== 'picture' && colour[way] === null)
      context.addIssue({
        code: 'custom',
        path: ['ruling'],
        message: `“${way}” is to rule the colour, but nothing is given for it.`,
      });
    const names = new Set<string>();
    colour.ways.forEach((w, n) => {
      if (names.has(w.id))
        context.addIssue({
          code: 'custom',
          path: ['ways', n, 'id'],
          message: 'This colourway is there twice.',
        });
      names.add(w.id);
    });
  })
  .describe('Colour of the finish');
export type ColourSettings = z.infer<typeof colourSchema>;

export const NO_HAND: HandCorrection = {
  lightness: 0,
  contrast: 1,
  hueDeg: 0,
  saturation: 1,
  tint: [0, 0],
  sharpness: 0,
  sharpMm: 1,
  keepReflectance: true,
};

/** The colour as the picture has it. */
export const plainColour = (): ColourSettings => ({
  ruling: 'picture',
  lrv: null,
  colour: null,
  reference: null,
  hand: { ...NO_HAND },
  recoloured: null,
  ways: [],
});

/** Colour settings in which a light reflectance value rules. */
export const ruledByLrv = (
  colour: ColourSettings,
  lrv: NonNullable<ColourSettings['lrv']>,
): ColourSettings => ({
  ...colour,
  ruling: 'lrv',
  lrv,
});

/** What the colour of a finish rests on: the figure that rules, or the balance of its picture. */
export function basisOfColour(
  { ruling, lrv, colour }: ColourSettings,
  { balance, grey }: Pick<LightSettings, 'balance' | 'grey'>,
): Basis {
  if (ruling === 'lrv' && lrv) return lrv.basis;
  if (ruling === 'colour' && colour) return colour.basis;
  if (ruling === 'reference') return 'inferred';
  // Read from the picture by way of a card that was measured, or a grey that is known.
  return balance === 'none'
    ? 'assumed'
    : balance === 'grey'
      ? weakestBasis('inferred', grey!.lrv.basis)
      : 'inferred';
}
