import { defaultRecipe, withMeasured } from './index';
import { lead } from './recipe';
import { checkMeasuredSize, measuredStraightened } from './measured-recipe';

const SHAPE = { widthPx: 900, heightPx: 600 };
const measured = () =>
  withMeasured(defaultRecipe(['a'], 'plaster', SHAPE), {
    lightSetId: 'set',
    colourId: 'a',
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

test('measured again from straightened pictures: the frame is the picture, and what was marked stays where it was', () => {
  const before = measured();
  const { preparation } = lead(before);
  // The right half of the picture, and in its middle a stroke and an area.
  preparation.frame = [[0.5, 0], [1, 0], [1, 1], [0.5, 1]]; // prettier-ignore
  preparation.keepOuts = [
    { id: 'k', kind: 'stroke', erase: false, points: [[0.75, 0.5], [0.5, 0]], width: 0.1 }, // prettier-ignore
  ];
  preparation.areas = [
    { id: 'a', name: 'A', leftOut: false, corners: [[0.6, 0.2], [0.9, 0.2], [0.9, 0.8], [0.6, 0.8]] }, // prettier-ignore
  ];
  const contribution = before.relief.contributions[0]!;
  const after = measuredStraightened(
    { ...before, relief: { ...before.relief, contributions: [{ ...contribution, fine: 0.5 } as never] } },
    'measured',
    {
      ...{ lightSetId: 'set', colourId: 'colour 2', heightId: 'height 2' },
      ...{ overallMm: { width: 88, height: 121 }, rangeMm: 1.5, toleranceMm: 0.2, lrv: 52 },
    },
    SHAPE,
  );
  const source = lead(after);
  expect(source.sampleId).toBe('colour 2');
  expect(source.maps).toEqual([{ sampleId: 'height 2', role: 'height', greenRuns: 'up' }]);
  expect(source.size!.overall.up).toMatchObject({ value: 121, basis: 'measured' });
  expect(source.preparation).toMatchObject({ frame: null, bowLines: [] });
  const [stroke] = source.preparation.keepOuts;
  expect(stroke!.points).toEqual([
    [expect.closeTo(0.5, 6), expect.closeTo(0.5, 6)],
    [expect.closeTo(0, 6), expect.closeTo(0, 6)],
  ]);
  // 90 of 900 px before, of 600 px now.
  expect(stroke).toMatchObject({ width: expect.closeTo(0.15, 3) as number });
  expect(source.preparation.areas[0]!.corners[2]).toEqual([expect.closeTo(0.8, 6), expect.closeTo(0.8, 6)]);
  expect(after.relief.contributions).toEqual([
    expect.objectContaining({
      ...{ kind: 'measured', fine: 0.5, straightened: true, overMm: 88 },
      depthMm: expect.objectContaining({ value: 1.5, tolerance: 0.2 }) as object,
    }),
  ]);
});
