import fc from 'fast-check';
import { figure } from '../units';
import { fittedPitch, profileAt, profileReliefSteps } from './profile';
import { PROFILE_SHAPES, type ContributionOf } from './settings';
import { atOnce } from '../steps';

const profile = (changes: Partial<ContributionOf<'profile'>> = {}): ContributionOf<'profile'> => ({
  kind: 'profile',
  id: 'p',
  name: 'Flutes',
  shape: 'flutes',
  pitchMm: 20,
  along: 'height',
  depthMm: figure(2, 'mm', 'published'),
  ...changes,
});

test.each(PROFILE_SHAPES)(
  '%s reach from the bottom to the top of their depth, the same on both sides',
  (shape) => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 1, max: 300, noNaN: true }),
        fc.double({ min: 0.001, max: 40, noNaN: true }),
        (t, pitchMm, depthMm) => {
          const h = profileAt(shape, t, pitchMm, depthMm);
          expect(h).toBeGreaterThanOrEqual(-1e-9);
          expect(h).toBeLessThanOrEqual(depthMm + 1e-9);
          expect(profileAt(shape, 1 - t, pitchMm, depthMm)).toBeCloseTo(h, 6);
        },
      ),
    );
    const ends = [profileAt(shape, 0, 20, 2), profileAt(shape, 0.5, 20, 2)].sort((a, b) => a - b);
    expect(ends[0]).toBeCloseTo(0, 9);
    expect(ends[1]).toBeCloseTo(2, 9);
  },
);

test('a flute has one radius everywhere', () => {
  // Pitch 20, depth 2: radius (10² + 2²)/(2·2) = 26 mm.
  for (const t of [0.1, 0.25, 0.4, 0.7]) {
    const x = (t - 0.5) * 20;
    const h = profileAt('flutes', t, 20, 2);
    expect(x * x + (26 - h) * (26 - h)).toBeCloseTo(26 * 26, 6);
  }
});

test('whole numbers of it fit the repeat, and it does not change along its direction', () => {
  const sizeMm = { width: 207, height: 90 };
  expect(fittedPitch(profile(), sizeMm)).toEqual({ count: 10, pitchMm: 20.7 });
  const plane = atOnce(profileReliefSteps(profile(), sizeMm, { width: 414, height: 9 }));
  for (let x = 0; x < 414; x++) expect(plane.data[8 * 414 + x]).toBe(plane.data[x]);
  const [low, high] = [Math.min(...plane.data), Math.max(...plane.data)];
  expect(high - low).toBeGreaterThan(1.9);
  expect(high - low).toBeLessThanOrEqual(2);
  // The other way round it is the same, turned.
  const lying = atOnce(
    profileReliefSteps(profile({ along: 'width' }), { width: 90, height: 207 }, { width: 9, height: 414 }),
  );
  for (let k = 0; k < 414; k++) expect(lying.data[9 * k]).toBeCloseTo(plane.data[k]!, 6);
});

test('finer than a pixel it is flat', () => {
  const plane = atOnce(
    profileReliefSteps(profile({ pitchMm: 0.1 }), { width: 100, height: 10 }, { width: 50, height: 5 }),
  );
  expect(Math.max(...plane.data) - Math.min(...plane.data)).toBeLessThan(0.05);
});
