import fc from 'fast-check';
import { fresnelDielectric } from '../optics';
import { hazeOf, nearestTwoLobes } from './haze';
import { glossByIntegration, glossOfRoughness, METER_ANGLES, roughnessOfGloss } from './index';

const LACQUER = { kind: 'dielectric', index: 1.5 } as const;

test.each(METER_ANGLES)('the standard reads 100 GU at %d°, and a table as a fresh integration', (angle) => {
  const glass = { kind: 'dielectric', index: 1.567 } as const;
  expect(Math.abs(glossOfRoughness(0, glass, angle) - 100)).toBeLessThan(0.5);
  for (const roughness of [0.12, 0.3, 0.5, 0.8])
    expect(
      Math.abs(
        glossOfRoughness(roughness, LACQUER, angle) - glossByIntegration(roughness ** 2, LACQUER, 80, angle),
      ),
    ).toBeLessThan(1);
  // ISO 2813: reflectance of the standard is 4.91 % at 20°, 10.01 % at 60°, 61.91 % at 85°.
  const known = { 20: 4.908, 60: 10.006, 85: 61.91 }[angle];
  expect(100 * fresnelDielectric(Math.cos((angle * Math.PI) / 180), 1.567)).toBeCloseTo(known, 1);
});

test('a surface of two lobes is found again from its three readings', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.05, max: 0.25, noNaN: true }),
      fc.double({ min: 0.35, max: 0.7, noNaN: true }),
      fc.double({ min: 0.15, max: 0.85, noNaN: true }),
      (narrow, wide, share) => {
        const read = Object.fromEntries(
          METER_ANGLES.map((angle) => [
            angle,
            (1 - share) * glossOfRoughness(narrow, LACQUER, angle) +
              share * glossOfRoughness(wide, LACQUER, angle),
          ]),
        );
        const { reads } = nearestTwoLobes(read, LACQUER);
        for (const angle of METER_ANGLES) expect(Math.abs(reads[angle] - read[angle]!)).toBeLessThan(1);
        const { roughness } = roughnessOfGloss(read[60]!, LACQUER);
        expect(hazeOf(read, roughness, LACQUER)).toMatchObject({ contradicts: false });
      },
    ),
    { numRuns: 15 },
  );
});

test('readings of one lobe need no second one', () => {
  const read = { 20: glossOfRoughness(0.3, LACQUER, 20), 60: glossOfRoughness(0.3, LACQUER), 85: glossOfRoughness(0.3, LACQUER, 85) }; // prettier-ignore
  const haze = hazeOf(read, 0.3, LACQUER)!;
  expect(haze.restGu).toBeLessThan(0.5);
  for (const angle of METER_ANGLES) expect(haze.one[angle]).toBeCloseTo(read[angle], 6);
});

test('a haze about a sharp core is more than one lobe can tell', () => {
  const reads = (angle: 20 | 60 | 85) =>
    0.6 * glossOfRoughness(0.08, LACQUER, angle) + 0.4 * glossOfRoughness(0.5, LACQUER, angle);
  const { roughness } = roughnessOfGloss(reads(60), LACQUER);
  const haze = hazeOf({ 20: reads(20), 60: reads(60), 85: reads(85) }, roughness, LACQUER)!;
  expect(Math.abs(haze.one[20] - reads(20))).toBeGreaterThan(10);
  expect(haze.restGu).toBeLessThan(1);
  expect(haze.two!.wideShare).toBeGreaterThan(0.3);
  expect(haze.two!.roughness[0]).toBeLessThan(0.2);
});

test.each([[{ 20: 90, 60: 20, 85: 30 }], [{ 60: 80, 85: 10 }], [{ 20: 95, 60: 10 }]])(
  'readings that no surface has contradict: %j',
  (read) => {
    const { roughness } = roughnessOfGloss(read[60], LACQUER);
    expect(hazeOf(read, roughness, LACQUER)!.contradicts).toBe(true);
  },
);

test('one reading alone says nothing of haze', () => {
  expect(hazeOf({ 60: 30 }, 0.4, LACQUER)).toBeNull();
});
