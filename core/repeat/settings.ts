import { z } from 'zod';

/**
 * How one axis is closed: `abut` lays edge to edge as it is, `blend` overlaps and mixes, `mirror` reflects, `cut`
 * overlaps and cuts where it shows least.
 */
export const CLOSINGS = ['blend', 'mirror', 'cut', 'abut'] as const;
export type Closing = (typeof CLOSINGS)[number];

const axisSchema = z
  .object({
    closing: z
      .enum(CLOSINGS)
      .describe(
        'blend: overlap and mix, keeping contrast; mirror: reflect; cut: overlap and cut where it shows least; abut: edge to edge as it is',
      ),
    overlapMm: z
      .number()
      .min(0, 'An overlap is 0 mm or more.')
      .max(100000, 'An overlap is at most 100 000 mm.')
      .describe('Width of the overlap when blending or cutting, mm'),
  })
  .describe('How one axis is closed');

const periodSchema = z
  .object({
    period: z
      .number()
      .min(1e-5, 'A period is at least 1/100 000 of the frame.')
      .max(1, 'A period is at most the whole frame.')
      .describe('Length of one period as a share of the frame on this axis'),
    first: z
      .number()
      .min(0, 'The first line lies within the frame.')
      .max(1, 'The first line lies within the frame.')
      .describe('Where the first joint or line of the structure lies, as a share of the frame'),
  })
  .describe('A period of the structure');

/** Whether copies may be turned: only where the finish has no grain and no light from one side. */
export const TURNINGS = ['none', 'half', 'quarter'] as const;
export type Turning = (typeof TURNINGS)[number];

const sideSchema = (what: string) =>
  z
    .number()
    .min(1, 'A repeat is at least 1 mm long.')
    .max(1000000, 'A repeat is at most 1 000 000 mm long.')
    .nullable()
    .describe(
      `${what} of the repeat, mm; null: as the sample. A regular structure takes the nearest whole number of periods`,
    );

const composeSchema = z
  .object({
    widthMm: sideSchema('Width'),
    heightMm: sideSchema('Height'),
    closed: z.enum(['both', 'across', 'up']).describe('Which edges are to meet'),
    copyMm: z
      .number()
      .min(0.1, 'A copy is at least 0.1 mm long.')
      .max(1000000, 'A copy is at most 1 000 000 mm long.')
      .nullable()
      .describe('Side of the copies the repeat is composed of, mm; null: what suits sample and repeat'),
    turning: z.enum(TURNINGS).describe('What copies may be turned by: none, half turns, quarter turns'),
    mirrored: z.boolean().describe('Copies may be mirrored left to right'),
  })
  .describe('How a repeat is composed anew');

const arrangementSchema = z
  .object({
    number: z.number().int().min(1).max(9999).describe('Its number'),
    seed: z.number().int().min(0).max(0xffffffff).describe('The same seed gives the same repeat'),
  })
  .describe('One particular way of composing the repeat');

export const repeatSchema = z
  .object({
    way: z
      .enum(['edges', 'compose'])
      .describe('edges: the sample is closed at its edges; compose: composed anew'),
    across: axisSchema,
    up: axisSchema,
    structure: z
      .object({
        across: periodSchema.nullable().describe('Period across; null: none'),
        up: periodSchema.nullable().describe('Period from course to course; null: none'),
        stagger: z
          .number()
          .min(0, 'A stagger is a share of the period from 0 to 1.')
          .max(1, 'A stagger is a share of the period from 0 to 1.')
          .default(0)
          .describe('Shift of one course against the next, as a share of the period across'),
      })
      .describe('Regular structure with which copies stay in step; null where there is none'),
    compose: composeSchema,
    arrangements: z
      .array(arrangementSchema)
      .min(1, 'There is at least one arrangement.')
      .max(100, 'At most 100 arrangements are kept.')
      .refine(
        (list) => new Set(list.map((a) => a.number)).size === list.length,
        'Two arrangements have one number.',
      )
      .describe('Arrangements that are kept'),
    arrangement: z.number().int().describe('Number of the arrangement in use'),
  })
  .refine((r) => r.arrangements.some((a) => a.number === r.arrangement), {
    message: 'There is no arrangement of this number.',
    path: ['arrangement'],
  })
  .describe('How the sample becomes a repeat');

export type RepeatSettings = z.infer<typeof repeatSchema>;
export type ComposeSettings = RepeatSettings['compose'];

/** All of a repeat's settings but the edges, before anyone has touched them. */
export const PLAIN_REPEAT: Omit<RepeatSettings, 'across' | 'up'> = {
  way: 'edges',
  structure: { across: null, up: null, stagger: 0 },
  compose: { widthMm: null, heightMm: null, closed: 'both', copyMm: null, turning: 'none', mirrored: false },
  arrangements: [{ number: 1, seed: 1 }],
  arrangement: 1,
};

/** Another arrangement, with a number of its own and a seed that follows from it. */
export function withAnotherArrangement(settings: RepeatSettings): RepeatSettings {
  const number = Math.max(...settings.arrangements.map((a) => a.number)) + 1;
  return {
    ...settings,
    arrangements: [...settings.arrangements, { number, seed: number }],
    arrangement: number,
  };
}

/** Without an arrangement; the one before it is then in use. The last one stays. */
export function withoutArrangement(settings: RepeatSettings, number: number): RepeatSettings {
  const at = settings.arrangements.findIndex((a) => a.number === number);
  if (at < 0 || settings.arrangements.length === 1) return settings;
  const arrangements = settings.arrangements.filter((a) => a.number !== number);
  return {
    ...settings,
    arrangements,
    arrangement:
      settings.arrangement === number ? arrangements[Math.max(0, at - 1)]!.number : settings.arrangement,
  };
}

/** How many courses lie until the bond stands as in the first one: 2 in half bond, 3 in third bond; 1 when none is shifted. */
export function coursesOfBond(stagger: number): number {
  for (let n = 1; n <= 6; n++) if (Math.abs(n * stagger - Math.round(n * stagger)) < 0.04 * n) return n;
  return 1;
}
