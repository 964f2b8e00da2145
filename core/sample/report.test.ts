import { blurWrapped, makeColourPicture, mapChannels, seededRandom, type ColourPicture } from '../raster';
import { drawReport, reportOnSample } from './index';

function grain(change: (v: number, x: number, y: number) => number = (v) => v): ColourPicture {
  const random = seededRandom(5);
  const p = makeColourPicture(256, 192);
  for (let i = 0; i < p.r.length; i++)
    p.r[i] = p.g[i] = p.b[i] = change(0.3 + 0.05 * random.normal(), i % 256, Math.floor(i / 256));
  return p;
}

test('an even, sharp sample is said to be fine', () => {
  expect(reportOnSample(mapChannels(grain(), (p) => blurWrapped(p, 0.7, 0.7))).sentences).toEqual([
    'Sharp, evenly lit and without clipping.',
  ]);
});

test('burnt-out highlights are measured as a share and told', () => {
  const report = reportOnSample(grain((v, x) => (x < 64 ? 1.2 : v)));
  expect(report.clippedHighlights).toBeCloseTo(0.25, 2);
  expect(report.sentences.join(' ')).toMatch(/25 % of the picture is burnt out/);
});

test('light that falls off is told as a share, pale and dark pieces are not', () => {
  const report = reportOnSample(grain((v, x) => v * (1 - (0.35 * x) / 256)));
  expect(report.lightFall).toBeGreaterThan(0.28);
  expect(report.lightFall).toBeLessThan(0.37);
  expect(report.sentences.join(' ')).toMatch(/Light falls off by 3\d % over the picture/);
  const random = seededRandom(11);
  const tones = Array.from({ length: 48 }, () => random.between(0.5, 1.5));
  const pieces = reportOnSample(grain((v, x, y) => v * tones[Math.floor(x / 32) + 8 * Math.floor(y / 32)]!));
  expect(pieces.lightFall).toBe(0);
  // The picture of the report shows the same: contours of the light, and one tone where it is even.
  const tonesOf = (picture: ColourPicture) => new Set(drawReport(picture, 'evenness').r).size;
  expect(tonesOf(grain((v, x) => v * (1 - (0.35 * x) / 256)))).toBeGreaterThan(5);
  expect(tonesOf(grain())).toBe(1);
});

test('blur lowers sharpness, noise in flat areas is measured', () => {
  expect(reportOnSample(mapChannels(grain(), (p) => blurWrapped(p, 4, 4))).sharpness).toBeLessThan(0.52);
  const random = seededRandom(9);
  const flat = makeColourPicture(256, 256);
  // L* of 0.18418 is 50; its slope there is 116/(3·Y^(2/3)) per unit of Y.
  for (let i = 0; i < flat.r.length; i++)
    flat.r[i] = flat.g[i] = flat.b[i] = 0.18418 + 0.02 * random.normal();
  const expected = (0.02 * 116) / (3 * 0.18418 ** (2 / 3));
  expect(Math.abs(reportOnSample(flat).noise / expected - 1)).toBeLessThan(0.15);
});
