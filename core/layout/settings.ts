import { z } from 'zod';
import { figure, figureSchema } from '../units';
import { BONDS, bondOf } from './bonds';
import { INITIAL_SETTINGS } from './bonds/initial-settings';

/** How a finish is laid of pieces. */

/** What is struck into a joint, or left of it. */
export const PROFILES = ['flush', 'bucket-handle', 'recessed', 'weather-struck', 'v', 'open'] as const;
export type JointProfile = (typeof PROFILES)[number];

/** How the arrises of a piece are worked. */
export const ARRISES = ['square', 'round', 'bevel', 'tumbled', 'chipped'] as const;
export type ArrisForm = (typeof ARRISES)[number];

/** How faces are worked. */
export const WORKINGS = [
  'as-sampled',
  'honed',
  'sawn',
  'brushed',
  'riven',
  'bush-hammered',
  'flamed',
  'blasted',
  'wire-cut',
  'hand-moulded',
] as const;
export type Working = (typeof WORKINGS)[number];

const workingSchema = z
  .object({
    kind: z
      .enum(WORKINGS)
      .describe(
        'as-sampled: as the relief has them; honed: level, whatever the relief has; all others add what the tool leaves',
      ),
    depthMm: z
      .number()
      .min(0, 'A depth is 0 mm or more.')
      .max(30, 'What a tool leaves is at most 30 mm deep.')
      .describe('How deep the tool works, from the highest to the lowest place about, mm'),
  })
  .describe('Working of the faces');

const labSchema = z
  .tuple([z.number().min(0).max(100), z.number().min(-128).max(128), z.number().min(-128).max(128)])
  .describe('CIELAB, D65, 2°: L*, a*, b*');

/** Another finish, as it was issued: it stays as it was when that finish changes. */
export const laidFinishSchema = z
  .object({
    finishId: z.string().min(1).max(60).describe('Id of the finish'),
    letter: z
      .string()
      .regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …')
      .describe('Its revision'),
    name: z.string().min(1).max(200).describe('Name of the finish then'),
    recipe: z.unknown().describe('Recipe of that revision'),
    versions: z
      .record(z.string(), z.number().int().min(1))
      .describe('Version of every stage that it was issued by'),
  })
  .describe('Another finish at an issued revision');
export type LaidFinish = z.infer<typeof laidFinishSchema>;

const jointSchema = z
  .object({
    alongMm: figureSchema('mm', 'Width of the joints that run along the pieces', true),
    acrossMm: figureSchema('mm', 'Width of the joints across, at the ends of the pieces', true),
    depthMm: figureSchema('mm', 'How far the joint lies below the faces', true),
    profile: z.enum(PROFILES).describe('Section of the joint'),
    lab: labSchema,
    glossGu: z.number().min(0).max(100).describe('Gloss of the joint at 60°, GU'),
    grainMm: z.number().min(0).max(20).describe('Height of the grain of the joint, mm'),
    finish: laidFinishSchema
      .nullable()
      .default(null)
      .describe('The finish that joints are made of; null: the plain colour, gloss and grain'),
  })
  .describe('Joints');

const arrisSchema = z
  .object({
    form: z
      .enum(ARRISES)
      .describe(
        'square; round: pencil-round; bevel; tumbled: worn round unevenly; chipped: with chips broken out',
      ),
    sizeMm: figureSchema('mm', 'Width of the arris', true),
    sides: z.enum(['all', 'long']).describe('all: every side; long: the sides along the piece'),
    uneven: z.number().min(0).max(1).describe('How much the width of the arris changes along it, 0–1'),
    bodyLab: labSchema
      .nullable()
      .default(null)
      .describe('Colour of the body, which shows where the arris is worn; null: the face goes on over it'),
  })
  .describe('Arrises');

/** Grades of shade variation as the tile trade tells them, as a spread of lightness (one standard deviation of ΔL*). */
export const SHADE_GRADES = { V1: 0.4, V2: 1.4, V3: 3.2, V4: 6 } as const;
export type ShadeGrade = keyof typeof SHADE_GRADES;

