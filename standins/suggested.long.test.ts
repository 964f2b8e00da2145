import { adviceForRepeat, defaultRecipe, lead, renderFinish, type Recipe } from '@jossel/core/finish';
import { mapChannels, type ColourPicture } from '@jossel/core/raster';
import { sizeKnownBy } from '@jossel/core/size';
import { StageCache } from '@jossel/core/surface';
import { onePicture } from '@jossel/core/test-pictures';
import { figure } from '@jossel/core/units';
import { photographedAskew, SAMPLES_ASKEW } from './laid/askew';
import { boards, herringbone } from './physical/kinds';
import type { PhysicalSample } from './physical/surface';

/** One press on samples that are cut where no piece ends. */

/** The middle of a sample, cut off on all sides. */
async function middleOf(sample: PhysicalSample, pxPerMm: number, share: number): Promise<ColourPicture> {
  const { colour } = await sample.make(pxPerMm);
  const [w, h] = [Math.round(colour.widthPx * share), Math.round(colour.heightPx * share)];
  const [left, top] = [(colour.widthPx - w) >> 1, (colour.heightPx - h) >> 1];
  return mapChannels(colour, ({ widthPx, data }) => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h; y++) {
      const from = (top + y) * widthPx + left;
      out.set(data.subarray(from, from + w), y * w);
    }
    return { widthPx: w, heightPx: h, data: out };
  });
}

async function suggestedFor(picture: ColourPicture, widthMm: number) {
  const recipe: Recipe = defaultRecipe(['sample'], 'timber', picture);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  const pictures = onePicture(picture);
  const cache = new StageCache(5e8);
  const advice = await adviceForRepeat(pictures, recipe, { cache });
  recipe.repeat = { ...recipe.repeat, ...advice.settings };
  const { report } = await renderFinish(recipe, pictures, { widthPx: 400, maps: ['colour'], cache });
  return { advice, report };
}

test('boards are composed of whole ones', async () => {
  const sample = boards(35, [1900, 1450], 120, '#b39671', '#6b4f36');
  const { advice, report } = await suggestedFor(await middleOf(sample, 0.6, 0.7), 0.7 * sample.widthMm);
  expect(advice.settings.method).toBe('composed');
  expect(report.boards!.laid).toBeGreaterThan(8);
  const [best, ...others] = advice.tried;
  expect(best).toMatchObject({ pieces: report.boards!.laid, broken: 0 });
  // A cut from the lower edge to the upper one crosses every course.
  for (const other of others) expect(other.broken).toBeGreaterThanOrEqual(6);
});

test('blocks of a herringbone that are cut at the edges of the sample are whole in its repeat, but for one in ten', async () => {
  const sample = herringbone(44, [1824, 1216]);
  const { advice } = await suggestedFor(await middleOf(sample, 0.5, 0.78), 0.78 * sample.widthMm);
  const [best] = advice.tried;
  expect(best!.pieces).toBeGreaterThan(15);
  expect(best!.broken / best!.pieces).toBeLessThan(0.1);
  expect(advice.settings.structure.across).not.toBeNull();
});

test('flags of several heights are not laid in courses, though their joints keep to them', async () => {
  const of = SAMPLES_ASKEW['flagstones']!();
  const { advice } = await suggestedFor(await photographedAskew(of, 560), of.widthMm);
  const [best] = advice.tried;
  expect(best!.name).not.toBe('composed in courses');
  const inCourses = advice.tried.find(({ name }) => name === 'composed in courses');
  expect(best!.broken / best!.pieces).toBeLessThan(0.2);
  if (inCourses)
    expect(inCourses.broken / inCourses.pieces).toBeGreaterThan(2 * (best!.broken / best!.pieces));
});
