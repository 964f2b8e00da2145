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

const continuityLineSchema = z
  .object({
    id,
    points: z
      .array(placeSchema)
      .min(2, 'A continuity line needs two ends.')
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

/** How a picture is straightened, picked apart and marked. Places are shares of the picture. */
export const preparationSchema = z
  .object({
    bowLines: z
      .array(
        z.array(placeSchema).min(3, 'A line that should be straight needs at least three points.').max(200),
      )
      .max(40)
      .describe('Points along edges that are straight in reality: they tell the distortion of the lens'),
    frame: frameSchema
      .nullable()
      .describe('Four corners that become a true rectangle; null: the whole picture'),
    areas: z.array(areaSchema).max(200).describe('Areas picked out of the picture, in order'),
    keepOuts: z.array(markSchema).max(2000).describe('What must never be used: glare, stain, label, hole'),
    continuityLines: z
      .array(continuityLineSchema)
      .max(500)
      .describe('What must run on unbroken: a joint, an edge, a stripe'),
    parts: z.array(partSchema).max(40).describe('Parts by colour'),
  })
  .describe('A picture straightened, picked apart, marked');

export type Preparation = z.infer<typeof preparationSchema>;
export type PickedArea = z.infer<typeof areaSchema>;
export type Mark = z.infer<typeof markSchema>;
export type ContinuityLine = z.infer<typeof continuityLineSchema>;
export type Part = z.infer<typeof partSchema>;

/** How a picture is straightened, without what is marked in it. */
export const straightenSchema = preparationSchema
  .pick({ bowLines: true, frame: true })
  .describe('Lens distortion and the four corners that become a true rectangle');

/** A picture as received. */
export const unprepared = (): Preparation => ({
  bowLines: [],
  frame: null,
  areas: [],
  keepOuts: [],
  continuityLines: [],
  parts: [],
});

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
  .describe('A further map of the surface in a picture; it shares its size and placement');
export type SourceMap = z.infer<typeof sourceMapSchema>;
