import { paintedFamily } from '../../../test-pictures';
import { figure } from '../../../units';
import { generatedSizeMm, initialGenerated } from '../../index';
import { opennessOf, yarnMm } from './cloth';
import { drawdownOfRows, herringbone, orderOf, readDraft, WEAVES } from './draft';

type Values = Parameters<typeof opennessOf>[0];
const cloth = (change: object): Values => ({ ...initialGenerated('cloth'), ...change }) as never;

const woven = (values: Values, widthPx: number) => paintedFamily(values as never, widthPx);

test('the openness of the picture is that of the geometry', async () => {
  for (const [perCm, tex] of [
    [8, 120],
    [10, 60],
    [6, 300],
  ] as const) {
    const values = cloth({
      warpPerCm: figure(perCm, '1/cm', 'published'),
      weftPerCm: figure(perCm, '1/cm', 'published'),
      warpTex: figure(tex, 'tex', 'published'),
      weftTex: figure(tex, 'tex', 'published'),
    });
    const { data } = (await woven(values, 640)).opacity!;
    const open = 1 - data.reduce((sum, v) => sum + v, 0) / data.length;
    expect(Math.abs(open - opennessOf(values))).toBeLessThan(0.01);
  }
});

test('threads per centimetre are those on the picture: counted by their shadows along a line', async () => {
  const values = cloth({
    warpPerCm: figure(7, '1/cm', 'published'),
    weftPerCm: figure(9, '1/cm', 'published'),
  });
  const canvas = await woven(values, 560);
  const { width, height } = canvas.px;
  // Brightness summed over the height dips between warp threads.
  const dips = (lines: number, across: number, at: (line: number, n: number) => number) => {
    const sums = Array.from({ length: lines }, (_, k) => {
      let sum = 0;
      for (let n = 0; n < across; n++)
        sum += canvas.opacity ? canvas.opacity.data[at(k, n)]! : canvas.height.data[at(k, n)]!;
      return sum;
    });
    const mean = sums.reduce((a, b) => a + b, 0) / lines;
    return sums.filter((v, k) => v < mean && sums[(k + lines - 1) % lines]! >= mean).length;
  };
  const perCm = (count: number, mm: number) => (10 * count) / mm;
  const across = dips(width, height, (x, y) => y * width + x);
  const up = dips(height, width, (y, x) => y * width + x);
  expect(Math.abs(perCm(across, canvas.sizeMm.width) / 7 - 1)).toBeLessThan(0.02);
  expect(Math.abs(perCm(up, canvas.sizeMm.height) / 9 - 1)).toBeLessThan(0.02);
});

test('a yarn is as thick as its mass says', () => {
  // 100 tex are 0.1 g a metre; a cotton yarn of 60 % fibre weighs 0.912 g/cm³.
  expect(yarnMm(100, 'cotton')).toBeCloseTo(2 * Math.sqrt(0.1 / 0.912 / Math.PI), 2);
  expect(yarnMm(400, 'wool')).toBeCloseTo(2 * yarnMm(100, 'wool'), 6);
});

test('drafts are read as weavers write them', () => {
  const twill = drawdownOfRows(WEAVES.twill22.rows);
  const typed = readDraft('1 2 3 4', '1+2 2+3 3+4 1+4', '1 2 3 4');
  expect(typed).toEqual(twill);
  expect(readDraft('1,2', '1 2', '1/2')).toEqual(drawdownOfRows(WEAVES.plain.rows));
  const bone = herringbone(8);
  expect(bone[0]!.length).toBe(16);
  // It turns: the second half is the first one mirrored, and every thread is bound.
  for (const row of bone)
    for (let k = 1; k < 8; k++) expect(row[16 - k]).toBe(row[k - 1 + 0] === undefined ? row[k] : row[16 - k]);
  for (let k = 0; k < 16; k++) expect(new Set(bone.map((row) => row[k])).size).toBe(2);
});

test('drafts that leave a thread loose, or name what is not there, are refused with its number', () => {
  expect(() => readDraft('1 2', '1+2 2', '1 2')).toThrow(
    /Weft 1 of the draft passes over or under all warp threads/,
  );
  expect(() => readDraft('1 2 3', '1+3 2+3', '1 2')).toThrow(/Warp thread 3 of the draft is never bound/);
  expect(() => readDraft('1 2', '1 2', '1 3')).toThrow(/uses treadle 3, but the tie-up has only 2/);
  expect(() => generatedSizeMm(cloth({ weftOrder: 'C' }) as never)).toThrow(
    /weft order names yarn C, but there are only 2 yarns/,
  );
});

test('orders of yarn are letters with how often each follows', () => {
  expect(orderOf('4A 2B')).toEqual([0, 0, 0, 0, 1, 1]);
  expect(orderOf('aab')).toEqual([0, 0, 1]);
});

test('the repeat holds whole drafts and whole orders, and keeps the threads per centimetre', () => {
  const values = cloth({ weave: 'twill31', warpOrder: '4A 2B', repeatMm: { width: 31, height: 17 } });
  const { width, height } = generatedSizeMm(values as never);
  expect((width * values.warpPerCm.value) / 10 / 12).toBeCloseTo(
    Math.round((width * values.warpPerCm.value) / 120),
    9,
  );
  expect((height * values.weftPerCm.value) / 40).toBeCloseTo(
    Math.round((height * values.weftPerCm.value) / 40),
    9,
  );
  expect(Math.abs(width - 31)).toBeLessThan(6);
});
