import { extent } from '../../raster';
import { paintedFamily } from '../../test-pictures';
import { figure } from '../../units';
import type { Canvas } from '../canvas';
import { generatedSizeMm, initialGenerated } from '../index';

const mm = (value: number) => figure(value, 'mm', 'published');

async function pressed(change: object, pxPerMm = 4) {
  const settings = { ...initialGenerated('studded-rubber'), ...change };
  return paintedFamily(settings, Math.round(pxPerMm * generatedSizeMm(settings).width));
}

/** Raised patches of a height map that repeats: their area and middle, found by flooding from pixel to pixel. */
function patchesOf({ height, px, mm: size, sizeMm }: Canvas, aboveMm: number) {
  const { width: w, height: h } = px;
  const seen = new Uint8Array(w * h);
  const out: { areaMm2: number; x: number; y: number }[] = [];
  for (let start = 0; start < w * h; start++) {
    if (seen[start] || height.data[start]! < aboveMm) continue;
    const [x0, y0] = [start % w, Math.floor(start / w)];
    const stack: [number, number][] = [[x0, y0]];
    seen[start] = 1;
    let [n, sx, sy] = [0, 0, 0];
    while (stack.length > 0) {
      const [x, y] = stack.pop()!;
      n++;
      sx += x;
      sy += y;
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as const) {
        const i = ((((y + dy) % h) + h) % h) * w + ((((x + dx) % w) + w) % w);
        if (seen[i] || height.data[i]! < aboveMm) continue;
        seen[i] = 1;
        stack.push([x + dx, y + dy]);
      }
    }
    const within = (v: number, length: number) => ((v % length) + length) % length;
    out.push({
      areaMm2: n * size.x * size.y,
      x: within((sx / n + 0.5) * size.x, sizeMm.width),
      y: within((sy / n + 0.5) * size.y, sizeMm.height),
    });
  }
  return out;
}
const rubber = { pitchMm: mm(20), studMm: mm(14), heightMm: mm(1), repeatMm: { width: 120, height: 100 } };

test.each([
  ['round', Math.PI * 49],
  ['square', 196],
])('%s studs have the size, the pitch and the height that were asked for', async (stud, areaMm2) => {
  const canvas = await pressed({ ...rubber, stud });
  const studs = patchesOf(canvas, -0.5);
  expect(studs).toHaveLength(30);
  for (const { areaMm2: area } of studs) expect(Math.abs(Math.sqrt(area / areaMm2) - 1)).toBeLessThan(0.02);
  const first = studs.map((s) => s.x).sort((a, b) => a - b);
  expect(Math.abs(first.at(-1)! - first[0]! - 100)).toBeLessThan(0.3);
  const { min, max } = extent(canvas.height.data);
  expect(Math.abs(max - min - 1)).toBeLessThan(0.08);
});

test('staggered studs are as far from all six neighbours, also over the edges', async () => {
  const canvas = await pressed({ ...rubber, lay: 'staggered' });
  const { width, height } = canvas.sizeMm;
  const studs = patchesOf(canvas, -0.5);
  const away = (d: number, length: number) => d - length * Math.round(d / length);
  for (const a of studs) {
    const near = studs
      .map((b) => Math.hypot(away(b.x - a.x, width), away(b.y - a.y, height)))
      .sort((p, q) => p - q)
      .slice(1, 7);
    for (const d of near) expect(Math.abs(d - 20)).toBeLessThan(0.4);
  }
});

test('ribs run across, their pitch divides the height', async () => {
  const canvas = await pressed({ ...rubber, stud: 'ribs', repeatMm: { width: 55, height: 97 } }, 2);
  expect(canvas.sizeMm).toEqual({ width: 55, height: 100 });
  expect(patchesOf(canvas, -0.5)).toHaveLength(5);
});

test('the share of the granules is met', async () => {
  const white = { lab: [100, 0, 0], basis: 'measured' };
  const canvas = await pressed({
    ...{ ...rubber, granules: white, granulePercent: figure(20, '%', 'published'), granuleMm: mm(1.5) },
    repeatMm: { width: 240, height: 240 },
  });
  const share = canvas.colour.g.reduce((sum, v) => sum + (v > 0.4 ? 1 : 0), 0) / canvas.colour.g.length;
  expect(Math.abs(share - 0.2)).toBeLessThan(0.02);
});

test('studs that leave nothing between them are refused', () => {
  const settings = { ...initialGenerated('studded-rubber'), ...rubber, studMm: mm(20) };
  expect(() => generatedSizeMm(settings)).toThrow(
    /Studs of 20 mm leave nothing between them at a pitch of 20 mm/,
  );
});
