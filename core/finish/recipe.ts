import { z } from 'zod';
import { basesIn, familyOf, generatedSchema, type GeneratedSettings } from '../generate';
import { basisOfColour, colourSchema, plainLight } from '../light/settings';
import { finishesIn, layoutSchema, type LayoutSettings } from '../layout/settings';
import { reliefSchema } from '../relief/settings';
import { repeatSchema } from '../repeat/settings';
import { responseSchema } from '../response/settings';
import { sourcesSchema, type PictureSource } from '../sources/settings';
import { Refusal } from '../surface';
import { weakestBasis, type Basis } from '../units';
import { finishesOfLayers, weatheringSchema, type WeatheringSettings } from '../weathering/settings';
import { from1, type StoredRecipe } from './versions/from-1';
import { from2 } from './versions/from-2';
import { from3 } from './versions/from-3';
import { from4 } from './versions/from-4';
import { from5 } from './versions/from-5';

/**
 * The recipe of a finish: its sources, and the settings of its stages in working order. Everything in it is in mm,
 * degrees, GU and LRV, never in pixels, so that a draft and a handover are the same finish.
 */

export const SCHEMA_ID = 'jossel.finish/6';

export const recipeSchema = z
  .object({
    schema: z.literal(SCHEMA_ID).describe('Version of this recipe'),
    sources: sourcesSchema,
    generated: generatedSchema
      .nullable()
      .default(null)
      .describe('What the finish is generated as in place of pictures; null: it is made of its pictures'),
    repeat: repeatSchema,
    layout: layoutSchema
      .nullable()
      .default(null)
      .describe('Pieces that the finish is laid of; null: it is not'),
    colour: colourSchema,
    weathering: weatheringSchema.default([]),
    relief: reliefSchema,
    response: responseSchema,
    derived: z
      .object({
        finishId: z.string().min(1).max(60).describe('Id of the finish that it was started from'),
        letter: z
          .string()
          .regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …')
          .describe('Its revision'),
        name: z.string().min(1).max(200).describe('Name of that finish then'),
        recipe: z.unknown().describe('Recipe of that revision'),
      })
      .nullable()
      .default(null)
      .describe('The revision of another finish that this one was started from; null: none'),
  })
  .superRefine(({ sources, repeat, layout, weathering }, context) => {
    for (const issue of faultsOfFinishes(layout as LayoutSettings | null, weathering))
      context.addIssue(issue);
    for (const [k, { source: id }] of repeat.from.entries())
      if (!sources.some((s) => s.id === id))
        context.addIssue({
          code: 'custom',
          path: ['repeat', 'from', k, 'source'],
          message: `There is no source "${id}". Name one of the sources.`,
        });
    const lead = sources.findIndex((s) => s.id === repeat.from[0]?.source);
    if (lead >= 0 && !sources[lead]!.size)
      context.addIssue({
        code: 'custom',
        path: ['sources', lead, 'size'],
        message: 'The picture that leads the repeat needs a size of its own.',
      });
  })
  .describe('Recipe of a finish');

/** Every other finish that a recipe names, and where. */
const othersIn = (layout: LayoutSettings | null | undefined, weathering: WeatheringSettings = []) => [
  ...(layout
    ? finishesIn(layout).map(({ finish, path }) => ({
        finish,
        path: ['layout', ...path] as (string | number)[],
      }))
    : []),
  ...finishesOfLayers(weathering).map(({ finish, path }) => ({ finish, path: ['weathering', ...path] })),
];

/** What is wrong with the recipes of other finishes that a recipe names. */
function faultsOfFinishes(layout: LayoutSettings | null, weathering: WeatheringSettings) {
  return othersIn(layout, weathering).flatMap(({ finish, path }) => {
    const fault = (message: string) => [{ code: 'custom' as const, path: [...path, 'recipe'], message }];
    try {
      const own = openRecipe(finish.recipe);
      return othersIn(own.layout, own.weathering).length > 0
        ? fault(
            `${finish.name} is itself made of other finishes, and cannot be used in another one. Take one that is made of its own faces.`,
          )
        : [];
    } catch (error) {
      if (!(error instanceof z.ZodError)) throw error;
      return fault(`The recipe of ${finish.name} cannot be read: ${error.issues[0]!.message}`);
    }
  });
}

export type Recipe = Omit<z.infer<typeof recipeSchema>, 'layout' | 'generated'> & {
  layout: LayoutSettings | null;
  generated: GeneratedSettings | null;
};

/**
 * The picture that leads the repeat: its size is the finish's. Undefined: the finish is generated, or has no picture yet.
 */
export const leadingPicture = ({
  sources,
  repeat,
  generated,
}: Pick<Recipe, 'sources' | 'repeat'> & Partial<Pick<Recipe, 'generated'>>): PictureSource | undefined =>
  generated ? undefined : (sources.find((s) => s.id === repeat.from[0]?.source) ?? sources[0]);

