import { z } from 'zod';
import { placeSchema } from '../straighten/places';

/** Pieces of a layout are cut from the areas of a repeat, laid one above another; nothing of it has to close. */
export interface AsFaces {
  asFaces?: boolean;
}

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

const composedSchema = z
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
    stretchMost: z
      .number()
      .min(0, 'A stretch is 0 or more.')
      .max(0.1, 'At most 10 % of stretch: more is another finish.')
      .describe(
        'By how much, as a share, a regular structure may be stretched so that its periods fill the repeat asked for; 0: not at all',
      ),
  })
  .describe('How a repeat is composed anew');

const placeFromSchema = z
  .object({
    source: z.string().min(1).max(40).describe('Id of a picture among the sources'),
    area: z
      .string()
      .min(1)
      .max(40)
      .nullable()
      .describe('Id of an area picked out of it; null: its whole frame'),
  })
  .describe('A picture, or an area picked out of one');
export type PlaceFrom = z.infer<typeof placeFromSchema>;

/** In shares of the repeat; an area may reach over its edges. */
const inRepeat = z
  .tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)])
  .describe('A place in shares of the repeat: 0, 0 top left, 1, 1 bottom right');

const redoneSchema = z
  .object({
    id: z.string().min(1).max(40).describe('Name of this item within the arrangement'),
    seed: z.number().int().min(0).max(0xffffffff).describe('The same seed gives the same outcome'),
    areas: z
      .array(
        z
          .array(inRepeat)
          .min(3, 'An area needs at least three corners.')
          .max(500, 'An area has at most 500 corners.')
          .describe('Corners of an area'),
      )
      .min(1, 'Say what is to be laid anew.')
      .max(60, 'At most 60 areas are laid anew at once.')
      .describe('What is laid anew'),
    taken: z
      .array(
        z.object({
          source: z.string().min(1).max(40).describe('Id of the picture among the sources'),
          points: z.array(placeSchema).min(3).max(500).describe('Corners of the outline'),
        }),
      )
      .max(200)
      .describe(
        'Parts of the sample that are not used any more in this arrangement; where they lay it is laid anew as well',
      ),
  })
  .describe('Areas of an arrangement that were laid anew; all else stays as it was');

const arrangementSchema = z
  .object({
    number: z.number().int().min(1).max(9999).describe('Its number'),
    seed: z.number().int().min(0).max(0xffffffff).describe('The same seed gives the same repeat'),
    redone: z.array(redoneSchema).max(200, 'At most 200 areas are laid anew.').describe('In order'),
  })
  .describe('One particular way of composing the repeat');

export const repeatSchema = z
  .object({
    method: z
      .enum(['edges', 'composed'])
      .describe(
        'edges: the first of `from` is closed at its edges; composed: composed anew from all of them',
      ),
    from: z
      .array(placeFromSchema)
      .max(30, 'At most 30 areas and pictures are joined.')
      .describe('What the repeat is made from; the first leads: size and tone are its own'),
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
    composed: composedSchema,
    elements: z
      .object({
        scale: z
          .number()
          .min(0.1, 'Elements are shown at 10 % of their size or more.')
          .max(10, 'Elements are shown at 1000 % of their size or less.')
          .describe('Size of the pattern against the sample: 1 is true'),
        confirmed: z.boolean().describe('Somebody confirmed that this size is meant'),
      })
      .describe('Scale of the pattern elements'),
    enlarged: z
      .number()
      .int('Enlarged by 1, 2, 3 or 4.')
      .min(1, 'Enlarged by 1 at least: as it is.')
      .max(4, 'Enlarged by 4 at most.')
      .describe(
        'How many times finer than the picture its detail is made, from the picture itself; 1: not at all. What is added is inferred',
      ),
    why: z
      .array(z.string().max(300))
      .max(10)
      .describe('Why this way was chosen, where the choice was left to Jossel; empty: chosen by hand'),
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
export type ComposedSettings = RepeatSettings['composed'];
export type Arrangement = RepeatSettings['arrangements'][number];
export type Redone = Arrangement['redone'][number];

/** All of a repeat's settings but the edges, before anyone has touched them. */
export const plainRepeat = (): Omit<RepeatSettings, 'across' | 'up'> => ({
  method: 'edges',
  from: [],
  structure: { across: null, up: null, stagger: 0 },
  composed: {
    widthMm: null,
    heightMm: null,
    closed: 'both',
    copyMm: null,
    turning: 'none',
    mirrored: false,
    stretchMost: 0,
  },
  elements: { scale: 1, confirmed: false },
  enlarged: 1,
  why: [],
  arrangements: [{ number: 1, seed: 1, redone: [] }],
  arrangement: 1,
});

/** Another arrangement, with a number of its own and a seed that follows from it. */
export function withAnotherArrangement(settings: RepeatSettings): RepeatSettings {
  const number = Math.max(...settings.arrangements.map((a) => a.number)) + 1;
  return {
    ...settings,
    arrangements: [...settings.arrangements, { number, seed: number, redone: [] }],
    arrangement: number,
  };
}

/** The arrangement in use. */
export const arrangementOf = ({ arrangements, arrangement }: RepeatSettings): Arrangement =>
  arrangements.find((a) => a.number === arrangement)!;

/** With what is laid anew in the arrangement in use. */
export const withRedone = (settings: RepeatSettings, redone: Redone[]): RepeatSettings => ({
  ...settings,
  arrangements: settings.arrangements.map((a) => (a.number === settings.arrangement ? { ...a, redone } : a)),
});

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

/** Courses of a bond that are looked at: a herringbone of boards eight times as long as wide comes back after sixteen. */
export const MOST_COURSES = 16;
/** So many were before version 7 of the repeat. */
export const FEW_COURSES = 6;

/** How far the shift of n courses may be off whole periods: each is known to 0.04; of many, some come near by chance. */
const mayBeOff = (n: number) => (n <= FEW_COURSES ? 0.04 * n : 0.5 / n);

/**
 * How many courses lie until the bond stands as in the first one: 2 in half bond, 3 in third bond, 8 in a herringbone of boards
 * four times as long as wide; 1 when none is shifted, or it does not come back.
 */
export function coursesOfBond(stagger: number, most = MOST_COURSES): number {
  for (let n = 1; n <= most; n++) if (Math.abs(n * stagger - Math.round(n * stagger)) < mayBeOff(n)) return n;
  return 1;
}

/**
 * A bond as a structure whose courses are not shifted: its period up is then that of the whole bond, so that edges are cut
 * where like courses follow on each other as they do inside. It stays as it is where the sample does not hold one bond.
 */
export function wholeBonds(structure: RepeatSettings['structure']): RepeatSettings['structure'] {
  const { across, up, stagger } = structure;
  const courses = across ? coursesOfBond(stagger) : 1;
  if (!up || courses === 1 || up.period * courses > 1) return structure;
  return { across, up: { ...up, period: up.period * courses }, stagger: 0 };
}
