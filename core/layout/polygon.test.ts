import fc from 'fast-check';
import {
  areaOf,
  boxOf,
  centreOf,
  cutOff,
  holds,
  hullOf,
  insetByEdges,
  movedBy,
  perimeterOf,
  quarterExact,
  turnedBy,
  withoutStraightCorners,
  type Point,
} from './polygon';

const RECTANGLE: Point[] = [
  [0, 0],
  [240, 0],
  [240, 70],
  [0, 70],
];
/** An L: 100 × 100 without a corner of 60 × 40. */
const ANGLE: Point[] = [
  [0, 0],
  [100, 0],
  [100, 60],
  [40, 60],
  [40, 100],
  [0, 100],
];

/** Convex outlines: hulls of a handful of corners that do not lie on one line. */
const convex = fc
  .array(fc.tuple(fc.integer({ min: -500, max: 500 }), fc.integer({ min: -500, max: 500 })), {
    minLength: 4,
    maxLength: 12,
  })
  .map((corners) => hullOf(corners as unknown as Point[]))
  .filter((outline) => outline.length >= 3 && areaOf(outline) > 100);
const place = fc.tuple(fc.integer({ min: -600, max: 600 }), fc.integer({ min: -600, max: 600 }));
const angle = fc.integer({ min: -720, max: 720 });

describe('measures', () => {
  test('of shapes that are known', () => {
    expect([areaOf(RECTANGLE), perimeterOf(RECTANGLE)]).toEqual([16800, 620]);
    expect(centreOf(RECTANGLE)).toEqual([120, 35]);
    expect(areaOf(ANGLE)).toBe(7600);
    // By moments: (10000 · 50 − 2400 · 70) / 7600 across, (10000 · 50 − 2400 · 80) / 7600 up.
    expect(centreOf(ANGLE)[0]).toBeCloseTo(332000 / 7600, 9);
    expect(centreOf(ANGLE)[1]).toBeCloseTo(308000 / 7600, 9);
    expect(areaOf([...RECTANGLE].reverse())).toBe(-16800);
  });

  test('stay when an outline is moved and turned; its centre goes with it', () => {
    fc.assert(
      fc.property(convex, place, angle, (outline, [dx, dy], deg) => {
        const elsewhere = turnedBy(movedBy(outline, dx, dy), deg, [dx, dy]);
        expect(areaOf(elsewhere) / areaOf(outline)).toBeCloseTo(1, 9);
        expect(perimeterOf(elsewhere) / perimeterOf(outline)).toBeCloseTo(1, 9);
        const [x, y] = turnedBy([centreOf(outline)], deg)[0]!;
        expect(Math.hypot(centreOf(elsewhere)[0] - x - dx, centreOf(elsewhere)[1] - y - dy)).toBeLessThan(
          1e-6,
        );
      }),
    );
  });

  test('a line without area has the middle of its corners as centre', () => {
    expect(centreOf([[0, 0], [10, 0], [20, 0]])).toEqual([10, 0]); // prettier-ignore
  });

  test('whole quarters of a turn are exact', () => {
    for (const [deg, cos, sin] of [
      [0, 1, 0],
      [90, 0, 1],
      [-90, 0, -1],
      [180, -1, 0],
      [450, 0, 1],
    ] as const)
      expect(quarterExact(deg)).toEqual([cos, sin]);
    const [c, s] = quarterExact(30);
    expect([c * c + s * s, s]).toEqual([expect.closeTo(1, 12), expect.closeTo(0.5, 12)]);
  });
});

describe('a line across an outline', () => {
  test('parts its area: both sides together are the whole', () => {
    fc.assert(
      fc.property(convex, place, angle, (outline, at, deg) => {
        const [nx, ny] = turnedBy([[1, 0]], deg)[0]!;
        const [behind, before] = [cutOff(outline, at, [nx, ny]), cutOff(outline, at, [-nx, -ny])];
        const area = (o: Point[]) => (o.length < 3 ? 0 : areaOf(o));
        expect((area(behind) + area(before)) / areaOf(outline)).toBeCloseTo(1, 9);
        for (const [x, y] of behind) expect((x - at[0]) * nx + (y - at[1]) * ny).toBeLessThan(1e-6);
      }),
    );
  });

  test('also of one that falls apart, and of one it does not meet', () => {
    expect(areaOf(cutOff(ANGLE, [0, 50], [0, 1]))).toBeCloseTo(5000, 9);
    expect(areaOf(cutOff(ANGLE, [70, 0], [-1, 0]))).toBeCloseTo(1800, 9);
    expect(cutOff(ANGLE, [200, 0], [1, 0])).toEqual(ANGLE);
    expect(cutOff(ANGLE, [-1, 0], [1, 0])).toEqual([]);
  });
});

describe('edges moved inwards', () => {
  test('a joint all round leaves the face of a brick', () => {
    expect(boxOf(insetByEdges(RECTANGLE, [5, 5, 5, 5])!)).toEqual({
      left: 5,
      bottom: 5,
      right: 235,
      top: 65,
    });
    // Head and bed joints of their own width.
    expect(boxOf(insetByEdges(RECTANGLE, [4, 6, 4, 6])!)).toEqual({
      left: 6,
      bottom: 4,
      right: 234,
      top: 66,
    });
    expect(insetByEdges(RECTANGLE, [36, 0, 36, 0])).toBeNull();
  });

  test('an inner corner keeps its edges as far off as outer ones', () => {
    const inside = insetByEdges(ANGLE, [5, 5, 5, 5, 5, 5])!;
    expect(inside[3]).toEqual([35, 55]);
    // The loss is what lies along the edges: 5 mm of each, the outer corners counted once.
    expect(areaOf(inside)).toBeCloseTo(7600 - 5 * 400 + 25 * 4, 6);
  });

  test('what is left lies within, and loses at most the perimeter times the distance', () => {
    fc.assert(
      fc.property(convex, fc.integer({ min: 1, max: 40 }), (outline, mm) => {
        const inside = insetByEdges(outline, outline.map(() => mm)); // prettier-ignore
        if (!inside) return;
        for (const [x, y] of inside) expect(holds(outline, [x, y])).toBe(true);
        expect(areaOf(outline) - areaOf(inside)).toBeLessThanOrEqual(perimeterOf(outline) * mm + 1e-6);
      }),
    );
  });
});

describe('corners', () => {
  test('on a straight line between their neighbours are left out, all others stay', () => {
    const halved = RECTANGLE.flatMap((a, k): Point[] => {
      const b = RECTANGLE[(k + 1) % 4]!;
      return [a, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]];
    });
    expect(withoutStraightCorners(halved)).toEqual(RECTANGLE);
    expect(withoutStraightCorners(ANGLE)).toEqual(ANGLE);
  });

  test('the hull about an outline holds it and turns one way', () => {
    expect(areaOf(hullOf(ANGLE))).toBe(10000 - 1200);
    fc.assert(
      fc.property(convex, (outline) => {
        expect(hullOf([...outline].reverse())).toHaveLength(outline.length);
        expect(areaOf(hullOf(outline))).toBeCloseTo(areaOf(outline), 6);
      }),
    );
  });

  test('a place is in one of two outlines side by side, also on the edge between them', () => {
    const right = movedBy(RECTANGLE, 240, 0);
    for (const x of [0, 100, 239.999, 240, 240.001, 400])
      expect([RECTANGLE, right].filter((outline) => holds(outline, [x, 30]))).toHaveLength(1);
    expect(holds(ANGLE, [70, 80])).toBe(false);
    expect(holds(ANGLE, [20, 80])).toBe(true);
  });
});
