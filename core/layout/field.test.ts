import fc from 'fast-check';
import { figure } from '../units';
import { takeOffOfField } from './field';
import { layPieces } from './lay';
import { initialLayout } from './settings';

const bricks = (kind: string) => {
  const layout = initialLayout(kind);
  layout.piece = { lengthMm: figure(215, 'mm', 'published'), widthMm: figure(65, 'mm', 'published') };
  layout.joint.alongMm = figure(10, 'mm', 'published');
  layout.joint.acrossMm = figure(10, 'mm', 'published');
  layout.repeatMm = { width: 900, height: 450 };
  return layPieces(layout);
};

test('a field that bricks fill has none cut; one half a brick wider has one in every course', () => {
  const stack = bricks('stack');
  expect(takeOffOfField(stack, { width: 2250, height: 750 }, 'corner')).toEqual({
    whole: 100,
    cut: 0,
    narrowestCutMm: null,
    cutOff: 0,
  });
  const wider = takeOffOfField(stack, { width: 2250 + 105, height: 750 }, 'corner');
  expect(wider).toMatchObject({ whole: 100, cut: 10 });
  // Half a joint stands before the brick.
  expect(wider.narrowestCutMm).toBeCloseTo(100, 6);
  expect(wider.cutOff).toBeCloseTo((10 * (215 - 100)) / (110 * 215), 6);
});

test('half bond has two half bricks in every second course, set out from its corner', () => {
  const { whole, cut } = takeOffOfField(bricks('running'), { width: 2250, height: 750 }, 'corner');
  expect([whole, cut]).toEqual([5 * 10 + 5 * 9, 5 * 2]);
});

test('set out from the middle, both ends are cut alike', () => {
  // 2.6 bricks: from the corner a narrow end on one side, from the middle one brick and 0.8 of another on each side.
  const field = { width: 2.6 * 225, height: 75 };
  const corner = takeOffOfField(bricks('stack'), field, 'corner');
  const middle = takeOffOfField(bricks('stack'), field, 'middle');
  expect([corner.whole, corner.cut]).toEqual([2, 1]);
  expect(middle.cut).toBeGreaterThanOrEqual(2);
});

test('what is laid covers the field but for its joints, in any bond and of any size', () => {
  for (const kind of ['running', 'herringbone', 'hexagon', 'crazy-paving']) {
    const geometry = layPieces(initialLayout(kind));
    const { width, height } = geometry.repeatMm;
    const share = geometry.pieces.reduce((sum, p) => sum + p.areaMm2, 0) / (width * height);
    fc.assert(
      fc.property(
        fc.double({ min: 3, max: 6, noNaN: true }),
        fc.double({ min: 3, max: 6, noNaN: true }),
        (i, j) => {
          const { whole, cut, cutOff } = takeOffOfField(
            geometry,
            { width: i * width, height: j * height },
            'middle',
          );
          const mean = geometry.pieces.reduce((sum, p) => sum + p.areaMm2, 0) / geometry.pieces.length;
          const laid = (whole + cut) * mean * (1 - cutOff);
          // Pieces cut are not of the mean size where sizes differ.
          return Math.abs(laid / (i * j * width * height) - share) < 0.06;
        },
      ),
      { numRuns: 12 },
    );
  }
});

test('a field without an area and one beyond counting are refused', () => {
  expect(() => takeOffOfField(bricks('stack'), { width: 0, height: 100 }, 'corner')).toThrow(
    'wider and higher than 0',
  );
  expect(() => takeOffOfField(bricks('stack'), { width: 1e6, height: 1e6 }, 'corner')).toThrow(
    'at most 500000',
  );
});
