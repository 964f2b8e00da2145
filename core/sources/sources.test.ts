import { plainLight } from '../light';
import { halve, makeColourPicture, mapChannels, mean, type ColourPicture } from '../raster';
import { unprepared } from '../sample';
import { sizeKnownBy } from '../size';
import { RenderContext, StageCache, type Pictures } from '../surface';
import { figure } from '../units';
import { sampleAtDensity, sampleGeometry, sourcesSchema, sourcesStage, type PictureSource } from './index';

/** Lightness rises from left to right by the same step in every pixel. */
function slope(widthPx: number, heightPx: number): ColourPicture {
  const p = makeColourPicture(widthPx, heightPx);
  for (const c of ['r', 'g', 'b'] as const)
    p[c].forEach((_, i) => (p[c][i] = 0.1 + (0.8 * ((i % widthPx) + 0.5)) / widthPx));
  return p;
}
const PICTURES: Readonly<Record<string, ColourPicture>> = { first: slope(301, 200), second: slope(120, 90) };
const pictures: Pictures & { read: string[] } = {
  read: [],
  info: async (id) => ({ widthPx: PICTURES[id]!.widthPx, heightPx: PICTURES[id]!.heightPx, sha256: id }),
  level: async (id, level) => {
    pictures.read.push(`${id} ${level}`);
    let picture = PICTURES[id]!;
    for (let n = 0; n < level; n++) picture = mapChannels(picture, halve);
    return picture;
  },
  data: () => Promise.reject(new Error('No map is asked for here.')),
};
const context = (category: string | null = null) =>
  new RenderContext(pictures, { widthPx: 100, way: null, category }, { cache: new StageCache() });
const source = (id: string, change: Partial<PictureSource> = {}): PictureSource => ({
  kind: 'picture',
  id,
  sampleId: id,
  preparation: unprepared(),
  size: sizeKnownBy({ overall: figure(602, 'mm', 'measured', 3) }, 'follows'),
  light: plainLight(),
  maps: [],
  ...change,
});
const QUARTER: [number, number][] = [[0, 0], [0.5, 0], [0.5, 0.5], [0, 0.5]]; // prettier-ignore

describe('sizes of the sources', () => {
  const run = (sources: PictureSource[], lead: string | null = 'first') =>
    sourcesStage.run(context(), { sources, lead }, null);

  test('a picture without a size has pixels as large as the leading one, wherever that stands', async () => {
    const lead = source('first');
    const other = source('second', { size: null });
    for (const order of [
      [lead, other],
      [other, lead],
    ]) {
      const made = await run(order);
      const second = made.find((m) => m.settings.id === 'second')!;
      expect(second.size.width.mm).toBeCloseTo(240, 9);
      expect(second.size.height.mm).toBeCloseTo(180, 9);
      // As far off, in proportion, and by no better word than the leading one.
      expect(second.size.width.toleranceMm / 240).toBeCloseTo(3 / 602, 9);
      expect(second.size.width.basis).toBe('measured');
    }
  });

  test('a picture with a size of its own keeps it', async () => {
    const size = sizeKnownBy({ overall: figure(60, 'mm', 'published') }, 'follows');
    const [, second] = await run([source('first'), source('second', { size })]);
    expect(second!.size.pxPerMm.x).toBeCloseTo(2, 9);
  });

  test('without a size anywhere it is said where one is wanted', async () => {
    await expect(run([source('first', { size: null })])).rejects.toMatchObject({
      code: 'not-straight',
      where: 'sources.first',
      sentence: expect.stringMatching(/no size of its own/),
    });
  });

  test('checks name the picture they speak of, but for the leading one', async () => {
    const assumed = sizeKnownBy({ overall: figure(50, 'mm', 'assumed') }, 'follows');
    const sources = [source('first', { size: assumed }), source('second', { size: assumed })];
    const settings = { sources, lead: 'first' };
    const ctx = context();
    const { checks } = await sourcesStage.report(ctx, settings, await sourcesStage.run(ctx, settings, null));
    expect(checks.map((c) => c.code)).toEqual(['size-assumed', 'size-assumed-second']);
    expect(checks[0]!.text).toMatch(/^The size of/);
    expect(checks[1]!.text).toMatch(/^Picture 2: The size of/);
  });

  test('two sources of one name are refused', () => {
    const { error } = sourcesSchema.safeParse([source('first'), source('first')]);
    expect(error!.issues[0]).toMatchObject({
      path: [1, 'id'],
      message: 'Two sources have the name "first".',
    });
  });
});

