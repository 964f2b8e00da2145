import { z } from 'zod';
import { METALS } from '../optics';
import { figureSchema } from '../units';

/** What the gloss varies with, beside parts. */
export const VARIES_WITH = ['hollows', 'arrises', 'dark', 'light', 'generated'] as const;
export type VariesWith = (typeof VARIES_WITH)[number];

const variationSchema = z
  .object({
    id: z.string().min(1).max(60).describe('Id of the variation'),
    from: z
      .enum(VARIES_WITH)
      .describe(
        'hollows, arrises: places below or above their surroundings; dark, light: places darker or lighter than their surroundings; generated: waves of many lengths',
      ),
    byGu: z
      .number()
      .min(-200, 'At most 200 GU more matt.')
      .max(200, 'At most 200 GU glossier.')
      .describe('How much glossier such places are, GU; below 0: more matt'),
    reachMm: z
      .number()
      .min(0.01, 'At least 0.01 mm.')
      .max(10000, 'At most 10 m.')
      .describe('What counts as surroundings, mm; of generated variation its longest wave'),
    seed: z.number().int().min(0).max(1e9).default(1).describe('Of generated variation: another one'),
  })
  .describe('The gloss is not the same everywhere; its mean stays what was asked for');
export type GlossVariation = z.infer<typeof variationSchema>;

/** Evenly spaced quantiles, from the least to the greatest, that a spread of gloss is kept by. */
export const SPREAD_QUANTILES = 33;

const spreadLikeSchema = z
  .object({
    name: z.string().min(1).max(200).describe('Name of the finish it was read from'),
    finishId: z.uuid().optional().describe('Id of that finish'),
    quantilesGu: z
      .array(z.number().min(0).max(2000).describe('GU'))
      .length(SPREAD_QUANTILES, `A spread has ${SPREAD_QUANTILES} quantiles.`)
      .refine((all) => all.every((gu, k) => k === 0 || gu >= all[k - 1]!), 'Quantiles rise from the least.')
      .describe('Evenly spaced quantiles of its gloss at 60°, from the least to the greatest'),
  })
  .describe('The gloss is spread as that of another finish; the variation says where it is high and low');
export type SpreadLike = z.infer<typeof spreadLikeSchema>;

const part = z.string().min(1, 'Name the part.').max(60).describe('Id of the part');

const partGlossSchema = z
  .object({
    part,
    glossGu: figureSchema('GU', 'Gloss of the part at 60°'),
  })
  .describe('A part with a gloss of its own');
export type PartGloss = z.infer<typeof partGlossSchema>;

const coatTintSchema = z
  .object({
    lightPercent: figureSchema('%', 'Light that passes a layer of the coat once, its surfaces aside'),
    ofThicknessMm: figureSchema('mm', 'Thickness of that layer'),
    thicknessMm: figureSchema('mm', 'Thickness of the coat'),
    hue: z
      .tuple([
        z.number().min(-80).max(80).describe('CIELAB a* of daylight that has passed the layer'),
        z.number().min(-80).max(80).describe('CIELAB b* of daylight that has passed the layer'),
      ])
      .describe('Hue of what has passed the layer'),
  })
  .describe('What the coat absorbs');
export type CoatTint = z.infer<typeof coatTintSchema>;

const coatSchema = z
  .object({
    glossGu: figureSchema('GU', 'Gloss of the coat alone, at 60°'),
    index: figureSchema('1', 'Refractive index of the coat'),
    levels: z
      .boolean()
      .describe('It levels the relief, so that its own surface is flat; otherwise it follows it'),
    tint: coatTintSchema.optional(),
  })
  .describe('A clear coat over all of the finish');
export type CoatSettings = z.infer<typeof coatSchema>;

const metalSchema = z
  .discriminatedUnion('from', [
    z.object({ from: z.literal('picture').describe('Its reflectance is the colour that the finish has') }),
    z.object({
      from: z.literal('constants').describe('Its reflectance follows from published optical constants'),
      metal: z.enum(METALS).describe('The metal'),
    }),
    z.object({
      from: z
        .literal('index')
        .describe('Its reflectance follows from a typed index, the same at every wavelength'),
      n: z.number().min(0.01, 'n is at least 0.01.').max(10, 'n is at most 10.').describe('Real part'),
      k: z.number().min(0, 'k is at least 0.').max(15, 'k is at most 15.').describe('Extinction coefficient'),
    }),
  ])
  .describe('Which metal, and where its reflectance is known from');
export type MetalSettings = z.infer<typeof metalSchema>;

const partMetalSchema = z.object({ part, of: metalSchema }).describe('A part of bare metal');
export type PartMetal = z.infer<typeof partMetalSchema>;

