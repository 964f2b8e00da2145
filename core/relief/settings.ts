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

/** How a contribution meets what the ones before it came to. */
export const COMBININGS = ['add', 'replace', 'highest', 'lowest'] as const;
export type Combining = (typeof COMBININGS)[number];

/** Places that a contribution can be kept to. */
export const MASK_PLACES = ['part', 'hollows', 'arrises', 'faces'] as const;
const maskSchema = z
  .object({
    place: z
      .enum(MASK_PLACES)
      .describe(
        'part: a part of the finish; hollows, arrises, faces: what lies lower than its surroundings, stands out of them, or does neither, by the contributions before',
      ),
    part: z.string().max(60).optional().describe('Id of the part, where place is part'),
    reachMm: z
      .number()
      .min(0.01, 'A reach is at least 0.01 mm.')
      .max(10000, 'A reach is at most 10 000 mm.')
      .default(5)
      .describe('Surroundings by which hollows and arrises are told, mm'),
    softenMm: z.number().min(0).max(1000).default(0).describe('Width of the soft edge, mm'),
    except: z.boolean().default(false).describe('Everywhere but there'),
  })
  .refine(({ place, part }) => place !== 'part' || part, {
    message: 'Name the part.',
    path: ['part'],
  })
  .describe('Where the contribution counts');
export type ReliefMask = z.infer<typeof maskSchema>;

/** What every contribution has. */
const common = {
  id: z.string().min(1).max(40).describe('Name of this contribution within the recipe'),
  name: z.string().min(1, 'A contribution needs a name.').max(100).describe('Name'),
  depthMm: figureSchema('mm', 'From the deepest to the highest point of this contribution; 0 is flat', true),
  off: z.boolean().optional().describe('Kept, but left out of the relief'),
  combine: z
    .enum(COMBININGS)
    .optional()
    .describe(
      'add (default): to what the ones before came to; replace: instead of it where the mask is; highest, lowest: whichever is',
    ),
  mask: maskSchema.optional(),
};

/** Shares of the range of heights that are kept, and what lies in the middle. */
const levelsSchema = z
  .object({
    low: z.number().min(0).max(0.95).describe('Share of the range below which all is level'),
    high: z.number().min(0.05).max(1).describe('Share of the range above which all is level'),
    middle: z
      .number()
      .min(0.05, 'The middle must be between 0.05 and 0.95.')
      .max(0.95, 'The middle must be between 0.05 and 0.95.')
      .describe(
        'Where the height half-way between them comes to lie: below 0.5 most of the surface lies low',
      ),
  })
  .refine(({ low, high }) => high - low >= 0.02, {
    message: 'The high level must be above the low one by at least 0.02.',
    path: ['high'],
  })
  .describe('Levels: heights are clipped and their middle is shifted');

/** Detail in three bands of wavelength, each with a signed amount. */
const bands = {
  broad: band('Broad detail'),
  middle: band('Middle detail'),
  fine: band('Fine detail'),
  broadFromMm: wavelength('Wavelength from which detail is broad'),
  fineBelowMm: wavelength('Wavelength below which detail is fine'),
  smoothMm: z.number().min(0).max(1000).describe('Detail shorter than this is smoothed, mm'),
  invert: z.boolean().describe('Turned over: dark areas are raised'),
  levels: levelsSchema.optional(),
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
  smoothShare: z
    .number()
    .min(0, 'The smoothing is between 0 and half of the widest joint.')
    .max(0.5, 'The smoothing is between 0 and half of the widest joint.')
    .optional()
    .describe(
      'The grain of the faces, as of granite, is smoothed away by this share of the widest joint before joints are looked for; none: only noise is',
    ),
  edgeMm: z
    .number()
    .min(0, 'The edge cannot be narrower than 0 mm.')
    .max(1000, 'The edge is at most 1000 mm wide.')
    .describe('Width over which a face falls to the joint, mm'),
};

