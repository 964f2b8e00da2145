import { mean } from '@jossel/core/raster';
import { boards, bricks, cloth, plank, sheet, tiles } from './physical/kinds';
import type { PhysicalSurface } from './physical/surface';

/** What lies before the cameras: its size, where its joints are, and that it is the same each time. */

const share = (data: Float32Array, is: (v: number) => boolean) => data.filter(is).length / data.length;

/** Mean height of the rows or columns of a surface, mm. */
function profileOf({ heightMmPlane: { widthPx: w, heightPx: h, data } }: PhysicalSurface, axis: 'x' | 'y') {
  const n = axis === 'x' ? w : h;
  const sums = new Float64Array(n);
  data.forEach((v, i) => (sums[axis === 'x' ? i % w : Math.floor(i / w)]! += v));
  return sums.map((v) => (v * n) / data.length);
}

test('tiles: so many whole ones, cut in the middle of the joints', async () => {
  const sample = tiles(5, [3, 2], [100, 60], '#2f6b62', { jointMm: 6 });
  expect([sample.widthMm, sample.heightMm]).toEqual([318, 132]);
  const surface = await sample.make(2);
  expect([surface.colour.widthPx, surface.colour.heightPx]).toEqual([636, 264]);
  for (const [axis, count, pitchMm] of [
    ['x', 3, 106],
    ['y', 2, 66],
  ] as const) {
    const profile = profileOf(surface, axis);
    const at = (mm: number) => profile[Math.min(profile.length - 1, Math.floor(2 * mm))]!;
    for (let k = 0; k < count; k++) {
      expect(at(k * pitchMm + 0.5)).toBeLessThan(at((k + 0.5) * pitchMm) - 0.6);
      expect(at((k + 1) * pitchMm - 0.5)).toBeLessThan(at((k + 0.5) * pitchMm) - 0.6);
    }
  }
});

test('boards: whole courses of a width, with ends that lie anywhere', async () => {
  const sample = boards(9, [1200, 4 * 103], 100, '#c8a274', '#8a623c', { jointMm: 3 });
  expect(sample.heightMm).toBe(412);
  const profile = profileOf(await sample.make(1), 'y');
  for (let k = 0; k < 4; k++) expect(profile[k * 103]).toBeLessThan(profile[k * 103 + 51]! - 0.5);
});

test('no two bricks are alike, and those that stray lie off their places', async () => {
  const tones = async (strayMm: number) => {
    const { colour, heightMmPlane } = await bricks(3, [3, 4], '#a4553a', '#5a3530', '#b9b1a2', {
      strayMm,
    }).make(0.8);
    const faces = colour.g.filter((_, i) => heightMmPlane.data[i]! > -1);
    return { level: mean(faces), faces: faces.length };
  };
  const [true_, strays] = [await tones(0), await tones(4)];
  expect(strays.faces).not.toBe(true_.faces);
  expect(Math.abs(strays.level / true_.level - 1)).toBeLessThan(0.1);
});

test('an open cloth shows the dark table through its openings, a close one does not', async () => {
  const woven = (cover: number) =>
    cloth(8, [20, 20], 'plain', [10, 10], ['#d8d0c0'], ['#d8d0c0'], { cover, pulled: 0 }).make(20);
  const dark = async (cover: number) => share((await woven(cover)).colour.g, (v) => v < 0.05);
  expect(await dark(1.05)).toBeLessThan(0.03);
  const open = await dark(0.6);
  // What neither of two sets of yarns covers: 0.4 squared, less what yarns swell.
  expect(open).toBeGreaterThan(0.08);
  expect(open).toBeLessThan(0.2);
});

test('a pulled cloth has the yarns of one that lies true, elsewhere', async () => {
  const woven = (pulled: number) =>
    cloth(4, [24, 24], 'twill22', [10, 10], ['#c0b8a8'], ['#3d4f63'], { pulled }).make(16);
  const [straight, pulled] = [await woven(0), await woven(1)];
  expect(Math.abs(mean(pulled.colour.g) / mean(straight.colour.g) - 1)).toBeLessThan(0.05);
  const apart = pulled.colour.g.reduce((sum, v, i) => sum + Math.abs(v - straight.colour.g[i]!), 0);
  expect(apart / pulled.colour.g.length).toBeGreaterThan(0.01);
});

test('the same seed and density give the same sample; gloss is that of its material', async () => {
  const make = (seed: number) => plank(seed, [300, 90], '#b39671', '#6b4f36').make(1.5);
  const [a, b, c] = [await make(1), await make(1), await make(2)];
  expect(a.colour.r).toEqual(b.colour.r);
  expect(a.colour.r).not.toEqual(c.colour.r);
  expect(mean(a.glossGu.data)).toBeGreaterThan(4);
  expect(mean((await sheet(2, [120, 90], '#c3c6c7', '#7c848a').make(2)).glossGu.data)).toBeCloseTo(40, 0);
  expect(mean((await tiles(2, [2, 2], [90, 90], '#24384f').make(1)).glossGu.data)).toBeGreaterThan(60);
});
