import fc from 'fast-check';
import { figure } from '../units';
import { usualLayer } from '../weathering';
import { derivedLink, differencesFrom, generatedRecipe, openRecipe, takenOver, type Recipe } from './index';

const parent = (change: (recipe: Recipe) => void = () => undefined): Recipe => {
  const recipe = generatedRecipe('terrazzo');
  recipe.weathering = [usualLayer('Dust in hollows', 'dust'), usualLayer('Wet', 'wet')];
  change(recipe);
  return openRecipe(JSON.parse(JSON.stringify(recipe)));
};
const link = (recipe: Recipe, letter = 'A') => derivedLink({ finishId: 'f', letter, name: 'Parent', recipe });
const child = (change: (recipe: Recipe) => void = () => undefined): Recipe => {
  const recipe = openRecipe(JSON.parse(JSON.stringify({ ...parent(), derived: link(parent()) })));
  change(recipe);
  return recipe;
};

test('a finish that was just derived does not differ', () => {
  expect(differencesFrom(child())).toEqual([]);
  expect(differencesFrom(parent())).toEqual([]);
});

test('what differs is named by its section and setting; a figure differs as a whole', () => {
  const derived = child((r) => {
    r.response.glossGu = figure(70, 'GU', 'measured');
    (r.generated as { seed: number }).seed = 9;
    r.weathering = r.weathering.filter(({ id }) => id !== 'wet');
  });
  expect(differencesFrom(derived).map(({ section, path }) => `${section}: ${path}`)).toEqual([
    'Sample: generated.seed',
    'Weathering: weathering.wet',
    'Response: response.glossGu',
  ]);
});

test('a later revision is taken over with the differences kept', () => {
  const later = parent((r) => {
    r.response.glossGu = figure(20, 'GU', 'published');
    (r.generated as unknown as { binder: { lab: number[] } }).binder.lab = [30, 0, 0];
    r.weathering = [
      { ...r.weathering[0]!, coverPercent: 77 },
      ...r.weathering.slice(1),
      usualLayer('Algae', 'algae'),
    ];
  });
  const derived = child((r) => {
    r.response.glossGu = figure(70, 'GU', 'measured');
    r.weathering = r.weathering
      .map((l) => (l.id === 'dust' ? { ...l, scaleMm: 5 } : l))
      .filter(({ id }) => id !== 'wet');
  });
  const taken = takenOver(derived, link(later, 'B'));
  expect(taken.response.glossGu).toMatchObject({ value: 70, basis: 'measured' });
  expect((taken.generated as unknown as { binder: { lab: number[] } }).binder.lab).toEqual([30, 0, 0]);
  expect(taken.weathering.map(({ id, coverPercent, scaleMm }) => [id, coverPercent, scaleMm])).toEqual([
    ['dust', 77, 5],
    ['algae', 30, 120],
  ]);
  expect(taken.derived!.letter).toBe('B');
  expect(
    differencesFrom(taken)
      .map(({ path }) => path)
      .sort(),
  ).toEqual(['response.glossGu', 'weathering.dust.scaleMm', 'weathering.wet']);
});

test('taking over what did not change changes nothing, whatever was changed here', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 99 }),
      fc.integer({ min: 0, max: 999 }),
      fc.boolean(),
      (gu, seed, dry) => {
        const derived = child((r) => {
          r.response.glossGu = figure(gu, 'GU', 'measured');
          (r.generated as { seed: number }).seed = seed;
          if (dry) r.weathering = [];
        });
        const taken = takenOver(derived, link(parent(), 'B'));
        expect({ ...taken, derived: null }).toEqual({ ...derived, derived: null });
      },
    ),
    { numRuns: 20 },
  );
});

test('one that is not derived takes nothing over', () => {
  expect(() => takenOver(parent(), link(parent()))).toThrow(/not derived/);
});
