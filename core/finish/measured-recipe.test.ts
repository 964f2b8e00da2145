import { defaultRecipe, withMeasured } from './index';
import { checkMeasuredSize } from './measured-recipe';

const SHAPE = { widthPx: 900, heightPx: 600 };
const measured = () =>
  withMeasured(defaultRecipe(['a'], 'plaster', SHAPE), {
    lightSetId: 'set',
    overallMm: { width: 180, height: 120 },
    heightId: 'height',
    rangeMm: 2,
    toleranceMm: 0.1,
    lrv: 55,
  });
const over = (widthMm: number, recipe = measured()) =>
  checkMeasuredSize(recipe, SHAPE, SHAPE.widthPx / widthMm).map(({ text }) => text);

test('relief measured at one size is questioned at another, with the depth that keeps its slopes', () => {
  expect(over(180)).toEqual([]);
  expect(over(180.5)).toEqual([]);
  expect(over(200)).toEqual([
    '“Measured” was measured over 180\u2009mm; the picture is 200\u2009mm wide now. Slopes stay as measured with a depth of 2.222\u2009mm.',
  ]);
});

test('relief that is off, or of which the size is not known, is not questioned', () => {
  const recipe = measured();
  const [c] = recipe.relief.contributions;
  const having = (change: object) => ({
    ...recipe,
    relief: { ...recipe.relief, contributions: [{ ...c!, ...change }] },
  });
  expect(over(200, having({ off: true }) as typeof recipe)).toEqual([]);
  expect(over(200, having({ overMm: undefined }) as typeof recipe)).toEqual([]);
});
