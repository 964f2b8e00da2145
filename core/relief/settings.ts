import { z } from 'zod';
import { figureSchema } from '../units';
import { ZERO_LEVELS } from './height';

const band = (what: string) =>
  z
    .number()
    .min(-4, 'An amount must be between −4 and 4.')
    .max(4, 'An amount must be between −4 and 4.')
    .describe(`${what}: signed amount, 1 as it is, 0 none`);
const wavelength = (what: string) =>
  z
    .number()
    .min(0.01, 'A wavelength is at least 0.01 mm.')
    .max(100000, 'A wavelength is at most 100 000 mm.')
    .describe(`${what}, mm`);

/** What every contribution has. */
const common = {
  id: z.string().min(1).max(40).describe('Name of this contribution within the recipe'),
  name: z.string().min(1, 'A contribution needs a name.').max(100).describe('Name'),
  depthMm: figureSchema('mm', 'From the deepest to the highest point of this contribution; 0 is flat', true),
};

/** Detail in three bands of wavelength, each with a signed amount. */
const bands = {
  broad: band('Broad detail'),
  middle: band('Middle detail'),
  fine: band('Fine detail'),
  broadFromMm: wavelength('Wavelength from which detail is broad'),
  fineBelowMm: wavelength('Wavelength below which detail is fine'),
  smoothMm: z.number().min(0).max(1000).describe('Detail shorter than this is smoothed, mm'),
  invert: z.boolean().describe('Turned over: dark areas are raised'),
};

const contributionSchema = z
  .discriminatedUnion('kind', [
    z.object({
      kind: z.literal('picture').describe('Height is read from the lightness of the picture'),
      ...common,
      ...bands,
    }),
    z.object({
      kind: z.literal('map').describe('Height is taken from the height or normal map of the set'),
      ...common,
      ...bands,
    }),
  ])
  .refine((c) => c.fineBelowMm < c.broadFromMm, {
    message: 'Fine detail must end below where broad detail begins.',
    path: ['fineBelowMm'],
  })
  .describe('One cause of relief');
export type ReliefContribution = z.infer<typeof contributionSchema>;

export const reliefSchema = z
  .object({
    contributions: z
      .array(contributionSchema)
      .max(40, 'At most 40 contributions.')
      .refine(
        (list) => new Set(list.map((c) => c.id)).size === list.length,
        'Two contributions have one name.',
      )
      .describe('What the relief is made of, in order; heights are added. None: a flat finish'),
    zero: z.enum(ZERO_LEVELS).describe('Which level stays in place when the depth changes'),
  })
  .describe('Relief');
export type ReliefSettings = z.infer<typeof reliefSchema>;

/** Depth of all contributions together, mm. */
export const depthOf = ({ contributions }: ReliefSettings): number =>
  contributions.reduce((sum, c) => sum + c.depthMm.value, 0);
