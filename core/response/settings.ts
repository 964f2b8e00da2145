import { z } from 'zod';
import { figureSchema } from '../units';

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
  })
  .describe('How the surface answers light');
export type ResponseSettings = z.infer<typeof responseSchema>;
