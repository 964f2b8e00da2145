import { lead, type Recipe } from '@jossel/core/finish';
import sharp from 'sharp';
import { finishOf, saveDraft } from './test/finish';
import { serve, type TestServer } from './test/serve';

/** Repeats of tiles that keep to their structure, composed over HTTP from a picture of the demo studio. */
let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve();
});
afterAll(() => jossel.end());

/** A finish from a picture of the demo, of known width, then changed. */
async function sized(file: string, widthMm: number, change: (recipe: Recipe) => void = () => undefined) {
  const picture = await sharp(`demo/samples/${file}`).resize({ width: 720 }).png().toBuffer();
  const { id, recipe, put } = await finishOf(jossel, picture, 'timber', (r) => {
    const known = { value: widthMm, unit: 'mm', basis: 'measured' } as const;
    lead(r).size!.ruling = { across: 'overall', up: 'follows' };
    lead(r).size!.overall = { across: known, up: null };
  });
  expect(put.status).toBe(200);
  change(recipe);
  const again = await saveDraft(jossel, id, recipe, put.body.etag);
  expect([again.status, again.body.detail]).toEqual([200, undefined]);
  return { id, recipe };
}
const render = async (id: string, widthPx = 500) => jossel.render(id, { widthPx, maps: ['colour'] });

/** Three tiles by four courses in the sample, which is laid edge to edge until another size is asked for. */
const HALF_BOND: Recipe['repeat']['structure'] = {
  across: { period: 1 / 3, first: 0 },
  up: { period: 1 / 4, first: 0 },
  stagger: 0.5,
};

test('tiles are cut in their joints: a repeat larger than the sample has whole tiles, each as long as the next', async () => {
  const { id } = await sized('glazed-tile-lagoon.jpg', 624, (r) => {
    r.repeat.method = 'composed';
    r.repeat.structure = HALF_BOND;
    r.repeat.composed = { ...r.repeat.composed, widthMm: 1040, heightMm: 520 };
  });
  const { report } = await render(id, 600);
  // 208 mm and 104 mm to a tile and its joint.
  expect(report.repeatMm.width / 208).toBeCloseTo(Math.round(report.repeatMm.width / 208), 1);
  expect(report.repeatMm.height / 104).toBeCloseTo(Math.round(report.repeatMm.height / 104), 1);
  expect(report.repeatMm.width).toBeGreaterThan(900);
  expect(Math.max(report.seam.acrossWidth, report.seam.acrossHeight)).toBeLessThan(1.15);
});

test('a sample is stretched within its limit so that whole tiles fill the size asked for, and that counts in the tolerance', async () => {
  const asked = (stretchMost: number) =>
    sized('glazed-tile-lagoon.jpg', 624, (r) => {
      r.repeat.method = 'composed';
      r.repeat.structure = HALF_BOND;
      r.repeat.composed = { ...r.repeat.composed, widthMm: 1060, heightMm: 520, stretchMost };
    });
  const plain = await render((await asked(0)).id, 300);
  const stretched = await render((await asked(0.05)).id, 300);
  expect(plain.report.repeatMm.width).not.toBeCloseTo(1060, 0);
  expect(stretched.report.repeatMm.width).toBeCloseTo(1060, 6);
  // 1040 mm to 1060 mm are 1.9 %: that much more is not known.
  expect(stretched.report.repeatToleranceMm.width - plain.report.repeatToleranceMm.width).toBeGreaterThan(15);
  // Beyond the limit it stays as it was, and the stretch that would be needed is said.
  const tooFar = await render((await asked(0.005)).id, 300);
  expect(tooFar.report.repeatMm.width).toBeCloseTo(plain.report.repeatMm.width, 6);
  expect(JSON.stringify(tooFar.report.checks)).toMatch(/stretch/);
});
