import fc from 'fast-check';
import { centreOf, fittingScale, movedBy, nextScale, placeField, SHEET_SCALES, zoomedAt } from './plate-view';

const FIELD = { fieldMm: { width: 2000, height: 1200 }, box: { w: 600, h: 400 }, screenPxPerMm: 4 };
/** What lies under a pixel of the view, mm. */
const under = ({ left, top, pxPerMm }: ReturnType<typeof placeField>, [x, y]: readonly [number, number]) => [
  (x - left) / pxPerMm,
  (y - top) / pxPerMm,
];

test('a field is fitted at a scale of a drawing sheet, or tightly', () => {
  expect(fittingScale(FIELD, false)).toBe(15);
  expect(fittingScale(FIELD, true)).toBeCloseTo(8000 / 576, 6);
  expect(fittingScale({ ...FIELD, fieldMm: { width: 1e7, height: 1 } }, false)).toBe(500);
});

test('a small field lies in the middle wherever it was moved; a large one stops at its edges', () => {
  const small = placeField(FIELD, 50, [0, 0]);
  expect([small.left, small.top]).toEqual([220, 152]);
  expect(placeField(FIELD, 2, [-500, -500])).toMatchObject({ left: 24, top: 24 });
  expect(placeField(FIELD, 2, [9000, 9000])).toMatchObject({ left: 600 - 4000 - 24, top: 400 - 2400 - 24 });
});

test('zooming keeps what lies under the pointer, wherever there is room for it', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.5, max: 4, noNaN: true }),
      fc.double({ min: 0.3, max: 3, noNaN: true }),
      fc.integer({ min: 0, max: 600 }),
      fc.integer({ min: 0, max: 400 }),
      (scale, times, x, y) => {
        const before = placeField(FIELD, scale, [1000, 600]);
        const after = placeField(FIELD, scale / times, zoomedAt(before, scale / times, [x, y]));
        const stops = [after.left, after.top].some((p, k) => {
          const px = [FIELD.fieldMm.width, FIELD.fieldMm.height][k]! * after.pxPerMm;
          return p >= 24 - 1e-6 || p <= [600, 400][k]! - px - 24 + 1e-6;
        });
        if (stops) return;
        const [was, is] = [under(before, [x, y]), under(after, [x, y])];
        expect(is[0]).toBeCloseTo(was[0]!, 4);
        expect(is[1]).toBeCloseTo(was[1]!, 4);
      },
    ),
  );
});

test('moving goes by pixels, and the middle is kept at another scale', () => {
  const before = placeField(FIELD, 2, [1000, 600]);
  const moved = placeField(FIELD, 2, movedBy(before, 40, -10));
  expect([moved.left - before.left, moved.top - before.top]).toEqual([40, -10]);
  const closer = placeField(FIELD, 1, centreOf(moved));
  expect(centreOf(closer)[0]).toBeCloseTo(centreOf(moved)[0], 6);
});

test('steps go through the scales of a sheet from any scale in between, and on beyond them', () => {
  expect(nextScale(10, true)).toBe(7.5);
  expect(nextScale(10, false)).toBe(12.5);
  expect(nextScale(11, true)).toBe(10);
  expect(nextScale(11, false)).toBe(12.5);
  expect(nextScale(SHEET_SCALES.at(-1)!, false)).toBe(1000);
  expect(nextScale(1000, false)).toBe(1000);
  expect(nextScale(0.1, true)).toBe(0.05);
});
