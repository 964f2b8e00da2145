import { ciede2000, linearToLab, type Triple } from '../colour';
import { filmReflectance, metalIndex } from '../optics';
import { makeColourPicture, type Plane } from '../raster';
import { linearOfSpectrum } from '../spectrum';
import { figure } from '../units';
import { filmsOnNothing, metalColour, metalParts, withMetalColours, withMetalParts } from './metals';
import type { FilmSettings, ResponseSettings } from './settings';

const film = (thicknessNm: number, part: string | null = null): FilmSettings => ({
  part,
  thicknessNm: figure(thicknessNm, 'nm', 'measured'),
  index: figure(2.4, '1', 'published'),
});
const response = (changes: Partial<ResponseSettings>): ResponseSettings => ({
  base: { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
  glossGu: figure(40, 'GU', 'measured'),
  ...changes,
});

test('colours of films on titanium are those of a computation ten times as fine', () => {
  const titanium = { from: 'constants', metal: 'titanium' } as const;
  for (const nm of [10, 40, 90, 160, 300, 700, 1200]) {
    const made = metalColour(titanium, film(nm))!;
    // The same spectrum, sampled so that fringes are averaged over 0.2 nm.
    const fine = linearOfSpectrum((w) => {
      let sum = 0;
      for (let k = 0; k < 10; k++)
        sum += filmReflectance(
          { thicknessNm: nm, index: 2.4 },
          metalIndex('titanium', w + k / 5 - 0.9),
          w + k / 5 - 0.9,
        );
      return sum / 10;
    });
    expect(ciede2000(made.lab, linearToLab(fine))).toBeLessThan(0.5);
  }
});

test('heat tints of titanium go from straw through blue, as everyone who anneals it knows', () => {
  const hue = (nm: number) => metalColour({ from: 'constants', metal: 'titanium' }, film(nm))!.lab;
  expect(hue(0)[2]).toBeLessThan(12);
  const straw = hue(22);
  const blue = hue(45);
  expect(straw[2]).toBeGreaterThan(15);
  expect(blue[2]).toBeLessThan(-15);
  expect(blue[0]).toBeLessThan(straw[0]);
});

test('a film on nothing known is found, one on a metal is not', () => {
  const films = [film(200), film(300, 'chip'), film(100, 'thread')];
  expect(filmsOnNothing(response({ films }))).toHaveLength(3);
  const metals = [{ part: 'chip', of: { from: 'index', n: 2.9, k: 3.1 } as const }];
  expect(filmsOnNothing(response({ films, metals })).map(({ part }) => part)).toEqual([null, 'thread']);
  const base = { kind: 'metal', of: { from: 'constants', metal: 'titanium' } } as const;
  expect(filmsOnNothing(response({ films, base }))).toEqual([]);
  expect(metalParts(response({ films, base })).map(({ part }) => part)).toEqual(['chip', 'thread']);
});

/** Left half of a picture, its middle column half of it. */
const half: Plane = { widthPx: 4, heightPx: 2, data: Float32Array.from([1, 0.5, 0, 0, 1, 0.5, 0, 0]) };

test('a part has the mean colour of its metal, keeps its differences, and all else stays', () => {
  const picture = makeColourPicture(4, 2);
  for (const c of ['r', 'g', 'b'] as const) picture[c].set([0.1, 0.2, 0.3, 0.4, 0.3, 0.2, 0.3, 0.4]);
  const gold: Triple = [1, 0.75, 0.33];
  const made = withMetalColours(picture, [{ weight: half, linear: gold }]);
  // The share of the metal in every pixel; what is left of it is as it was.
  const metal = (c: 'r' | 'g' | 'b', i: number) =>
    (made[c][i]! - (1 - half.data[i]!) * picture[c][i]!) / half.data[i]!;
  for (const [k, c] of (['r', 'g', 'b'] as const).entries()) {
    let sum = 0;
    for (const i of [0, 1, 4, 5]) sum += half.data[i]! * metal(c, i);
    expect(sum / 3).toBeCloseTo(gold[k]!, 5);
    expect(metal(c, 4) / metal(c, 0)).toBeCloseTo(3, 5);
    expect([...made[c].slice(2, 4)]).toEqual([...picture[c].slice(2, 4)]);
  }
  const metalness = withMetalParts({ ...half, data: new Float32Array(8).fill(0.2) }, [half]);
  expect([...metalness.data].map((v) => Math.round(v * 10))).toEqual([10, 5, 2, 2, 10, 5, 2, 2]);
});
