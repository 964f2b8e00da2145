import fc from 'fast-check';
import { makeColourPicture, makePlane, seededRandom } from '../../raster';
import { makeAtlas } from './atlas';
import { doubled, recutSeams, refineOffsets } from './copies';
import { halved } from './pyramid';
import { makeToroidalCanvas, proposeCopy, seamCost, seamMap, type ToroidalCanvas } from './toroidal-canvas';

const random = seededRandom(12);
const picture = makeColourPicture(24, 20);
for (let p = 0; p < picture.r.length; p++) {
  const light = 0.3 + 0.2 * Math.sin(p / 5) * random.next();
  picture.r[p] = light * random.between(0.9, 1.1);
  picture.g[p] = light;
  picture.b[p] = light * random.between(0.7, 1);
}
const keptOut = makePlane(24, 20);
for (let p = 0; p < keptOut.data.length; p++) if (p % 24 > 18 && p < 100) keptOut.data[p] = 1;
const source = { picture, keptOut, held: null };
const UPRIGHT = [{ quarters: 0, flipped: false }] as const;
const atlas = makeAtlas([source], UPRIGHT);
const part = atlas.parts[0]!;
const at = (x: number, y: number) => part.first + y * atlas.stride + x;
const [W, H] = [14, 12];

/** A repeat patched from pieces of the sample, with some pixels not laid yet. */
function patched(seed: number, closed: ToroidalCanvas['closed'], empty = 0): ToroidalCanvas {
  const chance = seededRandom(seed);
  const torus = makeToroidalCanvas(atlas, W, H, closed);
  for (let y0 = 0; y0 < H; y0 += 4)
    for (let x0 = 0; x0 < W; x0 += 7) {
      const [sx, sy] = [chance.whole(11), 5 + chance.whole(10)];
      for (let y = y0; y < Math.min(H, y0 + 4); y++)
        for (let x = x0; x < Math.min(W, x0 + 7); x++)
          torus.place[y * W + x] = chance.next() < empty ? -1 : at(sx + x - x0, sy + y - y0);
    }
  return torus;
}
const total = (torus: ToroidalCanvas) => seamMap(torus).reduce((sum, v) => sum + v, 0);

const closedness = fc.record({ across: fc.boolean(), up: fc.boolean() });
const aMove = fc.record({
  seed: fc.nat(10000),
  closed: closedness,
  empty: fc.constantFrom(0, 0, 0.3),
  window: fc.record({
    x: fc.integer({ min: -10, max: 20 }),
    y: fc.integer({ min: -10, max: 20 }),
    widthPx: fc.integer({ min: 1, max: 20 }),
    heightPx: fc.integer({ min: 1, max: 20 }),
  }),
  from: fc.record({ x: fc.integer({ min: -4, max: 22 }), y: fc.integer({ min: -4, max: 18 }) }),
});
const inRange = (m: { closed: ToroidalCanvas['closed']; window: { x: number; y: number } }) =>
  (m.closed.across || m.window.x < W) && (m.closed.up || m.window.y < H);

