import { z } from 'zod';
import { figureSchema, type Figure } from '../units';
import { placeSchema, quadSchema } from '../straighten/places';

/**
 * Where a counted picture begins and ends: `flush` from the first edge of the first module to the last edge of the last
 * (n modules, n − 1 joints), `joint` from the middle of a joint to the middle of a joint (n modules, n joints),
 * `inside` with parts of a module cut off at the start and the end.
 */
export const COUNT_ENDS = ['flush', 'joint', 'inside'] as const;
export type CountEnds = (typeof COUNT_ENDS)[number];

/** All ways in which the length of an axis can be known. `follows`: from the other axis and the true proportions. */
export const SIZE_WAYS = ['overall', 'count', 'structure', 'lines', 'resolution', 'card', 'follows'] as const;
export type SizeWay = (typeof SIZE_WAYS)[number];

const share = (what: string) =>
  z
    .number()
    .min(0, `${what} is a share from 0 to 1.`)
    .max(1, `${what} is a share from 0 to 1.`)
    .describe(what);

const countSchema = z
  .object({
    modules: z
      .number()
      .int('The count must be a whole number.')
      .min(1, 'Count at least 1 module.')
      .max(100000, 'Count at most 100 000 modules.')
      .describe('How many whole modules lie in the frame'),
    moduleMm: figureSchema('mm', 'Length of one module, without joint'),
    jointMm: z
      .number()
      .min(0, 'A joint is 0 mm or more.')
      .max(1000, 'A joint is at most 1000 mm.')
      .describe('Width of the joint between two modules, mm'),
    ends: z
      .enum(COUNT_ENDS)
      .describe(
        'flush: n modules and n − 1 joints; joint: from joint middle to joint middle, n of each; inside: parts of a module at the ends',
      ),
    before: share('Part of a module before the first whole one (ends: inside)').default(0),
    after: share('Part of a module after the last whole one (ends: inside)').default(0),
  })
  .describe('Count × module with joints');

const structureSchema = z
  .object({
    periods: z
      .number()
      .min(0.5, 'At least half a period must show.')
      .max(100000, 'At most 100 000 periods.')
      .describe('How many periods of the structure the frame holds; need not be whole'),
    pitchMm: figureSchema('mm', 'Length of one period: a module and its joint'),
  })
  .describe('Periods that Jossel found × their known pitch');

const lineSchema = z
  .object({
    id: z.string().min(1).max(40).describe('Name of this line within the recipe'),
    from: placeSchema,
    to: placeSchema,
    lengthMm: figureSchema('mm', 'True length between the two ends'),
  })
  .refine((l) => Math.hypot(l.from[0] - l.to[0], l.from[1] - l.to[1]) > 1e-6, {
    message: 'A ruler line needs two different ends; this one has no length.',
    path: ['to'],
  })
  .describe('A ruler line of known length drawn on the sample');

const perAxis = <T extends z.ZodType>(schema: T, what: string) =>
  z
    .object({
      across: schema.nullable().describe(`${what}: width; null when not known`),
      up: schema.nullable().describe(`${what}: height; null when not known`),
    })
    .describe(what);

/** Settings of the size: everything that is known of it, and which of it rules. */
export const sizeSchema = z
  .object({
    ruling: z
      .object({
        across: z.enum(SIZE_WAYS).describe('What rules the width'),
        up: z.enum(SIZE_WAYS).describe('What rules the height'),
      })
      .describe('Which way gives the size of each axis; all others are cross-checks'),
    overall: perAxis(figureSchema('mm', 'Overall length of the frame on this axis'), 'Known overall size'),
    count: perAxis(countSchema, 'Counted modules'),
    structure: perAxis(structureSchema, 'Found structure of known pitch'),
    lines: z.array(lineSchema).max(100, 'At most 100 ruler lines.').describe('Ruler lines'),
    resolution: figureSchema('px/mm', 'Pixels of the picture as received per millimetre')
      .nullable()
      .describe('Resolution of the picture; null when not known'),
    card: z
      .object({ marks: quadSchema.describe('Centres of the four corner marks of the target card') })
      .nullable()
      .describe('A target card that lies in the plane of the finish'),
  })
  .superRefine((size, context) => {
    for (const axis of ['across', 'up'] as const) {
      const way = size.ruling[axis];
      const known =
        way === 'follows' ||
        (way === 'lines'
          ? size.lines.length > 0
          : way === 'resolution' || way === 'card'
            ? size[way] !== null
            : size[way][axis] !== null);
      if (!known)
        context.addIssue({
          code: 'custom',
          path: ['ruling', axis],
          message: `The way "${way}" is to rule, but nothing is given for it on this axis.`,
        });
    }
  })
  .describe('Size of the frame of the sample; one size for all maps');

export type SizeSettings = z.infer<typeof sizeSchema>;
export type CountedAxis = z.infer<typeof countSchema>;
export type StructuredAxis = z.infer<typeof structureSchema>;
export type RulerLine = z.infer<typeof lineSchema>;

/** Nothing known yet. */
export const NO_SIZE: SizeSettings = {
  ruling: { across: 'follows', up: 'follows' },
  overall: { across: null, up: null },
  count: { across: null, up: null },
  structure: { across: null, up: null },
  lines: [],
  resolution: null,
  card: null,
};

/** One axis of a size that is known in a single way. */
export type KnownAxis =
  | { overall: Figure<'mm'> }
  | { count: Omit<CountedAxis, 'before' | 'after'> & Partial<Pick<CountedAxis, 'before' | 'after'>> }
  | 'follows';

/** A size of which one thing is known per axis; that rules. */
export function sizeKnownBy(across: KnownAxis, up: KnownAxis): SizeSettings {
  const of = (axis: KnownAxis) => ({
    way:
      axis === 'follows'
        ? ('follows' as const)
        : 'overall' in axis
          ? ('overall' as const)
          : ('count' as const),
    overall: axis !== 'follows' && 'overall' in axis ? axis.overall : null,
    count: axis !== 'follows' && 'count' in axis ? { before: 0, after: 0, ...axis.count } : null,
  });
  const [a, b] = [of(across), of(up)];
  return {
    ...NO_SIZE,
    ruling: { across: a.way, up: b.way },
    overall: { across: a.overall, up: b.overall },
    count: { across: a.count, up: b.count },
  };
}
