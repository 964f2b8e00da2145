import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { keepHistory, keptHistory } from './kept-history';

const gloss = (gu: number): Recipe => {
  const recipe = defaultRecipe(['s'], 'stone');
  recipe.response.glossGu.value = gu;
  return recipe;
};

function storage(mostCharacters = Infinity) {
  const items = new Map<string, string>();
  return {
    getItem: (key: string) => items.get(key) ?? null,
    removeItem: (key: string) => void items.delete(key),
    setItem: (key: string, value: string) => {
      if (value.length > mostCharacters) throw new DOMException('full', 'QuotaExceededError');
      items.set(key, value);
    },
  };
}

test('steps come back with the recipe they lead to, whatever order its keys are in', () => {
  const store = storage();
  keepHistory(store, 'f', gloss(30), { past: [gloss(10), gloss(20)], future: [gloss(40)] });
  const reordered = Object.fromEntries(Object.entries(gloss(30)).reverse()) as Recipe;
  const history = keptHistory(store, 'f', reordered)!;
  expect(history.past.map((r) => r.response.glossGu.value)).toEqual([10, 20]);
  expect(history.future.map((r) => r.response.glossGu.value)).toEqual([40]);
});

test('a recipe that was changed elsewhere has none of them; nor has another finish', () => {
  const store = storage();
  keepHistory(store, 'f', gloss(30), { past: [gloss(10)], future: [] });
  expect(keptHistory(store, 'f', gloss(31))).toBeNull();
  expect(keptHistory(store, 'g', gloss(30))).toBeNull();
});

test('of a long history the newest steps are kept', () => {
  const store = storage();
  const large = Math.ceil(1_000_000 / JSON.stringify(gloss(10)).length) + 10;
  const past = Array.from({ length: large }, (_, k) => gloss(k + 1));
  keepHistory(store, 'f', gloss(9), { past, future: [] });
  const kept = keptHistory(store, 'f', gloss(9))!;
  expect(kept.past.length).toBeGreaterThan(50);
  expect(kept.past.length).toBeLessThan(large);
  expect(kept.past.at(-1)!.response.glossGu.value).toBe(large);
});

test('a store that is full or damaged keeps nothing and does no harm', () => {
  const full = storage(10);
  expect(() => keepHistory(full, 'f', gloss(1), { past: [gloss(2)], future: [] })).not.toThrow();
  expect(keptHistory(full, 'f', gloss(1))).toBeNull();
  const damaged = storage();
  damaged.setItem('jossel.history.f', '{');
  expect(keptHistory(damaged, 'f', gloss(1))).toBeNull();
});
