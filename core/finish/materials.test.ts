import { fractalNoise, makeColourPicture } from '../raster';
import type { ResponseSettings } from '../response';
import { sizeKnownBy } from '../size';
import type { Pictures } from '../surface';
import { figure } from '../units';
import { defaultRecipe, lead, renderFinish } from './index';

const [W, H] = [96, 64];
const PICTURE = makeColourPicture(W, H);
for (let i = 0; i < W * H; i++) {
  const v = 0.45 + 0.1 * fractalNoise((i % W) / W, Math.floor(i / W) / H, 6, 6, 3, 0.5, 3);
  for (const c of ['r', 'g', 'b'] as const) PICTURE[c][i] = v;
}
const PICTURES: Pictures = {
  info: async () => ({ sha256: 'even', widthPx: W, heightPx: H }),
  level: async () => PICTURE,
  data: async () => PICTURE,
};

/** A finish of the picture with another response, rendered small. */
async function rendered(category: 'metal' | 'glass' | 'textile', response: Partial<ResponseSettings> = {}) {
  const recipe = defaultRecipe(['s'], category, { widthPx: W, heightPx: H });
  lead(recipe).size = sizeKnownBy({ overall: figure(480, 'mm', 'measured') }, 'follows');
  Object.assign(recipe.response, response);
  return renderFinish(recipe, PICTURES, { widthPx: 64, maps: ['colour', 'opacity', 'metalness'] });
}

test('a metal has the colour of its optical constants, and keeps the differences of its picture', async () => {
  const { report, maps } = await rendered('metal', {
    base: { kind: 'metal', of: { from: 'constants', metal: 'copper' } },
  });
  expect(report.lrv).toBeCloseTo(report.metals.base!.lrv, 0);
  expect(report.meanLab[1]).toBeGreaterThan(8);
  expect(maps.metalness).toBe(1);
  const { r } = maps.colour;
  expect(Math.max(...r) / Math.min(...r)).toBeGreaterThan(1.1);
  expect(report.checks.map(({ code }) => code)).not.toContain('reflectance-open');
});

test('glass has the colour of daylight seen through it, and no reflectance is asked for', async () => {
  const { report } = await rendered('glass');
  expect(report.glass!.transmitted).toBeCloseTo(0.88, 2);
  expect(report.lrv).toBeCloseTo(100 * report.glass!.transmitted, 0);
  expect(report.checks.map(({ code }) => code)).toContain('glass-light-assumed');
  expect(report.checks.map(({ code }) => code)).not.toContain('reflectance-open');
});

test('the reflectance of an open weave is that of its threads', async () => {
  const openness = {
    openPercent: figure(12, '%', 'measured'),
    between: 'dark',
    diffusePercent: figure(10, '%', 'measured'),
  } as const;
  const [closed, open] = [await rendered('textile'), await rendered('textile', { openness })];
  expect(open.report.lrv).toBeGreaterThan(closed.report.lrv);
  const { opacity } = open.maps;
  const plane = typeof opacity === 'number' ? null : opacity.data;
  expect(1 - plane!.reduce((a, b) => a + b, 0) / plane!.length).toBeCloseTo(0.12, 2);
});
