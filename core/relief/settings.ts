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
  steepestDeg: z
    .number()
    .min(0.1, 'The steepest slope of detail must be between 0.1° and 90°.')
    .max(90, 'The steepest slope of detail must be between 0.1° and 90°.')
    .optional()
    .describe(
      'Detail of every octave of wavelength stands no steeper than this, root mean square, degrees; 90: any',
    ),
};

/** What tells joints from pieces. */
export const JOINT_LOOKS = ['lighter', 'darker', 'redder', 'greener', 'yellower', 'bluer'] as const;
const joints = {
  look: z.enum(JOINT_LOOKS).describe('How joints differ from the faces on both sides'),
  widestMm: z
    .number()
    .min(0.05, 'A joint is at least 0.05 mm wide.')
    .max(1000, 'A joint is at most 1000 mm wide.')
    .describe('Joints are no wider than this, mm'),
  edgeMm: z
    .number()
    .min(0, 'The edge cannot be narrower than 0 mm.')
    .max(1000, 'The edge is at most 1000 mm wide.')
    .describe('Width over which a face falls to the joint, mm'),
};

const contributionSchema = z
  .discriminatedUnion('kind', [
    z.object({
      kind: z.literal('picture').describe('Height is read from the lightness of the picture'),
      ...common,
      ...bands,
      colourOut: z
        .boolean()
        .optional()
        .describe(
          'Lightness that differs from piece to piece, and lightness that goes with colour, is no relief; the depth is that of the whole contrast',
        ),
    }),
    z.object({
      kind: z.literal('joints').describe('Joints between the pieces of the picture lie below their faces'),
      ...common,
      ...joints,
    }),
    z.object({
      kind: z.literal('map').describe('Height is taken from the height or normal map of the set'),
      ...common,
      ...bands,
    }),
  ])
  .refine((c) => c.kind === 'joints' || c.fineBelowMm < c.broadFromMm, {
    message: 'Fine detail must end below where broad detail begins.',
    path: ['fineBelowMm'],
  })
  .describe('One cause of relief');
export type ReliefContribution = z.infer<typeof contributionSchema>;
/** A contribution whose detail is in bands of wavelength. */
export type BandedContribution = Exclude<ReliefContribution, { kind: 'joints' }>;
export type JointsContribution = Extract<ReliefContribution, { kind: 'joints' }>;

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
