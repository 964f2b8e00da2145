import { canonicalJson } from '../surface';
import { openRecipe, type Recipe } from './recipe';

/** A finish that was started from another one: what differs, and how a later revision of the other is taken over. */

/** Sections of a recipe that can differ, with their names. */
const SECTIONS = {
  sources: 'Sample',
  generated: 'Sample',
  colour: 'Colour',
  repeat: 'Repeat',
  layout: 'Layout',
  weathering: 'Weathering',
  relief: 'Relief',
  response: 'Response',
} as const satisfies Partial<Record<keyof Recipe, string>>;
type SectionKey = keyof typeof SECTIONS;
const KEYS = Object.keys(SECTIONS) as SectionKey[];

/** A setting in which a finish differs from the one that it is derived from. */
export interface Difference {
  /** Section of the ledger. */
  section: string;
  /** Path of the setting in the recipe, steps joined by dots. */
  path: string;
  here: unknown;
  there: unknown;
}

type Json = Record<string, unknown>;
const isRecord = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const same = (a: unknown, b: unknown) => canonicalJson(a ?? null) === canonicalJson(b ?? null);
/** A figure differs as a whole: a value with another basis is another figure. */
const isWhole = (v: unknown) => isRecord(v) && ('unit' in v || Array.isArray(v['lab']));
/** Things of a list that are named. */
const named = (v: unknown): v is (Json & { id: string })[] =>
  Array.isArray(v) && v.length > 0 && v.every((item) => isRecord(item) && typeof item['id'] === 'string');

/** A list of named things by their names, so that moving or adding one does not count as changing the others. */
const byName = (list: (Json & { id: string })[]): Json =>
  Object.fromEntries(list.map((item) => [item.id, item]));

/** All settings in which a recipe differs from the one it is derived from; none where it is not derived. */
export function differencesFrom(recipe: Recipe): Difference[] {
  const { derived } = recipe;
  if (!derived) return [];
  const there = openRecipe(derived.recipe);
  return KEYS.flatMap((key) =>
    pathsThatDiffer(recipe[key], there[key]).map(({ path, here, there: other }) => ({
      section: SECTIONS[key],
      path: [key, ...path].join('.'),
      here,
      there: other,
    })),
  );
}

function pathsThatDiffer(here: unknown, there: unknown): { path: string[]; here: unknown; there: unknown }[] {
  if (same(here, there)) return [];
  const [a, b] = [named(here) ? byName(here) : here, named(there) ? byName(there) : there];
  if (!isRecord(a) || !isRecord(b) || isWhole(a) || isWhole(b)) return [{ path: [], here, there }];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((key) =>
    pathsThatDiffer(a[key], b[key]).map(({ path, ...rest }) => ({ path: [key, ...path], ...rest })),
  );
}

/**
 * Takes over a later revision of the finish that a recipe is derived from: every setting in which it differs stays as it is, all
 * others become those of the later revision.
 * @param next the link to that revision
 * @throws RangeError when the recipe is not derived; ZodError when the outcome cannot be
 */
export function takenOver(recipe: Recipe, next: NonNullable<Recipe['derived']>): Recipe {
  if (!recipe.derived) throw new RangeError('This finish is not derived from another one.');
  const [before, after] = [openRecipe(recipe.derived.recipe), openRecipe(next.recipe)];
  const merged = Object.fromEntries(KEYS.map((key) => [key, mergedOf(recipe[key], before[key], after[key])]));
  return openRecipe({ ...recipe, ...merged, derived: next });
}

/** What was changed here stays; the rest follows. */
function mergedOf(here: unknown, before: unknown, after: unknown): unknown {
  if (same(here, before)) return after;
  if (same(before, after)) return here;
  if (named(here) && named(before) && named(after)) return mergedList(here, before, after);
  if (!isRecord(here) || !isRecord(before) || !isRecord(after) || isWhole(here)) return here;
  const keys = [...new Set([...Object.keys(here), ...Object.keys(after)])];
  const out = keys.map((key) => [key, mergedOf(here[key], before[key], after[key])] as const);
  return Object.fromEntries(out.filter(([, value]) => value !== undefined));
}

/** A list of named things: those added here stay, those removed here stay removed, those added there come at the end. */
function mergedList(
  here: (Json & { id: string })[],
  before: (Json & { id: string })[],
  after: (Json & { id: string })[],
): unknown[] {
  const [was, is] = [byName(before), byName(after)];
  const kept = here.flatMap((item) => {
    const gone = item.id in was && !(item.id in is) && same(item, was[item.id]);
    return gone ? [] : [item.id in is ? mergedOf(item, was[item.id], is[item.id]) : item];
  });
  const added = after.filter(({ id }) => !(id in was) && !here.some((item) => item.id === id));
  return [...kept, ...added];
}

/** The link of a finish that starts from a revision of another one. */
export const derivedLink = (from: {
  finishId: string;
  letter: string;
  name: string;
  recipe: Recipe;
}): NonNullable<Recipe['derived']> => ({ ...from, recipe: { ...from.recipe, derived: null } });
