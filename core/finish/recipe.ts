import { z } from 'zod';
import { labToXyz } from '../colour';
import { PLAIN_REPEAT, repeatSchema } from '../repeat/settings';
import { colourSchema, PLAIN_COLOUR } from '../light/settings';
import { ZERO_LEVELS } from '../relief/height';
import { sampleSchema, sourceMapSchema, UNTOUCHED_SAMPLE } from '../sample/settings';
import { NO_SIZE, sizeSchema } from '../size/settings';
import { figure, figureSchema } from '../units';

/**
 * The recipe of a finish: sources and the settings of its stages in working order. Everything in it is in mm, degrees,
 * GU and LRV, never in pixels, so that a draft and a handover are the same finish.
 */

export const SCHEMA_ID = 'jossel.finish/5';

const band = (what: string) =>
  z
    .number()
    .min(-4, 'An amount lies between −4 and 4.')
    .max(4, 'An amount lies between −4 and 4.')
    .describe(`${what}: signed amount, 1 as it is, 0 none`);
const wavelength = (what: string) =>
  z
    .number()
    .min(0.01, 'A wavelength is at least 0.01 mm.')
    .max(100000, 'A wavelength is at most 100 000 mm.')
    .describe(`${what}, mm`);

export const recipeSchema = z
  .object({
    schema: z.literal(SCHEMA_ID).describe('Version of this recipe'),
    source: z
      .object({
        kind: z.literal('samples').describe('The finish is made from pictures'),
        sampleIds: z
          .array(z.string().min(1).max(100))
          .max(50)
          .describe('Pictures of this finish; the first one is used'),
        maps: z
          .array(sourceMapSchema)
          .max(20)
          .default([])
          .describe('Further maps of the surface in the first picture; all share its size and placement'),
      })
      .describe('Where the finish comes from'),
    sample: sampleSchema,
    size: sizeSchema,
    colour: colourSchema,
    repeat: repeatSchema,
    relief: z
      .object({
        source: z
          .enum(['picture', 'map'])
          .describe('picture: height is read from lightness; map: from the height or normal map of the set'),
        broad: band('Broad detail'),
        middle: band('Middle detail'),
        fine: band('Fine detail'),
        broadFromMm: wavelength('Wavelength from which detail is broad'),
        fineBelowMm: wavelength('Wavelength below which detail is fine'),
        smoothMm: z.number().min(0).max(1000).describe('Detail shorter than this is smoothed, mm'),
        invert: z.boolean().describe('Dark stands out instead of going in'),
        depthMm: figureSchema('mm', 'From the deepest to the highest point of the relief'),
        zero: z.enum(ZERO_LEVELS).describe('Which level stays in place when the depth changes'),
      })
      .refine((r) => r.fineBelowMm < r.broadFromMm, {
        message: 'Fine detail must end below where broad detail begins.',
        path: ['fineBelowMm'],
      })
      .describe('Relief'),
    response: z
      .object({
        glossGu: figureSchema('GU', 'Gloss at 60°'),
        index: figureSchema('1', 'Refractive index of the surface'),
        metal: z.boolean().describe('The surface is bare metal; its colour is its reflectance'),
      })
      .describe('How the surface answers light'),
  })
  .describe('Recipe of a finish');

export type Recipe = z.infer<typeof recipeSchema>;

/** The parts of a finish, in working order; checks and ledger sections are named after them. */
export const SECTIONS = ['sample', 'size', 'colour', 'repeat', 'relief', 'response', 'revision'] as const;
export type Section = (typeof SECTIONS)[number];

/** What a category's finishes are usually like: a place to start from, marked *assumed*. */
export const CATEGORIES = {
  timber: { name: 'Timber', glossGu: 12, depthMm: 0.3, metal: false },
  ceramic: { name: 'Ceramic', glossGu: 80, depthMm: 0.4, metal: false },
  brick: { name: 'Brick and clay', glossGu: 4, depthMm: 2, metal: false },
  stone: { name: 'Stone', glossGu: 15, depthMm: 0.2, metal: false },
  plaster: { name: 'Plaster and render', glossGu: 3, depthMm: 0.8, metal: false },
  concrete: { name: 'Concrete', glossGu: 4, depthMm: 0.5, metal: false },
  textile: { name: 'Textile', glossGu: 1, depthMm: 0.8, metal: false },
  metal: { name: 'Metal', glossGu: 150, depthMm: 0.02, metal: true },
  resilient: { name: 'Linoleum, rubber, cork', glossGu: 8, depthMm: 0.1, metal: false },
  other: { name: 'Other', glossGu: 10, depthMm: 0.2, metal: false },
} as const;
export type Category = keyof typeof CATEGORIES;
export const CATEGORY_IDS = Object.keys(CATEGORIES) as [Category, ...Category[]];

