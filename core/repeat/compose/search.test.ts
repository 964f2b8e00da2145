import { fractalNoise, makeColourPicture, seededRandom } from '../../raster';
import { atOnce } from '../../steps';
import { FEATURES, makeAtlas } from './atlas';
import { makeSearcher } from './search';
import { SummedAreaTable } from './summed-area-table';
import { makeToroidalCanvas } from './toroidal-canvas';

const picture = makeColourPicture(40, 32);
for (let i = 0; i < picture.r.length; i++) {
  const v = 0.3 + 0.1 * fractalNoise((i % 40) / 97, Math.floor(i / 40) / 97, 30, 30, 3, 0.7, 2);
  picture.r[i] = v;
  picture.g[i] = 0.9 * v;
  picture.b[i] = 0.7 * v;
}
const AS_IT_LIES = [{ quarters: 0, flipped: false }] as const;
const atlas = makeAtlas([{ picture, keptOut: null, held: null }], AS_IT_LIES);
const [part] = atlas.parts;
const placeAt = (x: number, y: number) => part!.first + y * atlas.stride + x;

test('by transform the sums of squares are those that are counted one by one, over a closed edge as well', () => {
  const random = seededRandom(4);
  const torus = makeToroidalCanvas(atlas, 24, 20, { across: true, up: true });
  // Part of the window is empty and does not count.
  for (let p = 0; p < torus.place.length; p++)
    if (random.next() < 0.7) torus.place[p] = placeAt(random.whole(40), random.whole(32));
  const window = { x: 19, y: 15, widthPx: 9, heightPx: 7 };
  const weights = Float32Array.from({ length: 63 }, () => random.next());
  const found = atOnce(
    makeSearcher(atlas).find(torus, window, weights, 400, {
      allowed: () => true,
      penalty: () => 0,
      random: () => 0,
    }),
  );
  expect(found.length).toBeGreaterThan(5);
  for (const { x, y, cost } of found) {
    let [sum, total] = [0, 0];
    for (let v = 0; v < 7; v++)
      for (let u = 0; u < 9; u++) {
        const now = torus.place[((15 + v) % 20) * 24 + ((19 + u) % 24)]!;
        if (now < 0) continue;
        const w = weights[v * 9 + u]!;
        total += w;
        for (const c of [0, 1, 2, 5])
          sum +=
            w *
            (atlas.features[now * FEATURES + c]! - atlas.features[placeAt(x + u, y + v) * FEATURES + c]!) **
              2;
      }
    expect(Math.abs(cost - sum / total)).toBeLessThan(1e-6 * (1 + sum / total));
  }
  expect(found.map((f) => f.cost)).toEqual(found.map((f) => f.cost).sort((a, b) => a - b));
});

test('what lies there already is found again, unless it is not allowed or too often used', () => {
  const torus = makeToroidalCanvas(atlas, 24, 20, { across: true, up: true });
  const window = { x: 3, y: 2, widthPx: 10, heightPx: 8 };
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 10; u++) torus.place[(2 + v) * 24 + 3 + u] = placeAt(17 + u, 11 + v);
  const even = new Float32Array(80).fill(1);
  const first = (options: { allowed?: boolean; penalty?: number }) =>
    atOnce(
      makeSearcher(atlas).find(torus, window, even, 1, {
        allowed: (_p, x, y) => options.allowed !== false || x !== 17 || y !== 11,
        penalty: (_p, x, y) => (x === 17 && y === 11 ? (options.penalty ?? 0) : 0),
        random: () => 0,
      }),
    )[0]!;
  expect(first({})).toMatchObject({ x: 17, y: 11 });
  expect([first({ allowed: false }).x, first({ allowed: false }).y]).not.toEqual([17, 11]);
  expect([first({ penalty: 1e9 }).x, first({ penalty: 1e9 }).y]).not.toEqual([17, 11]);
});

test('sums over windows are those counted one by one', () => {
  const value = (x: number, y: number) => ((x * 7 + y * 13) % 11) - 3;
  const sums = new SummedAreaTable(17, 12, value);
  for (const [x, y, w, h] of [
    [0, 0, 17, 12],
    [3, 2, 5, 4],
    [16, 11, 1, 1],
    [4, 4, 0, 3],
  ] as const) {
    let sum = 0;
    for (let v = y; v < y + h; v++) for (let u = x; u < x + w; u++) sum += value(u, v);
    expect(sums.over(x, y, w, h)).toBe(sum);
  }
});
