import { percentiles } from '../../raster';
import { halfLikeMm, paintedFamily } from '../../test-pictures';
import { figure } from '../../units';
import type { Canvas } from '../canvas';
import { initialGenerated } from '../index';

const mm = (value: number) => figure(value, 'mm', 'published');
const painted = (kind: string, change: object, widthPx = 400): Promise<Canvas> =>
  paintedFamily({ ...initialGenerated(kind), ...change }, widthPx);

test('linoleum is drawn out along the calender by the stretch that is asked for', async () => {
  const drawn = async (stretch: number) => {
    const canvas = await painted('linoleum', {
      stretch: figure(stretch, '1', 'published'),
      fleckMm: mm(8),
      repeatMm: { width: 400, height: 400 },
    });
    const second = canvas.part('second');
    return halfLikeMm(canvas, second, 'x') / halfLikeMm(canvas, second, 'y');
  };
  const [little, much] = [await drawn(1.5), await drawn(4)];
  expect(little).toBeGreaterThan(1.2);
  expect(much / little).toBeGreaterThan(2);
});

test('creases of hide are as deep as asked, and lie lower than its cells', async () => {
  for (const depthMm of [0.1, 0.4]) {
    const canvas = await painted('hide', { depthMm: mm(depthMm), repeatMm: { width: 40, height: 40 } });
    // Long folds, which are few, lie deeper.
    const [low, high] = percentiles(canvas.height.data, [0.05, 0.95]) as [number, number];
    expect((high - low) / depthMm).toBeGreaterThan(0.8);
    expect((high - low) / depthMm).toBeLessThan(1.25);
    const crease = canvas.part('crease');
    const mean = (creased: boolean) => {
      const of = canvas.height.data.filter((_, i) => (creased ? crease[i]! > 0.7 : crease[i]! < 0.1));
      return of.reduce((sum, v) => sum + v, 0) / of.length;
    };
    expect(mean(true)).toBeLessThan(mean(false));
  }
});

test('grain of hide is of the size that is asked for', async () => {
  const grain = async (grainMm: number) => {
    const canvas = await painted('hide', { grainMm: mm(grainMm), repeatMm: { width: 80, height: 80 } }, 640);
    return halfLikeMm(canvas, canvas.part('crease'), 'x');
  };
  const ratio = (await grain(4)) / (await grain(2));
  expect(ratio).toBeGreaterThan(1.6);
  expect(ratio).toBeLessThan(2.4);
});

test('granules of cork have dark skins; strips of veneer are drawn out', async () => {
  const canvas = await painted('cork', { granuleMm: mm(8), repeatMm: { width: 160, height: 160 } });
  const skin = canvas.part('skin');
  const mean = (skinned: boolean) => {
    const of = canvas.colour.g.filter((_, i) => (skinned ? skin[i]! > 0.7 : skin[i]! < 0.1));
    return of.reduce((sum, v) => sum + v, 0) / of.length;
  };
  expect(mean(true)).toBeLessThan(mean(false));
  const lying = async (lie: string) => {
    const laid = await painted('cork', { lie, granuleMm: mm(8), repeatMm: { width: 200, height: 200 } });
    return halfLikeMm(laid, laid.colour.g, 'x') / halfLikeMm(laid, laid.colour.g, 'y');
  };
  expect(await lying('veneer')).toBeGreaterThan(1.5 * (await lying('granulate')));
});