describe('the used part', () => {
  const shape = { widthPx: 301, heightPx: 200 };
  const area = { id: 'a', name: 'A', leftOut: false, corners: QUARTER as never };
  const settings = source('first', { preparation: { ...unprepared(), areas: [area] } });

  test('is the frame, or an area with its share of the size', () => {
    expect(sampleGeometry(settings, null, shape).usedMm).toEqual({ width: 602, height: 400 });
    const { usedMm } = sampleGeometry(settings, 'a', shape);
    expect(usedMm.width).toBeCloseTo(301, 6);
    expect(usedMm.height).toBeCloseTo(200, 6);
  });

  test('an area that was removed is refused by its place in the recipe', () => {
    expect(() => sampleGeometry(settings, 'b', shape)).toThrow(
      expect.objectContaining({ code: 'area-missing', where: 'sources.first.preparation.areas' }),
    );
  });

  const whole = async () => {
    const ctx = context();
    const [made] = await sourcesStage.run(ctx, { sources: [source('first')], lead: 'first' }, null);
    const { info, frame } = made!;
    return { ctx, usedMm: { width: 602, height: 400 }, picture: { sampleId: 'first', info, frame } };
  };

  test('has the density asked for, exactly, and the lightness that lies there', async () => {
    const { ctx, picture, usedMm } = await whole();
    for (const perMm of [0.11, 0.25, 0.437, 0.5]) {
      const dense = await sampleAtDensity(ctx, picture, usedMm, { x: perMm, y: perMm });
      expect(dense.pxPerMm).toEqual({ x: perMm, y: perMm });
      expect(dense.picture.widthPx).toBe(Math.ceil(602 * perMm - 1e-6));
      // Away from the ends, where the filter reaches beyond the picture, the slope is as it was.
      const row = dense.picture.g.subarray(0, dense.picture.widthPx);
      for (let x = 12; x < row.length - 12; x++)
        expect(row[x]).toBeCloseTo(0.1 + (0.8 * (x + 0.5)) / perMm / 602, 3);
    }
  });

  test('is read from the smallest halving that holds the detail, and once', async () => {
    const { ctx, picture, usedMm } = await whole();
    pictures.read.length = 0;
    await sampleAtDensity(ctx, picture, usedMm, { x: 0.12, y: 0.12 });
    await sampleAtDensity(ctx, picture, usedMm, { x: 0.12, y: 0.12 });
    expect(pictures.read).toEqual(['first 2']);
  });

  test('is changed at its true scale, and a change is part of what it is known by', async () => {
    const { ctx, picture, usedMm } = await whole();
    const seen: number[] = [];
    const darker = (key: string, by: number) => ({
      key,
      apply: (p: ColourPicture, mmPerPx: { x: number; y: number }) => {
        seen.push(mmPerPx.x);
        return mapChannels(p, (plane) => ({ ...plane, data: plane.data.map((v) => by * v) }));
      },
    });
    const at = { x: 0.25, y: 0.25 };
    const plain = await sampleAtDensity(ctx, picture, usedMm, at);
    const half = await sampleAtDensity(ctx, picture, usedMm, at, darker('half', 0.5));
    const third = await sampleAtDensity(ctx, picture, usedMm, at, darker('third', 1 / 3));
    expect(seen).toEqual([4, 4]);
    expect(mean(half.picture.g) / mean(plain.picture.g)).toBeCloseTo(0.5, 6);
    expect(new Set([plain.key, half.key, third.key]).size).toBe(3);
  });

  test('beyond its pixels it is enlarged where that is asked, and no more', async () => {
    const { ctx, picture, usedMm } = await whole();
    const enlarged = { ...picture, enlarged: 2 };
    const within = await sampleAtDensity(ctx, enlarged, usedMm, { x: 0.5, y: 0.5 });
    const same = await sampleAtDensity(ctx, picture, usedMm, { x: 0.5, y: 0.5 });
    expect(within.key).toBe(same.key);
    const beyond = await sampleAtDensity(ctx, enlarged, usedMm, { x: 1, y: 1 });
    expect(beyond.picture.widthPx).toBe(602);
    expect(mean(beyond.picture.g)).toBeCloseTo(mean(same.picture.g), 3);
  });
});
