import { z } from 'zod';
import { faultOfQuad, type Quad } from '../straighten/homography';
import { placeSchema, quadSchema } from '../straighten/places';

const id = z.string().min(1).max(40).describe('Name of this item within the recipe');
const itemName = z
  .string()
  .trim()
  .min(1, 'Give it a name.')
  .max(100, 'A name has at most 100 characters.')
  .describe('Name');

/** Four corners that frame something: they must not cross, nor lie on one line. */
const frameSchema = quadSchema.superRefine((quad, context) => {
  const fault = faultOfQuad(quad as Quad);
  if (fault) context.addIssue({ code: 'custom', message: fault });
});

const areaSchema = z
  .object({
    id,
    name: itemName,
    corners: frameSchema,
    leftOut: z.boolean().default(false).describe('Kept, but not used'),
  })
  .describe('An area picked out of the picture and straightened by itself');

const markSchema = z
  .discriminatedUnion('kind', [
    z.object({
      id,
      kind: z.literal('stroke').describe('A stroke of the brush'),
      points: z.array(placeSchema).min(1).max(5000).describe('Places along the stroke'),
      width: z
        .number()
        .min(0.0002, 'A brush is at least 1/5000 of the picture wide.')
        .max(1, 'A brush is at most as wide as the picture.')
        .describe('Width of the brush in shares of the longer side of the picture'),
      erase: z.boolean().default(false).describe('Takes away instead of adding'),
    }),
    z.object({
      id,
      kind: z.literal('outline').describe('An area by its outline'),
      points: z
        .array(placeSchema)
        .min(3, 'An outline needs at least three corners.')
        .max(5000)
        .describe('Corners of the outline'),
      erase: z.boolean().default(false).describe('Takes away instead of adding'),
    }),
  ])
  .describe('A painted mark; later marks lie over earlier ones');

const holdLineSchema = z
  .object({
    id,
    points: z
      .array(placeSchema)
      .min(2, 'A hold line needs two ends.')
      .max(5000)
      .describe('Places along the line'),
    width: z.number().min(0.0002).max(1).describe('Width in shares of the longer side of the picture'),
  })
  .describe('A structure that must run on unbroken across the repeat');

const partSchema = z
  .object({
    id,
    name: itemName,
    picks: z
      .array(
        z.object({
          at: placeSchema,
          lab: z.tuple([z.number(), z.number(), z.number()]).describe('CIELAB that was read there'),
          add: z.boolean().describe('true: belongs to the part; false: does not'),
        }),
      )
      .min(1, 'A part needs at least one colour.')
      .max(60, 'At most 60 colours.')
      .describe('Colours that were clicked'),
    tolerance: z
      .number()
      .min(0.5, 'A tolerance is at least 0.5.')
      .max(100, 'A tolerance is at most 100.')
      .describe('How far a colour may differ, as distance in CIELAB'),
    growMm: z.number().min(-1000).max(1000).describe('Grown outwards, negative drawn in, mm'),
    softenMm: z.number().min(0).max(1000).describe('Width of the soft edge, mm'),
  })
  .describe('A part of the finish by colour: joint, face, chip, thread');

/** How the first picture of a finish is straightened, picked apart and marked. Places are shares of the picture. */
export const sampleSchema = z
  .object({
    bowLines: z
      .array(
        z.array(placeSchema).min(3, 'A line that should be straight needs at least three points.').max(200),
      )
      .max(40)
      .describe('Points along edges that are straight in truth: they tell the bow of the lens'),
    frame: frameSchema
      .nullable()
      .describe('Four corners that become a true rectangle; null: the whole picture'),
    areas: z.array(areaSchema).max(200).describe('Areas picked out of the picture, in order'),
    used: z
      .string()
      .nullable()
      .describe('Id of the area that the repeat is made from; null: the whole frame'),
    keepOuts: z.array(markSchema).max(2000).describe('What must never be used: glare, stain, label, hole'),
    holdLines: z
      .array(holdLineSchema)
      .max(500)
      .describe('What must run on unbroken: a joint, an edge, a stripe'),
    parts: z.array(partSchema).max(40).describe('Parts by colour'),
  })
  .superRefine((sample, context) => {
    const used = sample.used === null ? null : sample.areas.find((a) => a.id === sample.used);
    if (used === undefined)
      context.addIssue({
        code: 'custom',
        path: ['used'],
        message:
          'The area to be used is not among the picked areas. Name one of them, or null for the whole frame.',
      });
    else if (used?.leftOut)
      context.addIssue({
        code: 'custom',
        path: ['used'],
        message: `The area "${used.name}" is left out and cannot be used. Take it in again, or use another one.`,
      });
  })
  .describe('The sample: straightened, picked apart, marked');

export type SampleSettings = z.infer<typeof sampleSchema>;
export type PickedArea = z.infer<typeof areaSchema>;
export type Mark = z.infer<typeof markSchema>;
export type HoldLine = z.infer<typeof holdLineSchema>;
export type Part = z.infer<typeof partSchema>;

export const UNTOUCHED_SAMPLE: SampleSettings = {
  bowLines: [],
  frame: null,
  areas: [],
  used: null,
  keepOuts: [],
  holdLines: [],
  parts: [],
};

/** What a map of a set shows. */
export const MAP_ROLES = [
  'colour',
  'height',
  'normal',
  'roughness',
  'gloss',
  'metalness',
  'occlusion',
  'opacity',
] as const;
export type MapRole = (typeof MAP_ROLES)[number];

/** Which way the green channel of a normal map counts: up the picture (as glTF has it) or down it. */
export const GREEN_RUNS = ['up', 'down'] as const;
export type GreenRuns = (typeof GREEN_RUNS)[number];

export const sourceMapSchema = z
  .object({
    sampleId: z.string().min(1).max(100).describe('The picture'),
    role: z.enum(MAP_ROLES).describe('What it shows'),
    greenRuns: z.enum(GREEN_RUNS).default('up').describe('Of a normal map: which way green counts'),
  })
  .describe('A map of the same surface as the first picture; it shares its size and placement');
export type SourceMap = z.infer<typeof sourceMapSchema>;
