import { mean } from '../raster';
import { StageCache } from '../surface';
import { goldenSources } from './golden/pictures';
import { defaultRecipe, lead, renderMaps, type Recipe } from './index';
import { figure } from '../units';
import { sizeKnownBy } from '../size';

/** A finish is the same at every size: what lies where does not depend on the pixels that are asked for. */

const PICTURES = goldenSources();
const cache = new StageCache();

async function recipeOf(change: (r: Recipe) => void): Promise<Recipe> {
  const r = structuredClone(defaultRecipe(['tiles'], 'ceramic', await PICTURES.info('tiles')));
  lead(r).size = sizeKnownBy({ overall: figure(606, 'mm', 'measured') }, 'follows');
  r.repeat.structure = {
    across: { period: 50.3 / 303, first: 0.007 },
    up: { period: 50.3 / 202, first: 0.01 },
    stagger: 0,
  };
  change(r);
  return r;
}

const rendered = async (recipe: Recipe, widthPx: number) =>
  (await renderMaps(recipe, PICTURES, { widthPx, maps: ['colour'], cache })).maps.colour;

/** Where the joints across a row of tiles lie, in shares of the repeat: the middle of what is lighter than the rest. */
async function jointsAt(recipe: Recipe, widthPx: number): Promise<number[]> {
  const { g, r, heightPx } = await rendered(recipe, widthPx);
  const column = Array.from({ length: widthPx }, (_, x) => {
    let sum = 0;
    for (let y = 0; y < heightPx; y++) sum += r[y * widthPx + x]! - 0.3 * g[y * widthPx + x]!;
    return sum / heightPx;
  });
  const level = (Math.min(...column) + Math.max(...column)) / 2;
  const joints: number[] = [];
  let [weight, moment] = [0, 0];
  for (let x = 0; x <= widthPx; x++) {
    const over = x < widthPx ? Math.max(0, column[x]! - level) : 0;
    if (over > 0) [weight, moment] = [weight + over, moment + over * (x + 0.5)];
    else if (weight > 0) {
      joints.push(moment / weight / widthPx);
      [weight, moment] = [0, 0];
    }
  }
  return joints;
}

test.each([
  ['cut at its edges', (r: Recipe) => (r.repeat.across = r.repeat.up = { closing: 'cut', overlapMm: 40 })],
  [
    'composed, larger',
    (r: Recipe) => {
      r.repeat.method = 'composed';
      r.repeat.composed = { ...r.repeat.composed, widthMm: 1005, heightMm: 600 };
    },
  ],
])('joints lie at the same millimetres in a draft and in a full set: %s', async (_, change) => {
  const recipe = await recipeOf(change);
  const full = (await jointsAt(recipe, 1600)).slice(1, -1);
  expect(full.length).toBeGreaterThan(3);
  // Widths at which joints fall on all parts of a pixel: how a joint is measured depends on that.
  for (const widthPx of [237, 311, 413]) {
    const draft = await jointsAt(recipe, widthPx);
    const off = full.map((at) => Math.min(...draft.map((d) => Math.abs(d - at))) * widthPx);
    // Moved to whole pixels, as before, up to half a pixel of the draft; what is left is how a joint is measured.
    expect(Math.max(...off)).toBeLessThan(0.2);
    expect(mean(Float32Array.from(off))).toBeLessThan(0.1);
  }
});
