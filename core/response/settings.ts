import { z } from 'zod';
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

const partGlossSchema = z
  .object({
    part: z.string().min(1, 'Name the part.').max(60).describe('Id of the part'),
    glossGu: figureSchema('GU', 'Gloss of the part at 60°'),
  })
  .describe('A part with a gloss of its own');
export type PartGloss = z.infer<typeof partGlossSchema>;

const coatSchema = z
  .object({
    glossGu: figureSchema('GU', 'Gloss of the coat alone, at 60°'),
    index: figureSchema('1', 'Refractive index of the coat'),
    levels: z
      .boolean()
      .describe('It levels the relief, so that its own surface is flat; otherwise it follows it'),
  })
  .describe('A clear coat over all of the finish');
export type CoatSettings = z.infer<typeof coatSchema>;

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
        }),
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
    coat: coatSchema.optional().describe('Clear coat; none: the surface is bare'),
  })
  .describe('How the surface answers light');
export type ResponseSettings = z.infer<typeof responseSchema>;
