import { defaultRecipe, type Recipe } from '@jossel/core/finish';
import { arrangementOf, withAnotherArrangement } from '@jossel/core/repeat';
import { keepPicture, keptPictures, nameOfPicture } from './small-pictures';

let stored: Record<string, string> = {};
let room = Infinity;
beforeEach(() => {
  stored = {};
  room = Infinity;
  Object.assign(globalThis, {
    localStorage: {
      getItem: (key: string) => stored[key] ?? null,
      setItem: (key: string, value: string) => {
        if (value.length > room) throw new Error('No room is left.');
        stored[key] = value;
      },
    },
  });
});

const recipe: Recipe = defaultRecipe(['s'], 'stone');
const name = (r: Recipe) => nameOfPicture(r, arrangementOf(r.repeat));

test('a picture is kept by what it was made of: another arrangement, size or keep-out has another', () => {
  const another = { ...recipe, repeat: withAnotherArrangement(recipe.repeat) };
  const names = [
    name(recipe),
    name(another),
    name({ ...recipe, sources: recipe.sources.map((s) => ({ ...s, turned: 1 })) }),
    name({ ...recipe, repeat: { ...recipe.repeat, composed: { ...recipe.repeat.composed, widthMm: 700 } } }),
  ];
  expect(new Set(names).size).toBe(names.length);
});

test('which arrangement is in use, and why the way was chosen, changes no picture', () => {
  const two = { ...recipe, repeat: withAnotherArrangement(recipe.repeat) };
  const [first] = two.repeat.arrangements;
  expect(nameOfPicture(two, first!)).toBe(name(recipe));
  expect(nameOfPicture({ ...two, repeat: { ...two.repeat, why: ['because'] } }, first!)).toBe(name(recipe));
});

test('the oldest of more than two hundred is left out, and one drawn again is not old', () => {
  for (let k = 0; k < 200; k++) keepPicture(`p${k}`, 'x');
  keepPicture('p0', 'again');
  keepPicture('p200', 'x');
  const kept = keptPictures();
  expect(kept.size).toBe(200);
  expect(kept.get('p0')).toBe('again');
  expect(kept.has('p1')).toBe(false);
});

test('without room, and from what is not a list of pictures, nothing breaks', () => {
  room = 5;
  expect(keepPicture('a', 'picture').get('a')).toBe('picture');
  expect(keptPictures().size).toBe(0);
  for (const odd of ['{', '7', '[["a"]]', 'null', '[["a", 3]]']) {
    stored['jossel.arrangements'] = odd;
    expect(keptPictures().size).toBe(0);
  }
});
