import { arrisDropMm } from './arris-profile';
import { LOWER, UPPER } from './cover';
import { jointHeightMm } from './joint-profile';

const ACROSS = [0, 0.25, 0.5, 0.75, 1];
const joint = (profile: Parameters<typeof jointHeightMm>[0], side = LOWER) =>
  ACROSS.map((at) => jointHeightMm(profile, at, side, 4));

describe('sections of joints, 4 mm at their deepest', () => {
  test('flush lies level with the faces; recessed and open ones lie deep all over', () => {
    expect(joint('flush')).toEqual([0, 0, 0, 0, 0]);
    expect(joint('recessed')).toEqual([-4, -4, -4, -4, -4]);
    expect(joint('open')).toEqual(joint('recessed'));
  });

  test('a V falls evenly to the middle; a bucket handle is a quarter of a circle', () => {
    expect(joint('v').map((v) => v + 0)).toEqual([0, -1, -2, -3, -4]);
    const round = joint('bucket-handle');
    ACROSS.forEach((at, k) => expect((1 - at) ** 2 + (round[k]! / 4) ** 2).toBeCloseTo(1, 12));
  });

  test('weather-struck: deep under the upper course, out to the arris of the lower one, level in the middle and at ends', () => {
    // The side is the edge of the nearest piece: its lower edge is the upper edge of the joint.
    const [under, over] = [joint('weather-struck', LOWER), joint('weather-struck', UPPER)];
    expect(under[0]).toBe(-4);
    expect(over[0]! + 0).toBe(0);
    expect(under[4]).toBe(over[4]);
    expect(
      [...under]
        .reverse()
        .slice(1)
        .every((v, k) => v <= [...under].reverse()[k]!),
    ).toBe(true);
    expect(joint('weather-struck', 0)).toEqual([-2, -2, -2, -2, -2]);
  });

  test('none stands proud of the faces or lies deeper than its depth', () => {
    for (const profile of ['flush', 'recessed', 'open', 'v', 'bucket-handle', 'weather-struck'] as const)
      for (const side of [0, LOWER, UPPER])
        for (const height of joint(profile, side)) {
          expect(height).toBeLessThanOrEqual(0);
          expect(height).toBeGreaterThanOrEqual(-4);
        }
  });
});

describe('arrises, 3 mm wide', () => {
  const drop = (form: Parameters<typeof arrisDropMm>[0]) =>
    [0, 1, 2, 3, 5].map((d) => arrisDropMm(form, d, 3));

  test('square ones drop nowhere; a bevel drops evenly, as deep as it is wide', () => {
    expect(drop('square')).toEqual([0, 0, 0, 0, 0]);
    expect(drop('bevel')).toEqual([3, 2, 1, 0, 0]);
    expect(arrisDropMm('bevel', 0, 0)).toBe(0);
  });

  test('a rounded one is a quarter of a circle that meets the face without a kink', () => {
    const form = 'rounded' as Parameters<typeof arrisDropMm>[0];
    for (const d of [0, 0.5, 1, 2, 2.9])
      expect((3 - arrisDropMm(form, d, 3)) ** 2 + (3 - d) ** 2).toBeCloseTo(9, 9);
    expect((arrisDropMm(form, 2.99, 3) - arrisDropMm(form, 3, 3)) / 0.01).toBeLessThan(0.01);
  });

  test('what is chipped is hollow, and deepest at the edge', () => {
    const chipped = drop('chipped');
    expect(chipped[0]).toBeCloseTo(1.8, 9);
    for (let k = 1; k < chipped.length; k++) expect(chipped[k]!).toBeLessThanOrEqual(chipped[k - 1]!);
  });
});
