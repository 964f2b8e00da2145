import { extent } from '../../raster';
import { paintedFamily } from '../../test-pictures';
import { figure } from '../../units';
import type { Canvas } from '../canvas';
import { generatedSizeMm, initialGenerated } from '../index';

const mm = (value: number) => figure(value, 'mm', 'published');
const pane = (change: object, widthPx = 600): Promise<Canvas> =>
  paintedFamily({ ...initialGenerated('sheet-glass'), ...change }, widthPx);
const rowOf = ({ height, px }: Canvas, y: number) => height.data.slice(y * px.width, (y + 1) * px.width);
const depthOf = ({ height }: Canvas) => {
  const { min, max } = extent(height.data);
  return max - min;
};

/** Places where a closed profile is lowest (or highest) within a tenth of the row around. */
function turnsOf(row: Float32Array, sign: 1 | -1): number[] {
  const reach = Math.round(row.length / 60);
  return [...row.keys()].filter((x) => {
    for (let d = -reach; d <= reach; d++) {
      const other = sign * row[(x + d + row.length) % row.length]!;
      if (other > sign * row[x]! || (other === sign * row[x]! && d < 0)) return false;
    }
    return true;
  });
}

test.each([
  ['fluted', 12, 1.2],
  ['reeded', 20, 2.5],
])('a %s pane stands on whole pitches of %d mm and is %d mm deep', async (making, pitchMm, depthMm) => {
  const asked = { making, pitchMm: mm(pitchMm), depthMm: mm(depthMm), repeatMm: { width: 250, height: 120 } };
  const canvas = await pane(asked, 1000);
  const { width } = generatedSizeMm({ ...initialGenerated('sheet-glass'), ...asked });
  expect(width / pitchMm).toBeCloseTo(Math.round(250 / pitchMm), 6);
  // Flutes are hollow: sharp ridges between them; reeds are round, with sharp grooves.
  const sharp = turnsOf(rowOf(canvas, 10), making === 'fluted' ? 1 : -1);
  expect(sharp).toHaveLength(Math.round(width / pitchMm));
  expect(Math.abs(depthOf(canvas) / depthMm - 1)).toBeLessThan(0.05);
  // The arc of a true circle: a quarter of the way out it is a sixteenth as deep as at half a pitch.
  const row = rowOf(canvas, 10);
  const middle = sharp[3]! + Math.round((0.5 * pitchMm * canvas.px.width) / width);
  const quarter = middle + Math.round((0.25 * pitchMm * canvas.px.width) / width);
  const rise = Math.abs(row[quarter % row.length]! - row[middle % row.length]!);
  expect(rise / depthMm).toBeGreaterThan(0.2);
  expect(rise / depthMm).toBeLessThan(0.3);
});

test('a roller wave runs across the pane by its pitch, and its faces are level along it', async () => {
  const canvas = await pane({ making: 'roller', pitchMm: mm(150), depthMm: mm(0.01) }, 300);
  const row = rowOf(canvas, 40);
  const turns = 600 / 150;
  let [re, im, all] = [0, 0, 0];
  row.forEach((v, x) => {
    re += v * Math.cos((2 * Math.PI * turns * x) / row.length);
    im += v * Math.sin((2 * Math.PI * turns * x) / row.length);
    all += v * v;
  });
  // Most of what the row does is that one wave.
  expect((2 * (re * re + im * im)) / row.length / all).toBeGreaterThan(0.5);
  expect(depthOf(canvas)).toBeLessThan(0.02);
});

test('a satin face has no relief to be seen, a cathedral one has dishes as deep as asked', async () => {
  expect(depthOf(await pane({ making: 'satin' }))).toBeLessThan(0.03);
  const hammered = await pane({ making: 'cathedral', pitchMm: mm(25), depthMm: mm(0.8) });
  expect(depthOf(hammered)).toBeGreaterThan(0.6);
  expect(depthOf(hammered)).toBeLessThan(0.81);
});

test('bubbles are as many as asked: twice as many darken twice the area', async () => {
  const darkened = async (seeds: number) => {
    const asked = { making: 'satin', seedsPerM2: figure(seeds, '1/m²', 'published') };
    const canvas = await pane({ ...asked, repeatMm: { width: 200, height: 200 } }, 800);
    const { g } = canvas.colour;
    const level = [...g].sort((a, b) => a - b)[g.length >> 1]!;
    return g.filter((v) => v < 0.97 * level).length;
  };
  const [none, some, twice] = [await darkened(0), await darkened(2000), await darkened(4000)];
  expect(none).toBe(0);
  expect(twice / some).toBeGreaterThan(1.7);
  expect(twice / some).toBeLessThan(2.3);
});
