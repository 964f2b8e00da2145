import fc from 'fast-check';
import { mirrored, type Lobe } from './sheen';

const RAD = Math.PI / 180;
const towards = (azimuthDeg: number, fromNormalDeg: number, strength = 1) =>
  Float64Array.from([
    strength * Math.sin(fromNormalDeg * RAD) * Math.cos(azimuthDeg * RAD),
    strength * Math.sin(fromNormalDeg * RAD) * Math.sin(azimuthDeg * RAD),
    strength * Math.cos(fromNormalDeg * RAD),
  ]);
const one = (alpha: number): Lobe[] => [{ alpha, share: 1 }];
const level = (light: Float64Array, view: Float64Array, lobes: readonly Lobe[]) =>
  mirrored(0, 0, 1, light, 0, view, lobes);

const ANGLE = fc.double({ min: 0, max: 85, noNaN: true });
const AROUND = fc.double({ min: 0, max: 360, noNaN: true });

test('light and camera can be exchanged: what is mirrored differs by the cosines alone', () => {
  fc.assert(
    fc.property(
      ANGLE,
      AROUND,
      ANGLE,
      AROUND,
      fc.double({ min: 0.1, max: 1, noNaN: true }),
      (a, b, c, d, alpha) => {
        const [light, view] = [towards(b, a), towards(d, c)];
        const there = level(light, view, one(alpha)) / light[2]!;
        const back = level(view, light, one(alpha)) / view[2]!;
        expect(there / back).toBeCloseTo(1, 9);
      },
    ),
  );
});

test('no more is mirrored in all than falls on a dielectric’s Fresnel term at grazing angles', () => {
  for (const alpha of [0.2, 0.5, 0.9])
    for (const inDeg of [0, 40, 70]) {
      const light = towards(0, inDeg);
      let sum = 0;
      // Over all directions one may look from, by their cosines.
      for (let t = 0; t < 90; t++)
        for (let p = 0; p < 360; p += 4) {
          const view = towards(p + 2, t + 0.5);
          const solidAngle = Math.sin((t + 0.5) * RAD) * RAD * 4 * RAD;
          // A perfect white reads the cosine of the light: the share of it is divided by π.
          sum += (level(light, view, one(alpha)) / light[2]! / Math.PI) * view[2]! * solidAngle;
        }
      expect(sum).toBeGreaterThan(0.01);
      expect(sum).toBeLessThan(inDeg < 60 ? 0.08 : 0.3);
    }
});

test('a narrow lobe is brightest where the surface faces half way between light and camera', () => {
  const [light, view] = [towards(180, 30), towards(0, 50)];
  const leaning = (deg: number) =>
    mirrored(Math.sin(deg * RAD), 0, Math.cos(deg * RAD), light, 0, view, one(0.15));
  const brightest = Array.from({ length: 61 }, (_, k) => k - 30).reduce((a, b) =>
    leaning(a) > leaning(b) ? a : b,
  );
  expect(Math.abs(brightest - 10)).toBeLessThanOrEqual(1);
});

test('it grows with the light, and lobes add up by their shares', () => {
  const view = towards(90, 20);
  const [weak, strong] = [towards(0, 35), towards(0, 35, 3)];
  expect(level(strong, view, one(0.4))).toBeCloseTo(3 * level(weak, view, one(0.4)), 12);
  const both = level(weak, view, [
    { alpha: 0.3, share: 0.25 },
    { alpha: 0.7, share: 0.75 },
  ]);
  expect(both).toBeCloseTo(0.25 * level(weak, view, one(0.3)) + 0.75 * level(weak, view, one(0.7)), 12);
  expect(level(weak, view, [])).toBe(0);
});

test('nothing comes from behind, nor is seen from behind', () => {
  expect(level(towards(0, 95), towards(0, 20), one(0.5))).toBe(0);
  expect(level(towards(0, 20), towards(0, 95), one(0.5))).toBe(0);
});

test('lights one after another are read from their places in a list', () => {
  const view = towards(0, 10);
  const list = Float64Array.from([...towards(0, 20), ...towards(120, 60)]);
  expect(mirrored(0, 0, 1, list, 3, view, one(0.5))).toBe(level(towards(120, 60), view, one(0.5)));
});
