import { figure } from '../../units';
import { Canvas } from '../canvas';
import { generatedSizeMm, initialGenerated, leavesOf } from '../index';
import { TIMBER } from './timber';

const timber = (change: object) => ({ ...initialGenerated('timber'), ...change });

async function sawn(change: object, widthPx: number): Promise<Canvas> {
  const settings = timber(change);
  const sizeMm = generatedSizeMm(settings);
  const px = { width: widthPx, height: Math.round((widthPx * sizeMm.height) / sizeMm.width) };
  const canvas = new Canvas(sizeMm, px, 1, async () => undefined);
  await TIMBER.paint(canvas, settings as never, undefined);
  return canvas;
}

test.each([3, 6])(
  'on the quarter %d annual rings to a centimetre are counted along a line',
  async (ringsPerCm) => {
    const canvas = await sawn(
      {
        cut: 'quarter',
        pores: 'none',
        knotsPerM2: figure(0, '1/m²', 'assumed'),
        ringsPerCm: figure(ringsPerCm, '1/cm', 'published'),
        leafMm: figure(120, 'mm', 'published'),
        repeatMm: { width: 80, height: 480 },
      },
      800,
    );
    const { width, height } = canvas.px;
    const late = canvas.part('late');
    let rings = 0;
    const columns = [100, 300, 500, 700];
    for (const x of columns) {
      // A ring has gone by when the wood has been dark and is pale again.
      let dark = false;
      for (let y = 0; y < height; y++) {
        const here = late[y * width + x]!;
        if (dark && here < 0.18) rings++;
        if (here > 0.32) dark = true;
        else if (here < 0.18) dark = false;
      }
    }
    const perCm = rings / columns.length / (canvas.sizeMm.height / 10);
    expect(Math.abs(perCm / ringsPerCm - 1)).toBeLessThan(0.02);
  },
);

test('leaves are as wide as asked, fill the repeat, and none is like another', async () => {
  const settings = timber({ leafMm: figure(90, 'mm', 'published'), repeatMm: { width: 300, height: 400 } });
  const leaves = leavesOf(settings);
  expect(leaves.map(({ height }) => height)).toEqual([90, 90, 90, 90]);
  expect(generatedSizeMm(settings).height).toBe(360);
  expect(
    leavesOf(
      timber({ cut: 'end', leafMm: figure(60, 'mm', 'published'), repeatMm: { width: 240, height: 180 } }),
    ),
  ).toHaveLength(12);
  const { colour, px } = await sawn(
    { leafMm: figure(90, 'mm', 'published'), repeatMm: { width: 300, height: 360 } },
    300,
  );
  const rows = px.height / 4;
  const leaf = (k: number) => colour.g.slice(k * rows * px.width, (k + 1) * rows * px.width);
  const [first, second] = [leaf(0), leaf(1)];
  const difference = first.reduce((sum, v, i) => sum + Math.abs(v - second[i]!), 0) / first.length;
  expect(difference).toBeGreaterThan(0.01);
});

test('book-matched leaves mirror each other', async () => {
  const { part, px } = await (async () => {
    const canvas = await sawn(
      {
        leaves: 'book',
        pores: 'none',
        spread: figure(0, '1', 'assumed'),
        leafMm: figure(100, 'mm', 'published'),
        repeatMm: { width: 200, height: 200 },
      },
      200,
    );
    return { part: canvas.part('late'), px: canvas.px };
  })();
  const half = px.height / 2;
  let [alike, unlike] = [0, 0];
  for (let y = 0; y < half; y++)
    for (let x = 0; x < px.width; x++) {
      alike += Math.abs(part[y * px.width + x]! - part[(px.height - 1 - y) * px.width + x]!);
      unlike += Math.abs(part[y * px.width + x]! - part[(half + y) * px.width + x]!);
    }
  expect(alike).toBeLessThan(0.85 * unlike);
});
