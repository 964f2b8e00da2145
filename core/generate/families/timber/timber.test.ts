import { generatedRecipe, openRecipe } from '../../../finish';
import { paintedFamily } from '../../../test-pictures';
import { figure } from '../../../units';
import { generatedSizeMm, initialGenerated, leavesOf } from '../../index';

const timber = (change: object) => ({ ...initialGenerated('timber'), ...change });

const sawn = (change: object, widthPx: number) => paintedFamily(timber(change), widthPx);

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

describe('sapwood', () => {
  const leafMm = figure(100, 'mm', 'published');
  const sap = { lab: [95, 0, 0], basis: 'measured' };
  const early = { lab: [40, 0, 0], basis: 'measured' };
  /** Which pixels are sapwood: far paler than any heartwood here. */
  async function pale(sapPercent: number) {
    const change = { leafMm, sap, early, late: early, knotsPerM2: figure(0, '1/m²', 'assumed') };
    const canvas = await sawn(
      { ...change, sapPercent: figure(sapPercent, '%', 'published'), repeatMm: { width: 200, height: 8000 } },
      60,
    );
    const { width: w, height: h } = canvas.px;
    return { w, h, leaves: 80, is: (x: number, y: number) => canvas.colour.g[y * w + x]! > 0.35 };
  }

  test('shows at one edge of as many leaves as asked, and runs along them', async () => {
    const { w, leaves, h, is } = await pale(40);
    const rows = h / leaves;
    let shown = 0;
    for (let k = 0; k < leaves; k++) {
      const edge = (y: number) =>
        Array.from({ length: w }, (_, x) => (is(x, Math.round(y)) ? 1 : 0) as number);
      const [upper, lower] = [edge(k * rows + 1), edge((k + 1) * rows - 2)].map(
        (line) => line.reduce((sum, v) => sum + v, 0) / w,
      ) as [number, number];
      const most = Math.max(upper, lower);
      if (most > 0.5) shown++;
      // The heart of a crown-cut leaf is heartwood.
      expect(is(10, Math.round((k + 0.5) * rows)) && upper > 0.5 && lower > 0.5).toBe(false);
    }
    expect(Math.abs(shown / leaves - 0.4)).toBeLessThan(0.12);
  });

  test('is nowhere unless it is asked for', async () => {
    const { w, h, is } = await pale(0);
    let count = 0;
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) count += is(x, y) ? 1 : 0;
    expect(count).toBe(0);
  });
});

test('a finish that was stored before a setting came is as with its initial value', () => {
  const recipe = generatedRecipe('timber');
  const { sapPercent, sap, clusterPercent, ...before } = recipe.generated!;
  const opened = openRecipe(JSON.parse(JSON.stringify({ ...recipe, generated: before })));
  expect(opened.generated).toEqual({ ...before, sapPercent, sap, clusterPercent });
  expect(openRecipe(JSON.parse(JSON.stringify(recipe))).generated).toEqual(recipe.generated);
});

test('clusters put many small knots in the place of one', async () => {
  const dark = async (clusterPercent: number) => {
    const { colour, px } = await sawn(
      {
        ...{ knotsPerM2: figure(30, '1/m²', 'published'), repeatMm: { width: 900, height: 560 } },
        clusterPercent: figure(clusterPercent, '%', 'published'),
        ...{ late: initialGenerated('timber')['early'], pores: 'none' },
      },
      900,
    );
    // Patches of dark pixels, counted by their first pixels from above and the left.
    const level = [...colour.b].sort((a, b) => a - b)[colour.b.length >> 1]! * 0.6;
    const is = (x: number, y: number) => x >= 0 && y >= 0 && colour.b[y * px.width + x]! < level;
    let [patches, pixels] = [0, 0];
    for (let y = 0; y < px.height; y++)
      for (let x = 0; x < px.width; x++)
        if (is(x, y)) {
          pixels++;
          if (!is(x - 1, y) && !is(x, y - 1) && !is(x - 1, y - 1)) patches++;
        }
    return { patches, pixels };
  };
  const [single, grouped] = [await dark(0), await dark(100)];
  expect(grouped.patches).toBeGreaterThan(1.5 * single.patches);
  expect(grouped.pixels).toBeLessThan(single.pixels);
});
