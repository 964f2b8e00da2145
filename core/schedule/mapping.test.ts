import { mapOntoSurface } from './index';

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
