import fc from 'fast-check';
import { DIRECTIONS, mapOntoSurface } from './index';

test('a repeat of 2368 × 1200 mm on a floor of 7104 × 3600 mm lies three times each way', () => {
  expect(mapOntoSurface({ width: 2368, height: 1200 }, { widthMm: 7104, heightMm: 3600 }, 0)).toMatchObject({
    repeatsAcross: 3,
    repeatsUp: 3,
    areaM2: 25.5744,
  });
});
test('turned by 90° width and height change places', () => {
  const m = mapOntoSurface({ width: 2000, height: 500 }, { widthMm: 4000, heightMm: 4000 }, 90);
  expect(m).toMatchObject({
    repeatsAcross: 8,
    repeatsUp: 2,
    repeatMm: { width: 500, height: 2000 },
    scale01: { u: 2, v: 8 },
  });
});
test('nothing of no size', () => {
  expect(() => mapOntoSurface({ width: 0, height: 500 }, { widthMm: 4000, heightMm: 4000 }, 0)).toThrow(
    /larger than 0/,
  );
});

test('laid as its figures say, the finish has its true size, whichever way it is turned', () => {
  const mm = fc.double({ min: 10, max: 20000, noNaN: true });
  fc.assert(
    fc.property(mm, mm, mm, mm, fc.constantFrom(...DIRECTIONS), (width, height, widthMm, heightMm, deg) => {
      const figures = mapOntoSurface({ width, height }, { widthMm, heightMm }, deg);
      expect(figures.repeatsAcross * figures.repeatMm.width).toBeCloseTo(widthMm, 6);
      expect(figures.repeatsUp * figures.repeatMm.height).toBeCloseTo(heightMm, 6);
      // From 0 to 1 along the way the finish's own width runs it is passed u times, along its height v times.
      const along = deg % 180 === 0 ? { u: widthMm, v: heightMm } : { u: heightMm, v: widthMm };
      expect(along.u / figures.scale01.u).toBeCloseTo(width, 6);
      expect(along.v / figures.scale01.v).toBeCloseTo(height, 6);
      // As many repeats as its area holds.
      expect(
        (figures.areaM2 * 1e6) / (figures.repeatsAcross * figures.repeatsUp) / (width * height),
      ).toBeCloseTo(1, 9);
    }),
  );
});
