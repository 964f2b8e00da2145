import fc from 'fast-check';
import { seededRandom } from '../raster';
import { solveScreened } from './screened';

const plain = (widthPx: number, heightPx: number, around = true) => ({
  widthPx,
  heightPx,
  closed: { across: around, up: around },
  parted: { rows: new Uint8Array(heightPx), columns: new Uint8Array(widthPx) },
});
type Grid = ReturnType<typeof plain>;

/** (λ + L)·c, written down cell by cell from its definition. */
function applied(c: ArrayLike<number>, { widthPx: w, heightPx: h, closed, parted }: Grid, screening: number) {
  const out = new Float64Array(w * h);
  const join = (p: number, q: number) => {
    out[p]! += c[p]! - c[q]!;
    out[q]! += c[q]! - c[p]!;
  };
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const p = y * w + x;
      out[p]! += screening * c[p]!;
      if ((x + 1 < w || closed.across) && parted.columns[x] === 0) join(p, y * w + ((x + 1) % w));
      if ((y + 1 < h || closed.up) && parted.rows[y] === 0) join(p, ((y + 1) % h) * w + x);
    }
  return out;
}
const energy = (a: ArrayLike<number>) => Array.from(a).reduce((sum, v) => sum + v * v, 0);
const noise = (n: number, seed: number) => {
  const random = seededRandom(seed);
  return Float64Array.from({ length: n }, () => random.normal());
};

test('a wave on the torus is what its right-hand side is, divided by λ and its own frequency', () => {
  const [w, h, screening] = [96, 64, 1 / 400];
  const [kx, ky] = [3, 2];
  const wave = Float64Array.from({ length: w * h }, (_, p) =>
    Math.cos(2 * Math.PI * ((kx * (p % w)) / w + (ky * Math.floor(p / w)) / h)),
  );
  const value = screening + 4 - 2 * Math.cos((2 * Math.PI * kx) / w) - 2 * Math.cos((2 * Math.PI * ky) / h);
  const solved = solveScreened(wave, plain(w, h), screening);
  for (let p = 0; p < w * h; p += 37) expect(solved[p]! * value).toBeCloseTo(wave[p]!, 2);
});

test('whatever the grid, its edges and its joints: the equation holds to a thousandth', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 3, max: 90 }),
      fc.integer({ min: 3, max: 90 }),
      fc.boolean(),
      fc.boolean(),
      fc.integer({ min: 3, max: 40 }),
      fc.array(fc.nat(89), { maxLength: 5 }),
      fc.array(fc.nat(89), { maxLength: 5 }),
      fc.nat(1000),
      (w, h, across, up, reach, rows, columns, seed) => {
        const grid = { ...plain(w, h), closed: { across, up } };
        for (const y of rows) grid.parted.rows[y % h] = 1;
        for (const x of columns) grid.parted.columns[x % w] = 1;
        const wanted = noise(w * h, seed);
        const solved = solveScreened(wanted, grid, 1 / (reach * reach));
        const image = applied(solved, grid, 1 / (reach * reach));
        const left = energy(wanted.map((v, p) => v - image[p]!));
        expect(Math.sqrt(left / energy(wanted))).toBeLessThan(1.5e-3);
      },
    ),
    { numRuns: 60 },
  );
});

test('over a joint nothing goes', () => {
  const grid = plain(64, 64);
  // Two stretches, parted from each other on both sides.
  grid.parted.columns[31] = grid.parted.columns[63] = 1;
  const wanted = noise(64 * 64, 4).map((v, p) => (p % 64 < 32 ? v : 0));
  const solved = solveScreened(wanted, grid, 1 / 100);
  for (let p = 0; p < 64 * 64; p++) if (p % 64 >= 32) expect(Math.abs(solved[p]!)).toBeLessThan(2e-3);
});

test('what is kept stays as it was to the last bit, and the rest fits it', () => {
  const [w, h, screening] = [64, 48, 1 / 225];
  const grid = plain(w, h);
  const free = Uint8Array.from({ length: w * h }, (_, p) =>
    Math.hypot((p % w) - 30, p / w - 20) < 12 ? 1 : 0,
  );
  const values = Float32Array.from(noise(w * h, 8));
  const wanted = noise(w * h, 9);
  const solved = solveScreened(wanted, grid, screening, { free, values });
  const image = applied(solved, grid, screening);
  let [left, all] = [0, 0];
  const before = applied(values, grid, screening);
  for (let p = 0; p < w * h; p++)
    if (free[p] === 0) expect(solved[p]).toBe(values[p]);
    else {
      left += (wanted[p]! - image[p]!) ** 2;
      all += (wanted[p]! - before[p]!) ** 2;
    }
  expect(Math.sqrt(left / all)).toBeLessThan(1.5e-3);
});

test('where nothing is wanted nothing comes', () => {
  expect(solveScreened(new Float64Array(400), plain(20, 20), 0.01)).toEqual(new Float32Array(400));
});