/** Whether there is something that the finish can be computed from. */
export const hasSource = (recipe: Pick<Recipe, 'sources' | 'repeat' | 'generated'>): boolean =>
  recipe.generated !== null || recipe.repeat.from.length > 0;

/** The picture that leads the repeat. @throws Refusal when the finish has none yet */
export function lead(
  recipe: Pick<Recipe, 'sources' | 'repeat'> & Partial<Pick<Recipe, 'generated'>>,
): PictureSource {
  const picture = leadingPicture(recipe);
  if (picture) return picture;
  if (recipe.generated)
    throw new Refusal(
      'generated',
      'This finish is generated and has no sample; this is for pictures only.',
      'sources',
    );
  throw new Refusal('no-picture', 'This finish has no sample yet. Add a picture to it first.', 'sources');
}

/** Areas of a picture that pieces are cut from: all that are picked and not left out. */
export const usableAreas = ({ preparation }: Pick<PictureSource, 'preparation'>) =>
  preparation.areas.filter((a) => !a.leftOut);

/** The pictures that are needed to compute a finish, the leading one first. */
export function neededSamples({ sources, repeat, layout, generated, weathering }: NamesSamples): string[] {
  const ofOthers = samplesOfOthers(layout, weathering, neededSamples);
  if (generated) return [...new Set(ofOthers)];
  const from = repeat.method === 'composed' ? repeat.from : repeat.from.slice(0, 1);
  const ofRepeat = from.flatMap(({ source: id }) => sources.filter((s) => s.id === id));
  const ofPieces = layout?.faces.from === 'areas' ? sources.filter((s) => usableAreas(s).length > 0) : [];
  const used = [...ofRepeat, ...ofPieces];
  const own = used.flatMap((s) => [s.sampleId, ...s.maps.map((m) => m.sampleId)]);
  return [...new Set([...own, ...ofOthers])];
}

/** All pictures that a recipe names, used or not, in order. */
export const namedSamples = ({ sources, layout, weathering }: Omit<NamesSamples, 'repeat'>): string[] => [
  ...new Set([
    ...sources.map((s) => s.sampleId),
    ...sources.flatMap((s) => s.maps.map((m) => m.sampleId)),
    ...samplesOfOthers(layout, weathering, neededSamples),
  ]),
];

/** What of a recipe names pictures. */
type NamesSamples = Pick<Recipe, 'sources' | 'repeat'> &
  Partial<Pick<Recipe, 'layout' | 'generated' | 'weathering'>>;

/** Pictures of other finishes that a layout or a layer is made of. */
const samplesOfOthers = (
  layout: LayoutSettings | null | undefined,
  weathering: WeatheringSettings | undefined,
  samplesOf: (recipe: Recipe) => string[],
): string[] => othersIn(layout, weathering).flatMap(({ finish }) => samplesOf(openRecipe(finish.recipe)));

/** Former versions are brought up to date here, one step per version; the newest passes through. */
const STEPS: Readonly<Record<string, (recipe: StoredRecipe) => StoredRecipe>> = {
  'jossel.finish/1': from1,
  'jossel.finish/2': from2,
  'jossel.finish/3': from3,
  'jossel.finish/4': from4,
  'jossel.finish/5': from5,
};

/**
 * Reads a stored recipe of any version.
 * @throws ZodError that names what is wrong and where
 */
export function openRecipe(stored: unknown): Recipe {
  let recipe = stored;
  for (;;) {
    const step = STEPS[String((recipe as StoredRecipe | null)?.['schema'])];
    if (!step) return recipeSchema.parse(recipe);
    recipe = stepped(step, recipe as StoredRecipe);
  }
}

/** One step; what a damaged recipe makes it fail on is left to the schema to name. */
function stepped(step: (recipe: StoredRecipe) => StoredRecipe, recipe: StoredRecipe): unknown {
  try {
    return step(recipe);
  } catch (error) {
    if (error instanceof TypeError) return { ...recipe, schema: `${String(recipe['schema'])}, damaged` };
    throw error;
  }
}

/** JSON Schema (2020-12) of the recipe, with a description on every field. */
export const recipeJsonSchema = (): unknown => z.toJSONSchema(recipeSchema, { io: 'input' });

/** What the colour of a finish rests on: the figure that governs, the balance of its picture, or the colours it is generated from. */
export function basisOfFinish(recipe: Recipe): Basis {
  const { colour, generated } = recipe;
  if (generated && colour.ruling === 'picture')
    return weakestBasis(...basesIn(familyOf(generated.kind).settings, generated));
  return basisOfColour(colour, leadingPicture(recipe)?.light ?? plainLight());
}
