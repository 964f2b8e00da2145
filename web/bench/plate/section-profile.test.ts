import { profileAlong } from './section-profile';

/** A relief of 100 × 50 mm, of 200 × 100 px: a joint 2 mm deep from 40 to 44 mm in its lower half. */
function relief() {
  const heightMm = new Float32Array(200 * 100);
  for (let y = 50; y < 100; y++) for (let x = 80; x < 88; x++) heightMm[y * 200 + x] = -2;
  return {
    widthPx: 200,
    heightPx: 100,
    heightMm,
    report: { heightMm: { min: -2, max: 0, zero: 0 }, repeatMm: { width: 100, height: 50 } },
  } as unknown as Parameters<typeof profileAlong>[0];
}
/** At 1:1 on a screen of 4 px per mm. */
const WINDOW = { widthPx: 500, pxPerMm: 4, startMm: -10, scale: 1 };
const HEIGHT_PX = 90;

test('a joint stands where it lies on the plate above, as deep as the scale of depth says', () => {
  const { y, from, levelPx, pxPerDepthMm, deep } = profileAlong(
    relief(),
    WINDOW,
    0.75,
    [0, 0],
    100,
    HEIGHT_PX,
  );
  // The field begins 10 mm from the left edge of the view and is 100 mm long.
  expect(from).toBe(40);
  expect(y).toHaveLength(401);
  expect(deep).toBe(5);
  expect(pxPerDepthMm).toBe(20);
  expect(y[42 * 4]! - levelPx).toBeCloseTo(2 * pxPerDepthMm, 3);
  expect(y[30 * 4]! - levelPx).toBeCloseTo(0, 3);
});

test('the line has its own row, and goes with edges that are moved into view', () => {
  const above = profileAlong(relief(), WINDOW, 0.25, [0, 0], 100, HEIGHT_PX);
  expect(Math.max(...above.y) - Math.min(...above.y)).toBeCloseTo(0, 6);
  const moved = profileAlong(relief(), WINDOW, 0.25, [0.5, 0.5], 100, HEIGHT_PX);
  const deepest = moved.y.indexOf(Math.max(...moved.y)) / 4;
  expect(deepest).toBeGreaterThan(89);
  expect(deepest).toBeLessThan(95);
});

test('a second repeat shows the same again', () => {
  const { y } = profileAlong(relief(), { ...WINDOW, widthPx: 900 }, 0.75, [0, 0], 200, HEIGHT_PX);
  for (const mm of [20, 41.5, 60])
    expect(y[Math.round((mm + 100) * 4)]).toBeCloseTo(y[Math.round(mm * 4)]!, 3);
});

test('a field beyond the view has no profile', () => {
  expect(profileAlong(relief(), { ...WINDOW, startMm: 300 }, 0.75, [0, 0], 100, HEIGHT_PX).y).toEqual([]);
});
