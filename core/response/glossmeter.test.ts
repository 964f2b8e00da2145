import fc from 'fast-check';
import { f0OfIndex, fresnelDielectric, indexOfF0 } from '../optics';
import { glossByIntegration, glossOfRoughness, highestGloss, roughnessOfGloss } from './index';

const glass = { kind: 'dielectric', index: 1.567 } as const;

test('the standard itself: polished black glass reads 100 GU', () => {
  expect(glossOfRoughness(0, glass)).toBeGreaterThan(99.5);
  expect(glossOfRoughness(0, glass)).toBeLessThan(100.5);
  // ISO 2813 gives its reflectance at 60° as 10.006 %.
  expect(100 * fresnelDielectric(0.5, 1.567)).toBeCloseTo(10.006, 2);
});

test('gloss to roughness and back is within 1 GU for any dielectric and metal that can reach it', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 85, noNaN: true }),
      fc.double({ min: 1.5, max: 1.9, noNaN: true }),
      (gu, index) => {
        const surface = { kind: 'dielectric', index } as const;
        const { roughness, reached } = roughnessOfGloss(gu, surface);
        expect(reached).toBe(true);
        // Not the table again: the meter integrated afresh, with more nodes.
        expect(Math.abs(glossByIntegration(roughness ** 2, surface, 48) - gu)).toBeLessThan(1);
      },
    ),
    { numRuns: 40 },
  );
});

test('gloss falls as roughness rises', () => {
  let last = Infinity;
  for (let r = 0; r <= 1.0001; r += 0.02) {
    const gu = glossOfRoughness(r, glass);
    expect(gu).toBeLessThanOrEqual(last + 1e-9);
    last = gu;
  }
  expect(last).toBeLessThan(1.5);
});

test('a gloss that the material cannot have is refused as out of range', () => {
  expect(highestGloss({ kind: 'dielectric', index: 1.5 })).toBeCloseTo(
    (100 * fresnelDielectric(0.5, 1.5)) / fresnelDielectric(0.5, 1.567),
    0,
  );
  expect(roughnessOfGloss(99, { kind: 'dielectric', index: 1.5 })).toEqual({ roughness: 0, reached: false });
  expect(roughnessOfGloss(400, { kind: 'metal', f0: 0.7 }).reached).toBe(true);
});

test('reflectance at normal incidence and refractive index convert both ways', () => {
  expect(f0OfIndex(1.5)).toBeCloseTo(0.04, 10);
  expect(indexOfF0(0.04)).toBeCloseTo(1.5, 10);
  expect(fresnelDielectric(1, 1.5)).toBeCloseTo(0.04, 10);
});