/** Lengths that a new finish begins with; they go with the size of what the repeat is made from. */
function lengthsFor(usedMm: { width: number; height: number }) {
  const round = (mm: number) => Math.max(0.01, Number(mm.toPrecision(2)));
  const shortMm = Math.min(usedMm.width, usedMm.height);
  return {
    overlapAcrossMm: round(usedMm.width / 8),
    overlapUpMm: round(usedMm.height / 8),
    broadFromMm: round(shortMm / 12),
    fineBelowMm: round(shortMm / 80),
  };
}

/**
 * A recipe whose size has become known, or another: lengths that nobody has touched since it began are set anew for the
 * new size; all others stay as they were typed.
 * @param recipe with its new size
 * @param before size of the used part that the lengths were made for
 * @param after its size now
 */
export function refitLengths(
  recipe: Recipe,
  before: { width: number; height: number },
  after: { width: number; height: number },
): Recipe {
  const [was, now] = [lengthsFor(before), lengthsFor(after)];
  const fit = (value: number, key: keyof typeof was) => (value === was[key] ? now[key] : value);
  const { repeat, relief } = recipe;
  return {
    ...recipe,
    repeat: {
      ...repeat,
      across: { ...repeat.across, overlapMm: fit(repeat.across.overlapMm, 'overlapAcrossMm') },
      up: { ...repeat.up, overlapMm: fit(repeat.up.overlapMm, 'overlapUpMm') },
    },
    relief: {
      ...relief,
      broadFromMm: fit(relief.broadFromMm, 'broadFromMm'),
      fineBelowMm: fit(relief.fineBelowMm, 'fineBelowMm'),
    },
  };
}

/** Figures of a supplier's data sheet, as far as it gives them. */
export interface PublishedSheet {
  /** Of one piece. */
  widthMm?: number;
  heightMm?: number;
  jointMm?: number;
  thicknessMm?: number;
  lrv?: number;
  lab?: [number, number, number];
  glossGu?: number;
  reliefMm?: number;
}

/** A sheet's size is that of one piece; it is taken for the picture's when their proportions agree this well. */
const PIECE_FILLS_PICTURE = 0.06;

/**
 * The recipe a new finish begins with. All its figures are marked *assumed*, except a size read from the file, and
 * those of a data sheet, which are *published*.
 * @param sampleIds its pictures
 * @param category what kind of finish it is
 * @param sample pixels of the first picture, its resolution tag and its data sheet, when it has them
 */
export function defaultRecipe(
  sampleIds: string[],
  category: Category,
  sample?: { widthPx: number; heightPx: number; pxPerMm?: number | undefined; sheet?: PublishedSheet },
): Recipe {
  const usual = CATEGORIES[category];
  const sheet = sample?.sheet ?? {};
  const published = <U extends 'mm' | 'LRV' | 'GU'>(value: number, unit: U) =>
    figure(value, unit, 'published', undefined, 'Data sheet of the supplier');
  const piece =
    sample &&
    sheet.widthMm &&
    sheet.heightMm &&
    Math.abs((sheet.widthMm / sheet.heightMm) * (sample.heightPx / sample.widthPx) - 1) < PIECE_FILLS_PICTURE;
  const lrv = sheet.lrv ?? (sheet.lab && Number((100 * labToXyz(sheet.lab)[1]).toFixed(1)));
  const tagged = sample?.pxPerMm ? sample.widthPx / sample.pxPerMm : 0;
  const known = tagged >= 10 && tagged <= 20000;
  const widthMm = piece ? sheet.widthMm! : known ? tagged : 1000;
  const heightMm = sample ? (widthMm * sample.heightPx) / sample.widthPx : widthMm;
  const usualLengths = lengthsFor({ width: widthMm, height: heightMm });
  return {
    schema: SCHEMA_ID,
    source: { kind: 'samples', sampleIds, maps: [] },
    sample: UNTOUCHED_SAMPLE,
    size: piece
      ? {
          ...NO_SIZE,
          ruling: { across: 'overall', up: 'overall' },
          overall: {
            across: published(sheet.widthMm!, 'mm'),
            up: published(sheet.heightMm!, 'mm'),
          },
        }
      : known
        ? {
            ...NO_SIZE,
            ruling: { across: 'resolution', up: 'resolution' },
            resolution: figure(
              sample!.pxPerMm!,
              'px/mm',
              'inferred',
              undefined,
              'From the resolution stored in the file',
            ),
          }
        : {
            ...NO_SIZE,
            ruling: { across: 'overall', up: 'follows' },
            overall: { across: figure(widthMm, 'mm', 'assumed'), up: null },
          },
    colour: {
      ...PLAIN_COLOUR,
      ruling: lrv === undefined ? 'picture' : 'lrv',
      lrv: lrv === undefined ? null : published(lrv, 'LRV'),
      colour: sheet.lab ? { lab: sheet.lab, basis: 'published', note: 'Data sheet of the supplier' } : null,
    },
    repeat: {
      ...PLAIN_REPEAT,
      across: { closing: 'blend', overlapMm: usualLengths.overlapAcrossMm },
      up: { closing: 'blend', overlapMm: usualLengths.overlapUpMm },
    },
    relief: {
      source: 'picture',
      broad: 0.3,
      middle: 1,
      fine: 0.7,
      broadFromMm: usualLengths.broadFromMm,
      fineBelowMm: usualLengths.fineBelowMm,
      smoothMm: 0,
      invert: false,
      depthMm: sheet.reliefMm ? published(sheet.reliefMm, 'mm') : figure(usual.depthMm, 'mm', 'assumed'),
      zero: 'mean',
    },
    response: {
      glossGu:
        sheet.glossGu !== undefined ? published(sheet.glossGu, 'GU') : figure(usual.glossGu, 'GU', 'assumed'),
      index: figure(1.5, '1', 'assumed'),
      metal: usual.metal,
    },
  };
}