describe('a new copy', () => {
  test('says what it costs: all seams of the repeat change by just that', () => {
    fc.assert(
      fc.property(aMove.filter(inRange), ({ seed, closed, empty, window, from }) => {
        const torus = patched(seed, closed, empty);
        const before = total(torus);
        const move = proposeCopy(torus, window, 0, from, null);
        if (!move) return;
        move.apply();
        expect(total(torus) - before).toBe(move.after - move.before);
        // Where all is laid it is only taken where it costs no more than what was.
        if (empty === 0) expect(move.after).toBeLessThanOrEqual(move.before);
      }),
      { numRuns: 400 },
    );
  });

  test('covers all that is empty in its window, as far as the sample reaches and may be used', () => {
    fc.assert(
      fc.property(fc.nat(1000), closedness, (seed, closed) => {
        const torus = patched(seed, closed, 0.4);
        const empty = [...torus.place.keys()].filter((p) => torus.place[p]! < 0);
        proposeCopy(torus, { x: 1, y: 1, widthPx: 12, heightPx: 10 }, 0, { x: 2, y: 6 }, null)!.apply();
        for (const p of empty) {
          const [x, y] = [p % W, Math.floor(p / W)];
          const inside = x >= 1 && x < 13 && y >= 1 && y < 11;
          expect(torus.place[p]! >= 0).toBe(inside);
          if (inside) expect(torus.place[p]).toBe(at(x + 1, y + 5));
        }
      }),
      { numRuns: 40 },
    );
  });

  test('has the best of all outlines: none of the 2⁹ others costs less', () => {
    const window = { x: 4, y: 3, widthPx: 3, heightPx: 3 };
    for (let seed = 0; seed < 25; seed++) {
      const torus = patched(seed, { across: true, up: true });
      const from = { x: seed % 12, y: 4 + (seed % 11) };
      const move = proposeCopy(torus, window, 0, from, null)!;
      const before = total(torus);
      let least = Infinity;
      for (let mask = 0; mask < 512; mask++) {
        const other: ToroidalCanvas = { ...torus, place: torus.place.slice() };
        for (let k = 0; k < 9; k++)
          if (mask & (1 << k))
            other.place[(3 + Math.floor(k / 3)) * W + 4 + (k % 3)] = at(
              from.x + (k % 3),
              from.y + Math.floor(k / 3),
            );
        least = Math.min(least, total(other));
      }
      move.apply();
      // Costs are rounded to whole numbers, and no norm to the last one.
      expect(total(torus)).toBeLessThanOrEqual(least + 8);
      expect(total(torus)).toBeLessThanOrEqual(before);
    }
  });

  test('leaves alone what is not free, what is kept out and what must not become what it was', () => {
    fc.assert(
      fc.property(aMove.filter(inRange), fc.nat(500), ({ seed, closed, window, from }, masks) => {
        const torus = patched(seed, closed, 0.2);
        const chance = seededRandom(masks);
        const free = Uint8Array.from({ length: W * H }, () => (chance.next() < 0.6 ? 1 : 0));
        const not = torus.place.slice();
        // Something to avoid that the copy would bring.
        for (let p = 0; p < not.length; p += 3)
          not[p] = at(
            Math.min(23, Math.max(0, from.x + (p % W) - window.x)),
            Math.min(19, Math.max(0, from.y + Math.floor(p / W) - window.y)),
          );
        const was = torus.place.slice();
        proposeCopy(torus, window, 0, from, free, not)?.apply();
        for (let p = 0; p < was.length; p++) {
          if (torus.place[p] === was[p]) continue;
          expect(free[p]).toBe(1);
          expect(torus.place[p]).not.toBe(not[p]);
          expect(atlas.usable[torus.place[p]!]).toBe(1);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('is refused where it would lie wholly beyond the sample', () => {
    const torus = patched(1, { across: true, up: true });
    const window = { x: 2, y: 2, widthPx: 4, heightPx: 4 };
    expect(proposeCopy(torus, window, 0, { x: 24, y: 0 }, null)).toBeNull();
    expect(proposeCopy(torus, window, 0, { x: -4, y: 0 }, null)).toBeNull();
  });
});

describe('copies that are there', () => {
  const anyTorus = fc.tuple(fc.nat(10000), closedness).map(([seed, closed]) => patched(seed, closed));

  test('cut anew never show more than before', () => {
    fc.assert(
      fc.property(anyTorus, fc.integer({ min: 1, max: 3 }), (torus, band) => {
        const before = total(torus);
        recutSeams(torus, band);
        expect(total(torus)).toBeLessThanOrEqual(before);
        expect(torus.place.every((p) => atlas.partOf[p] === 0)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  test('settled by a pixel never show more than before, and stay whole', () => {
    fc.assert(
      fc.property(anyTorus, (torus) => {
        const before = total(torus);
        const seams = seamMap(torus).map((v) => (v > 0 ? 1 : 0));
        refineOffsets(torus, 1);
        expect(total(torus)).toBeLessThanOrEqual(before);
        // No outline comes where none was.
        const after = seamMap(torus);
        for (let p = 0; p < after.length; p++) if (seams[p] === 0) expect(after[p]).toBe(0);
      }),
      { numRuns: 60 },
    );
  });

  test('at twice the resolution show the same places, and have no seam but on the same outlines', () => {
    const fine = makeColourPicture(48, 40);
    for (let p = 0; p < fine.r.length; p++) fine.r[p] = fine.g[p] = fine.b[p] = random.next();
    const large = makeAtlas([{ picture: fine, keptOut: null, held: null }], UPRIGHT);
    const small = makeAtlas([halved({ picture: fine, keptOut: null, held: null })], UPRIGHT);
    const torus = makeToroidalCanvas(small, W, H, { across: true, up: true });
    for (let p = 0; p < W * H; p++)
      torus.place[p] =
        small.parts[0]!.first + Math.floor(p / W) * small.stride + ((p % W) + (p % W < 6 ? 0 : 3));
    const twice = doubled(torus, large, 2 * W, 2 * H, undefined);
    const seamsAcross = new Set<number>();
    for (let y = 0; y < 2 * H; y++)
      for (let x = 0; x < 2 * W; x++) {
        const here = twice.place[y * 2 * W + x]!;
        const [sx, sy] = [(x >> 1) + (x >> 1 < 6 ? 0 : 3), y >> 1];
        expect(here).toBe(large.parts[0]!.first + (2 * sy + (y & 1)) * large.stride + 2 * sx + (x & 1));
        const right = twice.place[y * 2 * W + ((x + 1) % (2 * W))]!;
        if (seamCost(large, here, right, 1, 0) > 0) seamsAcross.add(x);
      }
    expect([...seamsAcross].sort((a, b) => a - b)).toEqual([11, 2 * W - 1]);
  });
});