const shadeSchema = z
  .object({
    lightness: z.number().min(0).max(30).describe('Standard deviation of ΔL* between pieces'),
    chroma: z.number().min(0).max(30).describe('Standard deviation of ΔC*ab between pieces'),
    hueDeg: z.number().min(0).max(60).describe('Standard deviation of Δh between pieces, degrees'),
    drift: z
      .number()
      .min(0)
      .max(30)
      .default(0)
      .describe(
        'Drift of L* along the run that pieces are laid from: from the darkest to the lightest course, and back, so that the repeat closes',
      ),
  })
  .describe('Shade variation between pieces');

const toleranceSchema = z
  .object({
    lippageMm: z
      .number()
      .min(0)
      .max(20)
      .describe('How far the face of a piece stands above its neighbours, at most, mm'),
    tiltMm: z.number().min(0).max(20).describe('Rise of a face from one side to the other, at most, mm'),
    turnDeg: z.number().min(0).max(10).describe('How far a piece is turned from its place, at most, degrees'),
    sizeMm: z.number().min(0).max(20).describe('How far the size of a piece differs, at most, mm'),
  })
  .describe('Tolerances of laying');

export const BLEND_RULES = ['scattered', 'intervals', 'courses', 'chequer', 'border'] as const;
export type BlendRule = (typeof BLEND_RULES)[number];

const blendSchema = z
  .object({
    rule: z
      .enum(BLEND_RULES)
      .describe(
        'scattered without clumps; intervals: every so many pieces of a course, each course shifted by half; courses: in bands of courses; chequer; border: along the edges of the repeat',
      ),
    others: z
      .array(
        z.object({
          id: z.string().min(1).max(40).describe('Name within the recipe'),
          name: z.string().min(1).max(120).describe('Name of this kind of piece'),
          share: z
            .number()
            .min(0, 'A share is from 0 to 100 %.')
            .max(100, 'A share is from 0 to 100 %.')
            .describe('Share of the pieces, percent'),
          kind: z
            .string()
            .max(40)
            .nullable()
            .describe(
              'All pieces of this kind of the bond, for instance header or dot; null: by share and rule',
            ),
          lab: labSchema.nullable().describe('A plain colour; null: faces of the finish, shifted'),
          finish: laidFinishSchema
            .nullable()
            .default(null)
            .describe(
              'Another finish that these pieces are cut from; null: the plain colour or the finish itself',
            ),
          shift: z
            .tuple([z.number().min(-60).max(60), z.number().min(-60).max(60), z.number().min(-60).max(60)])
            .describe('Shift of the faces of the finish in CIELAB: ΔL*, Δa*, Δb*'),
        }),
      )
      .max(12)
      .describe('Kinds of piece beside those of the finish itself'),
  })
  .refine(({ others }) => others.reduce((sum, o) => sum + (o.kind === null ? o.share : 0), 0) <= 100 + 1e-9, {
    path: ['others'],
    message: 'The shares come to more than 100 %. Lower some of them.',
  })
  .describe('Blend of several kinds of piece');

const facesSchema = z
  .object({
    from: z
      .enum(['repeat', 'areas'])
      .describe(
        'repeat: cut anywhere from the repeat of the finish; areas: the picked areas of its pictures, one to a piece',
      ),
    halfTurn: z.boolean().describe('Whether a face may be turned by 180°'),
    mirror: z.boolean().describe('Whether a face may be mirrored'),
    grainDeg: z
      .number()
      .min(-360)
      .max(360)
      .describe('Direction of the grain in the picture, anticlockwise from x'),
  })
  .describe('Where pieces take their picture from');

const BOND_SCHEMAS = BONDS.map((b) =>
  (b.settings as z.ZodObject).extend({ kind: z.literal(b.kind).describe(b.name) }),
);

