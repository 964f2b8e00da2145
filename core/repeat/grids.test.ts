import fc from 'fast-check';
import { seededRandom } from '../raster';
import { apply, vCycle, gridOf, type Grid } from './grids';

/** Any grid: its sides, which edges meet, its joints, how far it reaches, and what may change in it. */
const anyGrid = fc
  .record({
    widthPx: fc.integer({ min: 1, max: 90 }),
    heightPx: fc.integer({ min: 1, max: 90 }),
    closed: fc.record({ across: fc.boolean(), up: fc.boolean() }),
    rows: fc.array(fc.nat(89), { maxLength: 6 }),
    columns: fc.array(fc.nat(89), { maxLength: 6 }),
    reach: fc.integer({ min: 3, max: 60 }),
    kept: fc.boolean(),
    seed: fc.nat(1000),
  })
  .map(({ widthPx, heightPx, closed, rows, columns, reach, kept, seed }) => {
    const parted = { rows: new Uint8Array(heightPx), columns: new Uint8Array(widthPx) };
    for (const y of rows) parted.rows[y % heightPx] = 1;
    for (const x of columns) parted.columns[x % widthPx] = 1;
    const grid: Grid = { widthPx, heightPx, closed, parted };
    const n = widthPx * heightPx;
    // A disc and a bar beside it stay as they are.
    const free = Uint8Array.from({ length: n }, (_, p) => {
      const [x, y] = [p % widthPx, Math.floor(p / widthPx)];
      return Math.hypot(x - widthPx / 3, y - heightPx / 2) < heightPx / 5 || x === widthPx - 2 ? 0 : 1;
    });
    return { grid, screening: 1 / (reach * reach), free: kept ? free : new Uint8Array(n).fill(1), seed };
  });

const noise = (free: Uint8Array, seed: number) => {
  const random = seededRandom(seed);
  return Float32Array.from(free, (f) => f * random.normal());
};
const dot = (a: Float32Array, b: Float32Array) => a.reduce((sum, v, p) => sum + v * b[p]!, 0);

test('the V-cycle is symmetric, and takes most of any error, however narrow the stretches between joints', () => {
  fc.assert(
    fc.property(anyGrid, ({ grid, screening, free, seed }) => {
      const level = gridOf(grid, screening, free);
      const [u, v] = [noise(free, seed), noise(free, seed + 1)];
      const of = (run: typeof apply, from: Float32Array) => {
        const to = new Float32Array(from.length);
        run(level, from, to);
        return to.map((value, p) => value * free[p]!);
      };
      const [back, forth] = [dot(u, of(vCycle, v)), dot(of(vCycle, u), v)];
      expect(Math.abs(back - forth)).toBeLessThanOrEqual(1e-4 * (1 + Math.abs(back)) * Math.sqrt(u.length));
      // Beside what is kept a coarser grid has no say.
      const share = free.includes(0) ? 0.8 : 0.3;
      // An error is what is left of it after a cycle: in energy eᵀAe, of which each takes away its share.
      let error = u;
      let energy = dot(error, of(apply, error));
      for (let k = 0; k < 4; k++) {
        const corrected = of(vCycle, of(apply, error));
        error = error.map((value, p) => value - corrected[p]!);
        const left = dot(error, of(apply, error));
        expect(left).toBeLessThanOrEqual(share * energy + 1e-6);
        energy = left;
      }
    }),
    { numRuns: 150 },
  );
});
