import { depthBetween, profileAlong, slopeDegAt } from './section-profile';

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
/** A level line over a field, at a share of the repeat from its upper edge. */
const level = (share: number, fieldMm = 100, change: Partial<typeof WINDOW> = {}) => ({
  ...WINDOW,
  ...change,
  from: [0, 50 * share] as const,
  to: [fieldMm, 50 * share] as const,
});
const HEIGHT_PX = 90;

test('a joint stands where it lies on the plate above, as deep as the scale of depth says', () => {
  const { y, from, levelPx, pxPerDepthMm, deep } = profileAlong(relief(), level(0.75), [0, 0], HEIGHT_PX);
  // The field begins 10 mm from the left edge of the view and is 100 mm long.
  expect(from).toBe(40);
  expect(y).toHaveLength(401);
  expect(deep).toBe(5);
  expect(pxPerDepthMm).toBe(20);
  expect(y[42 * 4]! - levelPx).toBeCloseTo(2 * pxPerDepthMm, 3);
  expect(y[30 * 4]! - levelPx).toBeCloseTo(0, 3);
});

test('the line has its own row, and goes with edges that are moved into view', () => {
  const above = profileAlong(relief(), level(0.25), [0, 0], HEIGHT_PX);
  expect(Math.max(...above.y) - Math.min(...above.y)).toBeCloseTo(0, 6);
  const moved = profileAlong(relief(), level(0.25), [0.5, 0.5], HEIGHT_PX);
  const deepest = moved.y.indexOf(Math.max(...moved.y)) / 4;
  expect(deepest).toBeGreaterThan(89);
  expect(deepest).toBeLessThan(95);
});

test('a second repeat shows the same again', () => {
  const { y } = profileAlong(relief(), level(0.75, 200, { widthPx: 900 }), [0, 0], HEIGHT_PX);
  for (const mm of [20, 41.5, 60])
    expect(y[Math.round((mm + 100) * 4)]).toBeCloseTo(y[Math.round(mm * 4)]!, 3);
});

test('a field beyond the view has no profile', () => {
  expect(profileAlong(relief(), level(0.75, 100, { startMm: 300 }), [0, 0], HEIGHT_PX).y).toEqual([]);
});

test('a line between two ends shows what lies along it, from its first end on', () => {
  // Straight down through the joint, from 5 mm above where it begins.
  const down = profileAlong(
    relief(),
    { ...WINDOW, startMm: 0, from: [42, 20], to: [42, 30] },
    [0, 0],
    HEIGHT_PX,
  );
  expect(down.mm).toHaveLength(41);
  expect(down.mm[0]).toBeCloseTo(0, 6);
  expect(down.mm[40]).toBeCloseTo(-2, 6);
  // Up from below it is the same the other way round.
  const up = profileAlong(
    relief(),
    { ...WINDOW, startMm: 0, from: [42, 30], to: [42, 20] },
    [0, 0],
    HEIGHT_PX,
  );
  expect(up.mm[0]).toBeCloseTo(-2, 6);
});

test('a depth drawn across a joint is that below the faces beside it, and slopes have a sign', () => {
  const profile = profileAlong(relief(), level(0.75), [0, 0], HEIGHT_PX);
  const column = (mm: number) => Math.round((mm + 10) * 4) - profile.from;
  expect(depthBetween(profile, column(37), column(47))).toBeCloseTo(2, 3);
  expect(depthBetween(profile, column(47), column(37))).toBeCloseTo(2, 3);
  expect(depthBetween(profile, column(10), column(20))).toBeCloseTo(0, 6);
  const raised = { ...profile, mm: profile.mm.map((mm) => -mm) };
  expect(depthBetween(raised, column(37), column(47))).toBeCloseTo(-2, 3);
  expect(slopeDegAt(profile, column(40), 4)).toBeLessThan(-45);
  expect(slopeDegAt(profile, column(44), 4)).toBeGreaterThan(45);
  expect(slopeDegAt(profile, column(20), 4)).toBeCloseTo(0, 6);
});