const filmSchema = z
  .object({
    part: part.nullable().describe('Id of the part that carries it; null: the whole finish'),
    thicknessNm: figureSchema('nm', 'Thickness of the film'),
    index: figureSchema('1', 'Refractive index of the film'),
  })
  .describe('A thin film on a metal, which colours it by interference');
export type FilmSettings = z.infer<typeof filmSchema>;

/** One glass: how thick it is, and what light it lets through. */
const glassLayer = {
  thicknessMm: figureSchema('mm', 'Thickness of the pane'),
  lightPercent: figureSchema('%', 'Light transmittance of a pane'),
  ofThicknessMm: figureSchema('mm', 'Thickness that the light transmittance is given for'),
  tint: z
    .tuple([
      z.number().min(-80).max(80).describe('CIELAB a* of daylight seen through it'),
      z.number().min(-80).max(80).describe('CIELAB b* of daylight seen through it'),
    ])
    .describe('Hue of what is seen through that thickness'),
};
const laminateSchema = z
  .object({
    second: z.object(glassLayer).describe('The glass behind the interlayer'),
    interlayerMm: figureSchema('mm', 'Thickness of the interlayer'),
    interlayerPercent: figureSchema('%', 'Light that passes the interlayer once, its faces aside'),
  })
  .describe('A second glass, bonded by an interlayer of nearly the same refractive index');
export type Laminate = z.infer<typeof laminateSchema>;

const glassSchema = z.object({
  kind: z.literal('glass').describe('Clear or tinted glass in panes'),
  index: figureSchema('1', 'Refractive index of the glass'),
  ...glassLayer,
  laminate: laminateSchema.optional(),
  hazePercent: figureSchema('%', 'Haze of a pane with one satin side').optional(),
});
export type GlassSettings = z.infer<typeof glassSchema>;

const sheenSchema = z
  .object({
    strength: z.number().min(0).max(1).describe('How much light the nap throws back at grazing angles, 0–1'),
    roughness: z
      .number()
      .min(0.07, 'At least 0.07.')
      .max(1, 'At most 1.')
      .describe('How far its fibres lean: low for velvet, high for brushed wool'),
    hue: z.enum(['own', 'white']).describe('own: of the colour of the cloth; white: of undyed fibres'),
  })
  .describe('Nap of cloth');
export type SheenSettings = z.infer<typeof sheenSchema>;

const brushedSchema = z
  .object({
    acrossGu: figureSchema(
      'GU',
      'Gloss at 60° read across the scratches; the gloss at 60° is then read along them',
    ),
    alongDeg: z
      .number()
      .min(-180)
      .max(180)
      .describe('Direction of the scratches, degrees anticlockwise from the width'),
  })
  .describe('A surface that is brushed one way');
export type BrushedSettings = z.infer<typeof brushedSchema>;

const opennessSchema = z
  .object({
    openPercent: figureSchema('%', 'Share of a woven finish that light passes straight through'),
    between: z
      .enum(['hollows', 'dark'])
      .describe('Openings are the lowest places of the relief, or the darkest of the picture'),
    diffusePercent: figureSchema('%', 'Light that its threads let through, scattered'),
  })
  .describe('Light through a woven finish');
export type OpennessSettings = z.infer<typeof opennessSchema>;

export const responseSchema = z
  .object({
    base: z
      .discriminatedUnion('kind', [
        z.object({
          kind: z.literal('dielectric').describe('Anything but bare metal'),
          index: figureSchema('1', 'Refractive index of the surface'),
        }),
        z.object({
          kind: z.literal('metal').describe('Bare metal; its colour is its reflectance'),
          of: metalSchema.optional(),
        }),
        glassSchema,
      ])
      .describe('What the surface is, as far as light is concerned'),
    glossGu: figureSchema('GU', 'Gloss at 60°'),
    gloss20Gu: figureSchema('GU', 'Gloss at 20°').optional(),
    gloss85Gu: figureSchema('GU', 'Gloss at 85°').optional(),
    parts: z
      .array(partGlossSchema)
      .max(20, 'At most 20 parts.')
      .optional()
      .describe('Parts with a gloss of their own'),
    variation: z
      .array(variationSchema)
      .max(12, 'At most 12 kinds of variation.')
      .optional()
      .describe('What the gloss of all else varies with'),
    spreadLike: spreadLikeSchema.optional(),
    metals: z.array(partMetalSchema).max(20, 'At most 20 parts.').optional().describe('Parts of bare metal'),
    films: z.array(filmSchema).max(20, 'At most 20 films.').optional().describe('Thin films'),
    sheen: sheenSchema.optional(),
    brushed: brushedSchema.optional(),
    openness: opennessSchema.optional(),
    coat: coatSchema.optional().describe('Clear coat; none: the surface is bare'),
  })
  .describe('How the surface answers light');
export type ResponseSettings = z.infer<typeof responseSchema>;
