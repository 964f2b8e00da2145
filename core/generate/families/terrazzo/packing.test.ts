import { generatedRecipe, renderFinish } from '../../../finish';
import type { Pictures } from '../../../surface';
import { atOnce } from '../../../steps';
import { edgesOf, insideBy, packingSteps } from './packing';

const packChips = (...of: Parameters<typeof packingSteps>) => atOnce(packingSteps(...of));

const SIZE = { width: 160, height: 120 };
const STONES = [
  { leastMm: 6, mostMm: 16, share: 0.3 },
  { leastMm: 3, mostMm: 8, share: 0.18 },
  { leastMm: 2, mostMm: 4, share: 0.08 },
];
const packing = packChips(STONES, SIZE, 0.2, 5);

test('stones cover their shares', () => {
  STONES.forEach(({ share }, k) => expect(Math.abs(packing.covered[k]! - share)).toBeLessThan(0.002));
});

test('no two chips overlap, across the edges neither: counted on a raster of their own', () => {
  const perMm = 10;
  const [w, h] = [SIZE.width * perMm, SIZE.height * perMm];
  const count = new Uint8Array(w * h);
  const covered = STONES.map(() => 0);
  for (const chip of packing.chips) {
    const edges = edgesOf(chip);
    const reach = Math.ceil(chip.reachMm * perMm) + 1;
    const [cx, cy] = [Math.round(chip.xMm * perMm), Math.round(chip.yMm * perMm)];
    for (let y = cy - reach; y <= cy + reach; y++)
      for (let x = cx - reach; x <= cx + reach; x++) {
        if (insideBy(edges, (x + 0.5) / perMm - chip.xMm, (y + 0.5) / perMm - chip.yMm) <= 0) continue;
        count[(((y % h) + h) % h) * w + (((x % w) + w) % w)]!++;
        covered[chip.stone]!++;
      }
  }
  expect(count.every((n) => n <= 1)).toBe(true);
  // The area on the raster is that of the polygons.
  STONES.forEach(({ share }, k) => expect(Math.abs(covered[k]! / (w * h) - share)).toBeLessThan(0.004));
});

test('chips lie between their sieves, as sections through them', () => {
  for (const { stone, areaMm2, reachMm } of packing.chips) {
    const { leastMm, mostMm } = STONES[stone]!;
    const diameter = Math.sqrt((4 * areaMm2) / Math.PI);
    expect(diameter).toBeLessThanOrEqual(mostMm);
    expect(2 * reachMm).toBeLessThanOrEqual(1.6 * mostMm);
    expect(areaMm2).toBeGreaterThan(0);
    expect(leastMm).toBeLessThan(mostMm);
  }
});

test('what cannot be packed is refused with the sizes that can', () => {
  expect(() => packChips([{ leastMm: 20, mostMm: 90, share: 0.3 }], SIZE, 0, 1)).toThrow(
    /Chips of 90 mm need a repeat of at least 180 mm/,
  );
  expect(() =>
    packChips([{ leastMm: 0.1, mostMm: 0.2, share: 0.5 }], { width: 2000, height: 2000 }, 0, 1),
  ).toThrow(/at most 120 000 can be packed/);
});

test('shares over what a floor holds, and sieves the wrong way round, are refused', async () => {
  const none = () => Promise.reject(new Error('none'));
  const pictures: Pictures = { info: none, level: none, data: none };
  const recipe = generatedRecipe('terrazzo');
  const with_ = (change: object) => {
    const generated = JSON.parse(JSON.stringify(recipe.generated)) as {
      stones: Record<string, { value: number }>[];
    };
    Object.assign(generated.stones[0]!, change);
    return renderFinish({ ...recipe, generated: generated as never }, pictures, {
      widthPx: 64,
      maps: ['colour'],
    });
  };
  const share = { value: 80, unit: '%', basis: 'assumed' };
  await expect(with_({ sharePercent: share })).rejects.toThrow(/add up to 104 %; chips cover at most 82 %/);
  await expect(with_({ leastMm: { value: 30, unit: 'mm', basis: 'assumed' } })).rejects.toThrow(
    /Stone 1: the lower sieve \(30 mm\) must be finer than the upper one \(16 mm\)/,
  );
});
