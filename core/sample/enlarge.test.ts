import { halve, makeColourPicture, mapChannels, resample, type ColourPicture, type Plane } from '../raster';
import { brickwork, rgb } from '../test-pictures';
import { enlargeTwice } from './enlarge';

const green = ({ widthPx, heightPx, g }: ColourPicture): Plane => ({ widthPx, heightPx, data: g });
const smooth = (picture: ColourPicture) =>
  mapChannels(picture, (plane) =>
    resample(plane, { leftPx: 0, topPx: 0, stepX: 0.5, stepY: 0.5 }, 2 * plane.widthPx, 2 * plane.heightPx),
  );
/** What a plane has in its finest octave, as a root of the mean square. */
function finest(plane: Plane): number {
  const coarse = resample(
    halve(plane),
    { leftPx: 0, topPx: 0, stepX: 0.5, stepY: 0.5 },
    plane.widthPx,
    plane.heightPx,
  );
  return Math.sqrt(plane.data.reduce((sum, v, i) => sum + (v - coarse.data[i]!) ** 2, 0) / plane.data.length);
}
const farthest = (a: ColourPicture, b: ColourPicture) =>
  (['r', 'g', 'b'] as const).reduce(
    (most, c) => a[c].reduce((m, v, i) => Math.max(m, Math.abs(v - b[c][i]!)), most),
    0,
  );

/** A surface at twice the resolution of the picture that is enlarged: what its detail truly is. */
const WALL = brickwork({
  widthMm: 225,
  heightMm: 150,
  pxPerMm: 2,
  seed: 3,
  brickWidthMm: 215,
  brickHeightMm: 65,
  jointMm: 10,
  shift: 0.5,
  strayMm: 2,
  clay: rgb('#a4553a'),
  burnt: rgb('#5a3530'),
  mortar: rgb('#b9b1a2'),
}).colour;

test('halved, an enlarged picture is the picture again', () => {
  const picture = mapChannels(WALL, halve);
  expect(farthest(mapChannels(enlargeTwice(picture), halve), picture)).toBeLessThan(1e-3);
});

test('its finest octave is about as strong as that of the surface itself, which smooth enlargement has not', () => {
  const picture = mapChannels(WALL, halve);
  const truth = finest(green(WALL));
  expect(finest(green(smooth(picture)))).toBeLessThan(0.35 * truth);
  const made = finest(green(enlargeTwice(picture)));
  expect(made).toBeGreaterThan(0.6 * truth);
  expect(made).toBeLessThan(1.4 * truth);
});

test('an edge stays where it is, and gets sharper', () => {
  // A disc, drawn from its cover of each pixel.
  const picture = makeColourPicture(96, 96);
  const radius = 30;
  for (let y = 0; y < 96; y++)
    for (let x = 0; x < 96; x++) {
      const cover = Math.min(1, Math.max(0, radius - Math.hypot(x - 47.5, y - 47.5) + 0.5));
      for (const c of ['r', 'g', 'b'] as const) picture[c][y * 96 + x] = 0.1 + 0.6 * cover;
    }
  /** Along a ray: where it passes half, and how many pixels of the small picture it takes from a fifth to four fifths. */
  const edge = ({ widthPx, g }: ColourPicture, scale: number) => {
    const at = (level: number) => {
      const row = Math.floor(widthPx / 2) * widthPx;
      let x = Math.floor(widthPx / 2);
      while (g[row + x + 1]! > level) x++;
      return (x + (g[row + x]! - level) / (g[row + x]! - g[row + x + 1]!) + 0.5) / scale;
    };
    return { half: at(0.4), width: at(0.22) - at(0.58) };
  };
  const [made, plain] = [edge(enlargeTwice(picture), 2), edge(smooth(picture), 2)];
  expect(made.half).toBeCloseTo(plain.half, 0);
  expect(Math.abs(made.half - (48 + radius))).toBeLessThan(0.3);
  expect(made.width).toBeLessThan(0.9 * plain.width);
});

test('an even picture stays even', () => {
  const even = makeColourPicture(40, 30);
  for (const c of ['r', 'g', 'b'] as const) even[c].fill(0.37);
  const twice = enlargeTwice(even);
  expect([twice.widthPx, twice.heightPx]).toEqual([80, 60]);
  expect(farthest(twice, smooth(even))).toBeLessThan(1e-4);
});

test('the same picture gives the same detail; one too small for patches is enlarged smoothly', () => {
  const picture = mapChannels(WALL, halve);
  expect(enlargeTwice(picture).g).toEqual(enlargeTwice(picture).g);
  const tiny = makeColourPicture(16, 40);
  for (let i = 0; i < tiny.g.length; i++) tiny.g[i] = (i % 7) / 10;
  expect(enlargeTwice(tiny).g).toEqual(smooth(tiny).g);
});
