import { makeColourPicture, makePlane, seededRandom, type Plane } from '../../raster';
import { apartFromLines, featuresOf, halvedFeatures, limited, lineMeans } from './features';

const [W, H] = [160, 120];
function planeOf(at: (x: number, y: number) => number): Plane {
  const plane = makePlane(W, H);
  for (let y = 0, i = 0; y < H; y++) for (let x = 0; x < W; x++, i++) plane.data[i] = at(x, y);
  return plane;
}
const ALL = makePlane(W, H, 1);
const LEFT_HALF = planeOf((x) => (x < W / 2 ? 1 : 0));
const random = seededRandom(2);
const NOISE = planeOf(() => random.normal());

function moments({ data }: Plane, usable: Plane) {
  const used = [...data].filter((_, i) => usable.data[i]! >= 1);
  const mean = used.reduce((a, b) => a + b, 0) / used.length;
  const deviation = Math.sqrt(used.reduce((s, v) => s + (v - mean) * (v - mean), 0) / used.length);
  return { mean, deviation, most: Math.max(...used.map(Math.abs)) };
}

test('limited values have mean 0 and deviation 1 whatever their scale; single strong marks are held', () => {
  const marked = planeOf((x, y) => 40 + 7 * NOISE.data[y * W + x]! + (x === 20 && y === 30 ? 5000 : 0));
  const { mean, deviation, most } = moments(limited(marked, ALL), ALL);
  expect(mean).toBeCloseTo(0, 5);
  expect(most).toBeLessThan(3.2);
  // The mark widens the deviation by which all are divided.
  expect(deviation).toBeGreaterThan(0.1);
  expect(moments(limited(NOISE, ALL), ALL).deviation).toBeCloseTo(1, 1);
});

test('what does not count is 0 and counts for nothing', () => {
  const halves = planeOf((x, y) => NOISE.data[y * W + x]! + (x < W / 2 ? 0 : 1000));
  const out = limited(halves, LEFT_HALF);
  expect(out.data.every((v, i) => LEFT_HALF.data[i]! >= 1 || v === 0)).toBe(true);
  expect(moments(out, LEFT_HALF).mean).toBeCloseTo(0, 5);
  expect(moments(out, LEFT_HALF).deviation).toBeCloseTo(1, 1);
});

test('what runs all along rows and columns is taken away, and what stands alone stays', () => {
  const spot = (x: number, y: number) => (Math.hypot(x - 80, y - 60) < 5 ? 3 : 0);
  const lines = (x: number, y: number) => (y % 17 < 2 ? 2 : 0) + (x % 23 < 2 ? -2 : 0);
  const apart = apartFromLines(
    planeOf((x, y) => lines(x, y) + spot(x, y)),
    ALL,
  );
  const plain = apartFromLines(planeOf(spot), ALL);
  const at = ({ data }: Plane, x: number, y: number) => data[y * W + x]!;
  // Lines stood out by two thirds of the spot; what is left of them is less than a third of what values are held at.
  expect(Math.abs(at(apart, 30, 17) - at(apart, 30, 24))).toBeLessThan(0.3 * at(apart, 80, 60));
  expect(at(apart, 80, 60)).toBeGreaterThan(2);
  expect(at(plain, 80, 60)).toBeGreaterThan(2);
});

test('means of lines count only what is usable', () => {
  const rising = planeOf((x, y) => x + 1000 * y);
  const rows = lineMeans(rising, LEFT_HALF, 'rows');
  const columns = lineMeans(rising, LEFT_HALF, 'columns');
  expect([rows.length, columns.length]).toEqual([H, W]);
  expect(rows[7]).toBeCloseTo((W / 2 - 1) / 2 + 7000, 6);
  expect(columns[3]).toBeCloseTo(3 + (1000 * (H - 1)) / 2, 6);
  expect(columns[W - 1]).toBe(0);
});

test('features do not see how bright a picture is, nor light that falls off over it', () => {
  const wall = (gain: (x: number) => number) => {
    const picture = makeColourPicture(W, H);
    for (let y = 0, i = 0; y < H; y++)
      for (let x = 0; x < W; x++, i++) {
        const v = gain(x) * (y % 20 < 3 || x % 40 < 3 ? 0.1 : 0.4) * (1 + 0.05 * NOISE.data[i]!);
        [picture.r[i], picture.g[i], picture.b[i]] = [v, v, v];
      }
    return featuresOf(picture, undefined);
  };
  const correlation = (a: Plane, b: Plane) => a.data.reduce((sum, v, i) => sum + v * b.data[i]!, 0) / (W * H);
  const [even, bright, falling] = [wall(() => 1), wall(() => 1.9), wall((x) => 1.4 - (0.9 * x) / W)];
  expect(correlation(even.lightness, bright.lightness)).toBeGreaterThan(0.99);
  expect(correlation(even.lightness, falling.lightness)).toBeGreaterThan(0.9);
  expect(correlation(even.edges, falling.edges)).toBeGreaterThan(0.9);
});

test('keep-outs leave no edge of their own, and halved features count where all four pixels do', () => {
  const picture = makeColourPicture(W, H);
  picture.r.fill(0.4);
  picture.g.fill(0.4);
  picture.b.fill(0.4);
  const keptOut = planeOf((x, y) => (x > 50 && x < 91 && y > 30 && y < 71 ? 1 : 0));
  keptOut.data.forEach((v, i) => v && (picture.r[i] = picture.g[i] = picture.b[i] = 0));
  const { usable, lightness } = featuresOf(picture, keptOut);
  expect(usable.data.every((v, i) => v >= 1 || lightness.data[i] === 0)).toBe(true);
  expect(usable.data.reduce((a, b) => a + b, 0)).toBe(W * H - 40 * 40);
  const halved = halvedFeatures({ usable, lightness, edges: lightness });
  const at = (x: number, y: number) => halved.usable.data[y * (W / 2) + x]!;
  expect([at(24, 40), at(30, 20), at(10, 10)]).toEqual([1, 0, 1]);
  // Columns 50 and 51 make one: half of it is kept out.
  expect(at(25, 20)).toBeLessThan(1);
});
