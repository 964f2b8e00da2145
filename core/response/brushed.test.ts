import { brushedOf } from './brushed';
import { glossOfBrushed, glossOfRoughness } from './glossmeter';

const STEEL = { kind: 'metal', f0: 0.58 } as const;

test('brushed the same along and across, a surface reads as one that is not brushed', () => {
  for (const roughness of [0.2, 0.35, 0.6]) {
    const alpha = roughness * roughness;
    // A hair apart, so that the sums for brushed surfaces are taken.
    const brushed = glossOfBrushed({ along: alpha, across: alpha * 1.0001 }, STEEL, true, 32);
    expect(Math.abs(brushed / glossOfRoughness(roughness, STEEL) - 1)).toBeLessThan(0.01);
  }
});

test('across the scratches it reads less than along them', () => {
  const alpha = { along: 0.03, across: 0.25 };
  expect(glossOfBrushed(alpha, STEEL, false)).toBeLessThan(0.8 * glossOfBrushed(alpha, STEEL, true));
});

test.each([
  [0.02, 0.12],
  [0.05, 0.3],
  [0.1, 0.2],
])('finds facets of α %p along and %p across again from the two readings', (along, across) => {
  const read = (a: boolean) => glossOfBrushed({ along, across }, STEEL, a);
  const found = brushedOf(read(true), read(false), STEEL);
  expect(found.reached).toBe(true);
  expect(Math.abs(found.readsAlongGu - read(true))).toBeLessThan(1);
  expect(Math.abs(found.readsAcrossGu - read(false))).toBeLessThan(1);
  expect(Math.abs(found.alphaAcross / across - 1)).toBeLessThan(0.05);
  const alphaT = found.alphaAlong + (1 - found.alphaAlong) * found.strength * found.strength;
  expect(alphaT).toBeCloseTo(found.alphaAcross, 9);
});

test('more gloss across than along is not of scratches that run so', () => {
  expect(brushedOf(60, 200, STEEL).reached).toBe(false);
});