/** Variation that is made, not seen. */
const generated = {
  longestMm: wavelength('Longest wavelength'),
  shortestMm: wavelength('Shortest wavelength'),
  stretch: z
    .number()
    .min(1, 'A stretch is between 1 and 100.')
    .max(100, 'A stretch is between 1 and 100.')
    .describe('How many times longer it is along its direction than across'),
  along: z.enum(['width', 'height']).describe('Its direction'),
  falloff: z
    .number()
    .min(0.2, 'The falloff must be between 0.2 and 0.9.')
    .max(0.9, 'The falloff must be between 0.2 and 0.9.')
    .describe('Height of every octave over that of the one twice as long'),
  seed: z.number().int().min(0).max(999999).describe('Number of this particular variation'),
};

/** Profiles that run one way. */
export const PROFILE_SHAPES = ['wave', 'flutes', 'reeds', 'grooves'] as const;

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
    z.object({
      kind: z
        .literal('measured')
        .describe('Height was measured from light; its depth is that of the whole height map'),
      ...common,
      ...bands,
      lightSetId: z.string().max(100).optional().describe('The light set that it was measured from'),
      overMm: z
        .number()
        .positive('A width is more than 0 mm.')
        .max(1e7)
        .optional()
        .describe('Width of the whole picture when it was measured, mm: heights grow with it'),
      straightened: z
        .boolean()
        .optional()
        .describe('Its pictures were straightened before it was measured; left out: they were not'),
    }),
    z.object({
      kind: z.literal('part').describe('A part of the finish lies below or above the rest'),
      ...common,
      part: z.string().min(1, 'Name the part.').max(60).describe('Id of the part'),
      raised: z.boolean().describe('It stands out; otherwise it is recessed'),
      edgeMm: joints.edgeMm.describe('Width over which it goes from one level to the other, mm'),
    }),
    z.object({
      kind: z.literal('generated').describe('Variation that is made: waves of many lengths'),
      ...common,
      ...generated,
    }),
    z.object({
      kind: z.literal('profile').describe('A profile that runs one way, with a pitch'),
      ...common,
      shape: z
        .enum(PROFILE_SHAPES)
        .describe(
          'wave: as rollers leave it; flutes: hollow arcs with sharp ridges; reeds: round ridges; grooves: straight sides',
        ),
      pitchMm: wavelength('From one to the next'),
      along: z.enum(['width', 'height']).describe('Its direction'),
    }),
  ])
  .refine((c) => !('fineBelowMm' in c) || c.fineBelowMm < c.broadFromMm, {
    message: 'Fine detail must end below where broad detail begins.',
    path: ['fineBelowMm'],
  })
  .refine((c) => c.kind !== 'generated' || c.shortestMm <= c.longestMm, {
    message: 'The shortest wavelength must not be above the longest.',
    path: ['shortestMm'],
  })
  .describe('One cause of relief');
export type ReliefContribution = z.infer<typeof contributionSchema>;
export type ContributionOf<K extends ReliefContribution['kind']> = Extract<ReliefContribution, { kind: K }>;
/** A contribution whose detail is in bands of wavelength. */
export type BandedContribution = ContributionOf<'picture' | 'map' | 'measured'>;
export const isBanded = (c: ReliefContribution): c is BandedContribution => 'fineBelowMm' in c;
export type JointsContribution = ContributionOf<'joints'>;

export const reliefSchema = z
  .object({
    contributions: z
      .array(contributionSchema)
      .max(40, 'At most 40 contributions.')
      .refine(
        (list) => new Set(list.map((c) => c.id)).size === list.length,
        'Two contributions have one name.',
      )
      .describe('What the relief is made of, in order. None: a flat finish'),
    occlusionMm: z
      .number()
      .min(0.1, 'The radius of occlusion is at least 0.1 mm.')
      .max(10000, 'The radius of occlusion is at most 10 000 mm.')
      .optional()
      .describe('How far away a rise may stand and still take light, mm; default: six times the depth'),
    zero: z.enum(ZERO_LEVELS).describe('Which level stays in place when the depth changes'),
  })
  .describe('Relief');
export type ReliefSettings = z.infer<typeof reliefSchema>;

/** Contributions that are not switched off. */
export const usedContributions = ({
  contributions,
}: Pick<ReliefSettings, 'contributions'>): ReliefContribution[] => contributions.filter((c) => !c.off);

/** Depth of all contributions together, mm. */
export const depthOf = (settings: Pick<ReliefSettings, 'contributions'>): number =>
  usedContributions(settings).reduce((sum, c) => sum + c.depthMm.value, 0);
