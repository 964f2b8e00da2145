import fc from 'fast-check';
import { makePlane, seededRandom, type Plane } from '../../raster';
import { project, type Point } from '../../straighten';
import { atHalfScale, lineDirection, rectifierOf, warped, type Lean } from './rectify';

const [W, H] = [220, 160];
const LEVEL: Lean = { standing: 0, lying: 0, nearer: [0, 0] };

function planeOf(at: (x: number, y: number) => number): Plane {
  const plane = makePlane(W, H);
  for (let y = 0, i = 0; y < H; y++) for (let x = 0; x < W; x++, i++) plane.data[i] = at(x, y);
  return plane;
}
const ALL = makePlane(W, H, 1);
const small = fc.double({ min: -0.1, max: 0.1, noNaN: true });
const LEAN = fc.record({ standing: small, lying: small, nearer: fc.tuple(small, small) });

test('a rectifier keeps the middle of the picture and the scale there', () => {
  fc.assert(
    fc.property(LEAN, (lean) => {
      const map = rectifierOf(lean, W, H);
      const middle: Point = [(W - 1) / 2, (H - 1) / 2];
      const [x, y] = project(map, middle);
      expect(x).toBeCloseTo(middle[0], 6);
      expect(y).toBeCloseTo(middle[1], 6);
      const step = 0.01;
      const right = project(map, [middle[0] + step, middle[1]]);
      expect((right[0] - x) / step).toBeCloseTo(1, 3);
      // What lies falls by its tangent.
      expect((right[1] - y) / step).toBeCloseTo(lean.lying, 3);
    }),
  );
});

test('a picture that does not lean is mapped to itself', () => {
  const map = rectifierOf(LEVEL, W, H);
  for (const at of [
    [0, 0],
    [W - 1, 0],
    [57, 91],
  ] as const) {
    const [x, y] = project(map, at);
    expect(x).toBeCloseTo(at[0], 9);
    expect(y).toBeCloseTo(at[1], 9);
  }
});

test('at half the scale a map takes the middle of four pixels where it takes them', () => {
  fc.assert(
    fc.property(
      LEAN,
      fc.integer({ min: 0, max: W / 2 - 1 }),
      fc.integer({ min: 0, max: H / 2 - 1 }),
      (lean, x, y) => {
        const map = rectifierOf(lean, W, H);
        const [u, v] = project(atHalfScale(map), [x, y]);
        const [wholeU, wholeV] = project(map, [2 * x + 0.5, 2 * y + 0.5]);
        expect(2 * u + 0.5).toBeCloseTo(wholeU, 6);
        expect(2 * v + 0.5).toBeCloseTo(wholeV, 6);
      },
    ),
  );
});

test('features that are warped lie where the map takes them; what comes from beyond the edges does not count', () => {
  const lightness = planeOf((x, y) => x + 1000 * y);
  const features = { lightness, edges: planeOf((x) => -x), usable: ALL };
  const map = rectifierOf({ ...LEVEL, lying: 0.08 }, W, H);
  const out = warped(features, map);
  let counted = 0;
  for (let y = 0; y < H; y += 7)
    for (let x = 0; x < W; x += 7) {
      const i = y * W + x;
      if (out.usable.data[i] === 0) {
        expect(out.lightness.data[i]! === 0 || out.edges.data[i]! <= 0).toBe(true);
        continue;
      }
      counted++;
      // It fell by its lean, so each place comes from above or below by as much.
      const fromY = y - (x - (W - 1) / 2) * 0.08;
      expect(out.lightness.data[i]! / (x + 1000 * fromY)).toBeCloseTo(1, 3);
      expect(out.edges.data[i]!).toBeCloseTo(-x, 2);
    }
  expect(counted).toBeGreaterThan(400);
  const corner = out.usable.data[(H - 1) * W];
  expect([corner, out.usable.data[W - 1]].filter((v) => v === 0)).not.toHaveLength(0);
});

describe('the direction of lines', () => {
  const random = seededRandom(6);
  const noise = planeOf(() => 0.15 * random.normal());
  /** Joints that fall to the right by a tangent, or lean. */
  const lined = (tangent: number, lines: 'lying' | 'standing') =>
    planeOf((x, y) => {
      const along = lines === 'lying' ? y - x * tangent : x - y * tangent;
      const within = ((along % 23) + 23) % 23;
      return (within < 3 ? -1 : 0.2) + noise.data[y * W + x]!;
    });

  test.each([-0.09, -0.031, 0, 0.013, 0.077])(
    'a tangent of %d is found to a third of a pixel over half the picture, lying or standing',
    (tangent) => {
      for (const lines of ['lying', 'standing'] as const) {
        const found = lineDirection(lined(tangent, lines), ALL, lines)!;
        const half = (lines === 'lying' ? W : H) / 2;
        expect(Math.abs(found.tangent - tangent) * half).toBeLessThan(1 / 3);
        expect(found.strength).toBeGreaterThan(4);
      }
    },
  );

  test('there is none in noise, nor across lines', () => {
    expect(lineDirection(noise, ALL, 'lying')).toBeNull();
    expect(lineDirection(lined(0.02, 'lying'), ALL, 'standing')).toBeNull();
  });

  test('lines in what does not count are not seen', () => {
    const half = lined(0.05, 'lying');
    const unusable = planeOf(() => 0);
    expect(lineDirection(half, unusable, 'lying')).toBeNull();
  });
});
