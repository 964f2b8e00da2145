import { extent } from '../../raster';
import { halfLikeMm, paintedFamily } from '../../test-pictures';
import { figure } from '../../units';
import type { Canvas } from '../canvas';
import { initialGenerated } from '../index';

const mm = (value: number) => figure(value, 'mm', 'published');

const brushed = (change: object = {}) =>
  paintedFamily(
    { ...initialGenerated('brushed-metal'), repeatMm: { width: 120, height: 60 }, ...change },
    480,
  );
const sheet = (surface: string, change: object = {}, widthPx = 500) =>
  paintedFamily({ ...initialGenerated('sheet-metal'), surface, ...change }, widthPx);

/** Mean absolute step of a plane along its rows and from row to row. */
function stepsOf({ px: { width: w, height: h } }: Canvas, data: Float32Array) {
  let [along, across] = [0, 0];
  for (let y = 1; y < h; y++)
    for (let x = 1; x < w; x++) {
      along += Math.abs(data[y * w + x]! - data[y * w + x - 1]!);
      across += Math.abs(data[y * w + x]! - data[(y - 1) * w + x]!);
    }
  return { along, across };
}

test('scratches run along the sheet: across it neighbours differ far more than along it', async () => {
  const canvas = await brushed();
  const { along, across } = stepsOf(canvas, canvas.height.data);
  expect(across / along).toBeGreaterThan(8);
});

test('deeper and more scratches make a deeper and a duller sheet', async () => {
  const depth = async (change: object) => {
    const { min, max } = extent((await brushed(change)).height.data);
    return max - min;
  };
  const um = (value: number) => figure(value, 'µm', 'published');
  const [shallow, deep] = [await depth({ deepestUm: um(2) }), await depth({ deepestUm: um(8) })];
  expect(deep / shallow).toBeGreaterThan(3);
  expect(deep / shallow).toBeLessThan(5);
  const gloss = async (perCm2: number) => {
    const { data } = (await brushed({ perCm2: figure(perCm2, '1', 'published') })).gloss;
    return data.reduce((sum, v) => sum + v, 0) / data.length;
  };
  expect(await gloss(400)).toBeLessThan(await gloss(40));
});

test('spangles are of the size that is asked for: twice as large ones are alike twice as far', async () => {
  const alike = async (grainMm: number) => {
    const canvas = await sheet(
      'galvanised',
      { grainMm: mm(grainMm), repeatMm: { width: 320, height: 320 } },
      640,
    );
    return halfLikeMm(canvas, canvas.gloss.data, 'x');
  };
  const ratio = (await alike(20)) / (await alike(10));
  expect(ratio).toBeGreaterThan(1.7);
  expect(ratio).toBeLessThan(2.3);
});

test('peened dents are no deeper than asked, and what stands between them is brighter', async () => {
  const canvas = await sheet('peened', {
    depthMm: mm(2),
    grainMm: mm(20),
    repeatMm: { width: 300, height: 300 },
  });
  const { min, max } = extent(canvas.height.data);
  expect(max - min).toBeLessThan(2.3);
  expect(max - min).toBeGreaterThan(1.2);
  const mean = (where: (h: number) => boolean) => {
    const g = canvas.colour.g.filter((_, i) => where(canvas.height.data[i]!));
    return g.reduce((sum, v) => sum + v, 0) / g.length;
  };
  const middle = (min + max) / 2;
  expect(mean((h) => h > middle)).toBeGreaterThan(mean((h) => h < middle));
});

test('rust and scale stand higher than the bare metal and are duller', async () => {
  for (const surface of ['rusted', 'scale']) {
    const canvas = await sheet(surface, { coverPercent: figure(50, '%', 'published') });
    const cover = canvas.part('cover');
    const mean = (data: Float32Array, covered: boolean) => {
      const of = data.filter((_, i) => (covered ? cover[i]! > 0.9 : cover[i]! < 0.1));
      return of.reduce((sum, v) => sum + v, 0) / of.length;
    };
    expect(mean(canvas.height.data, true)).toBeGreaterThan(mean(canvas.height.data, false));
    const duller = surface === 'rusted' ? 1 : -1;
    // Mill scale is a smooth glaze of oxide: it shines more than what it leaves bare.
    expect(duller * mean(canvas.gloss.data, true)).toBeLessThan(duller * mean(canvas.gloss.data, false));
  }
});