export const layoutSchema = z
  .object({
    bond: z
      .discriminatedUnion(
        'kind',
        BOND_SCHEMAS as unknown as [z.ZodObject<{ kind: z.ZodLiteral<string> }>],
        `There is no such bond. Bonds are ${BONDS.map((b) => b.kind).join(', ')}.`,
      )
      .describe('The bond or laying pattern, with its settings'),
    piece: z
      .object({
        lengthMm: figureSchema('mm', 'Length of a piece'),
        widthMm: figureSchema('mm', 'Width of a piece'),
      })
      .describe('Size of a piece without its joints'),
    joint: jointSchema,
    repeatMm: z
      .object({
        width: z.number().min(1, 'A repeat is at least 1 mm long.').max(1e6).describe('Width, mm'),
        height: z.number().min(1, 'A repeat is at least 1 mm long.').max(1e6).describe('Height, mm'),
      })
      .describe('Size of the repeat that is wanted; the nearest that closes is laid'),
    turnedDeg: z
      .union(
        [z.literal(0), z.literal(45), z.literal(90), z.literal(135)],
        'A layout is turned by 0, 45, 90 or 135°.',
      )
      .describe('By how much the whole layout is turned anticlockwise, degrees'),
    faces: facesSchema,
    blend: blendSchema,
    arris: arrisSchema,
    working: workingSchema.default({ kind: 'as-sampled', depthMm: 0.5 }),
    shade: shadeSchema,
    tolerance: toleranceSchema,
    seed: z.number().int().min(0).max(0x7fffffff).describe('Seed of all random choices'),
  })
  .describe('How the finish is laid of pieces');

export type LayoutSettings = Omit<z.infer<typeof layoutSchema>, 'bond'> & {
  bond: { kind: string } & Record<string, unknown>;
};

/** Initial settings of a bond. */
export const initialBond = (kind: string): LayoutSettings['bond'] => ({ kind, ...INITIAL_SETTINGS[kind] });

/** Light grey mortar. */
const MORTAR: [number, number, number] = [62, 0.5, 4];

/** A new layout: typical sizes of the bond, assumed. */
export function initialLayout(kind: string): LayoutSettings {
  const { typical } = bondOf(kind);
  return {
    bond: initialBond(kind),
    piece: {
      lengthMm: figure(typical.lengthMm, 'mm', 'assumed'),
      widthMm: figure(typical.widthMm, 'mm', 'assumed'),
    },
    joint: {
      alongMm: figure(typical.joint.alongMm, 'mm', 'assumed'),
      acrossMm: figure(typical.joint.acrossMm, 'mm', 'assumed'),
      depthMm: figure(Math.min(2, typical.joint.alongMm / 4), 'mm', 'assumed'),
      profile: 'flush',
      lab: MORTAR,
      glossGu: 3,
      grainMm: 0.15,
      finish: null,
    },
    repeatMm: typical.repeatMm,
    turnedDeg: 0,
    faces: { from: 'repeat', halfTurn: true, mirror: false, grainDeg: 0 },
    blend: { rule: 'scattered', others: [] },
    arris: { form: 'square', sizeMm: figure(1, 'mm', 'assumed'), sides: 'all', uneven: 0, bodyLab: null },
    working: { kind: 'as-sampled', depthMm: 0.5 },
    shade: { lightness: 0, chroma: 0, hueDeg: 0, drift: 0 },
    tolerance: { lippageMm: 0, tiltMm: 0, turnDeg: 0, sizeMm: 0 },
    seed: 1,
  };
}

/** Every other finish that a layout takes pieces or joints from, and where it is named. */
export const finishesIn = ({
  blend,
  joint,
}: Pick<LayoutSettings, 'blend' | 'joint'>): { finish: LaidFinish; path: (string | number)[] }[] => [
  ...blend.others.flatMap(({ finish }, k) =>
    finish ? [{ finish, path: ['blend', 'others', k, 'finish'] }] : [],
  ),
  ...(joint.finish ? [{ finish: joint.finish, path: ['joint', 'finish'] }] : []),
];