type OldAxis =
  | { by: 'overall'; overallMm: unknown }
  | { by: 'count'; modules: unknown; moduleMm: unknown; jointMm: unknown; ends: unknown }
  | { by: 'follows' };

/** Version 1 knew one way per axis; it rules in version 2, where several can stand side by side. */
function fromVersion1(recipe: Record<string, unknown>): Record<string, unknown> {
  const old = (recipe['size'] ?? {}) as Record<'across' | 'up', OldAxis | undefined>;
  const size: Record<string, unknown> = JSON.parse(JSON.stringify(NO_SIZE)) as Record<string, unknown>;
  for (const axis of ['across', 'up'] as const) {
    const { by, ...rest } = (old[axis] ?? {}) as OldAxis & Record<string, unknown>;
    (size['ruling'] as Record<string, unknown>)[axis] = by;
    if (by === 'overall') (size['overall'] as Record<string, unknown>)[axis] = rest['overallMm'];
    if (by === 'count') (size['count'] as Record<string, unknown>)[axis] = rest;
  }
  return {
    ...recipe,
    schema: 'jossel.finish/2',
    source: { ...(recipe['source'] as object), maps: [] },
    sample: UNTOUCHED_SAMPLE,
    size,
  };
}

/** Version 2 knew a light reflectance value only; where one was given, it ruled. */
function fromVersion2(recipe: Record<string, unknown>): Record<string, unknown> {
  const lrv = ((recipe['colour'] ?? {}) as { lrv?: unknown }).lrv ?? null;
  return {
    ...recipe,
    schema: 'jossel.finish/3',
    colour: { ...PLAIN_COLOUR, ruling: lrv === null ? 'picture' : 'lrv', lrv },
  };
}

/** Version 3 knew closing at the edges only. */
const fromVersion3 = (recipe: Record<string, unknown>): Record<string, unknown> => ({
  ...recipe,
  schema: 'jossel.finish/4',
  repeat: { ...PLAIN_REPEAT, ...(recipe['repeat'] as object) },
});

/** Version 4 composed from one picture, and laid nothing anew. */
function fromVersion4(recipe: Record<string, unknown>): Record<string, unknown> {
  const repeat = recipe['repeat'] as { compose?: object; arrangements?: object[] };
  return {
    ...recipe,
    schema: SCHEMA_ID,
    repeat: {
      ...PLAIN_REPEAT,
      ...repeat,
      compose: { ...PLAIN_REPEAT.compose, ...repeat.compose },
      arrangements: (repeat.arrangements ?? PLAIN_REPEAT.arrangements).map((a) => ({ redone: [], ...a })),
    },
  };
}

/** Older recipes are brought up to date here, one pure step per version; the newest passes through. */
const MIGRATIONS: Record<string, (recipe: Record<string, unknown>) => Record<string, unknown>> = {
  'jossel.finish/1': fromVersion1,
  'jossel.finish/2': fromVersion2,
  'jossel.finish/3': fromVersion3,
  'jossel.finish/4': fromVersion4,
};

/**
 * Reads a stored recipe of any version.
 * @throws ZodError that names what is wrong and where
 */
export function openRecipe(stored: unknown): Recipe {
  let recipe = stored as Record<string, unknown>;
  for (let steps = 0; steps < 100 && recipe && typeof recipe === 'object'; steps++) {
    const migrate = MIGRATIONS[String(recipe['schema'])];
    if (!migrate) break;
    recipe = migrate(recipe);
  }
  return recipeSchema.parse(recipe);
}

/** JSON Schema (2020-12) of the recipe, with a description on every field. */
export const recipeJsonSchema = (): unknown => z.toJSONSchema(recipeSchema, { io: 'input' });
