import { ZodError } from 'zod';
import { PLAIN_COLOUR } from '../light';
import { figure } from '../units';
import { defaultRecipe, openRecipe, SCHEMA_ID, type Recipe } from './index';

type Loose = Record<string, Record<string, unknown>> & { schema: string };

/** What a recipe would have been in earlier versions: what they did not know is taken away. */
const EARLIER: ((recipe: Loose) => void)[] = [
  (r) => {
    r.schema = 'jossel.finish/4';
    for (const name of ['elements', 'enlarged', 'why']) delete r['repeat']![name];
    for (const name of ['stretchMost', 'areas', 'pictures'])
      delete (r['repeat']!['compose'] as Record<string, unknown>)[name];
    r['repeat']!['arrangements'] = [{ number: 1, seed: 77 }];
  },
  (r) => {
    r.schema = 'jossel.finish/3';
    const { across, up } = r['repeat']!;
    r['repeat'] = { across, up };
  },
  (r) => {
    r.schema = 'jossel.finish/2';
    r['colour'] = { lrv: r['colour']!['lrv'] };
  },
  (r) => {
    r.schema = 'jossel.finish/1';
    delete r['sample'];
    delete r['source']!['maps'];
    const { overall } = r['size'] as unknown as Recipe['size'];
    r['size'] = { across: { by: 'overall', overallMm: overall.across }, up: { by: 'follows' } };
  },
];
/** A recipe as version `5 − steps` stored it. */
function stored(recipe: Recipe, steps: number): unknown {
  const r = structuredClone(recipe) as unknown as Loose;
  for (const earlier of EARLIER.slice(0, steps)) earlier(r);
  return r;
}

/** A recipe that says no more than the first version could. */
function plain(): Recipe {
  const r = defaultRecipe(['one'], 'stone', { widthPx: 400, heightPx: 300 });
  r.size.overall.across = figure(820, 'mm', 'measured', 2, 'with a tape');
  r.colour = { ...PLAIN_COLOUR, ruling: 'lrv', lrv: figure(41.5, 'LRV', 'published') };
  r.repeat.across = { closing: 'blend', overlapMm: 61 };
  r.repeat.up = { closing: 'mirror', overlapMm: 0 };
  r.relief.depthMm = figure(1.75, 'mm', 'measured', 0.1);
  r.response.glossGu = figure(12, 'GU', 'measured', 1);
  return r;
}

test.each([1, 2, 3, 4])('stored so many versions ago, a recipe is what it is today: %d', (steps) => {
  const wanted = plain();
  if (steps === 1) wanted.repeat.arrangements = [{ number: 1, seed: 77, redone: [] }];
  const opened = openRecipe(stored(wanted, steps));
  expect(opened.schema).toBe(SCHEMA_ID);
  expect(opened).toEqual(openRecipe(wanted));
});

test('opening changes nothing that is up to date, nor what it was given', () => {
  const recipe = openRecipe(plain());
  expect(openRecipe(recipe)).toEqual(recipe);
  const old = stored(plain(), 4);
  const copy = structuredClone(old);
  openRecipe(old);
  expect(old).toEqual(copy);
});

test('in version 2 no reflectance ruled where none was given', () => {
  const old = stored(plain(), 3) as Loose;
  old['colour'] = {};
  expect(openRecipe(old).colour).toEqual({ ...PLAIN_COLOUR, ruling: 'picture', lrv: null });
});

test.each<[string, (r: Loose) => unknown, RegExp]>([
  ['a version of the future', (r) => (r.schema = 'jossel.finish/99'), /^schema /],
  ['no version', (r) => delete (r as Partial<Loose>).schema, /^schema /],
  [
    'bands of relief that overlap',
    (r) => (r['relief']!['fineBelowMm'] = 1e4),
    /^relief\.fineBelowMm Fine detail must end below where broad detail begins/,
  ],
  [
    'a stretch that makes another finish',
    (r) => ((r['repeat']!['compose'] as Record<string, unknown>)['stretchMost'] = 0.3),
    /^repeat\.compose\.stretchMost At most 10 % of stretch/,
  ],
])('what cannot be read says where and why: %s', (_, change, message) => {
  const r = stored(plain(), 0) as Loose;
  change(r);
  let said = '';
  try {
    openRecipe(r);
  } catch (error) {
    expect(error).toBeInstanceOf(ZodError);
    said = (error as ZodError).issues.map((i) => `${i.path.join('.')} ${i.message}`).join('\n');
  }
  expect(said).toMatch(message);
});

test.each([null, undefined, 7, 'a recipe', [], {}])('%p is no recipe', (value) => {
  expect(() => openRecipe(value)).toThrow(ZodError);
});
