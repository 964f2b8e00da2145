import { invert, project, type Point } from '../../straighten';
import { rectifierOf, type Lean } from './rectify';
import { proposedFrame } from './straightening';

const [W, H] = [600, 400];
const LEVEL: Lean = { standing: 0, lying: 0, nearer: [0, 0] };
const MANY_CELLS = 200;
const propose = (lean: Partial<Lean>, cells: number | null = MANY_CELLS, wanderPx = 0) =>
  proposedFrame(rectifierOf({ ...LEVEL, ...lean }, W, H), W, H, cells, wanderPx);
/** Corners in pixels. */
const inPx = ([x, y]: Point): Point => [x * W - 0.5, y * H - 0.5];

test('a picture that lies true is left as it is', () => {
  expect(propose({})).toBeNull();
  // A twentieth of a degree is less than is known.
  expect(propose({ lying: -0.0009, standing: 0.0009 })).toBeNull();
});

test('the frame becomes a rectangle by what rectifies the picture, and lies within the picture', () => {
  const lean = { standing: 0.05, lying: -0.03, nearer: [0.04, -0.02] as const };
  const frame = propose(lean)!;
  const map = rectifierOf(lean, W, H);
  const [a, b, c, d] = frame.corners.map((p) => project(map, inPx(p))) as [Point, Point, Point, Point];
  expect(a[1]).toBeCloseTo(b[1], 6);
  expect(c[1]).toBeCloseTo(d[1], 6);
  expect(a[0]).toBeCloseTo(d[0], 6);
  expect(b[0]).toBeCloseTo(c[0], 6);
  for (const [x, y] of frame.corners) {
    expect(x).toBeGreaterThanOrEqual(-1e-9);
    expect(x).toBeLessThanOrEqual(1 + 1e-9);
    expect(y).toBeGreaterThanOrEqual(-1e-9);
    expect(y).toBeLessThanOrEqual(1 + 1e-9);
  }
});

test.each([-4, -1.2, 0.5, 3])('courses that fall by %d° are said to, downwards to the right', (deg) => {
  const tangent = Math.tan((deg * Math.PI) / 180);
  // Turned as a whole: what lies falls, and what stands leans the other way.
  const { slopeDeg } = propose({ lying: -tangent, standing: tangent })!;
  expect(slopeDeg).toBeCloseTo(deg, 1);
});

test('a picture whose right side is nearer is seen longer there', () => {
  const away = propose({ nearer: [0.08, 0] })!;
  const towards = propose({ nearer: [-0.08, 0] })!;
  expect(Math.sign(away.converges.up)).toBe(-Math.sign(towards.converges.up));
  expect(Math.abs(away.converges.up)).toBeGreaterThan(0.05);
  expect(Math.abs(away.converges.across)).toBeLessThan(1e-6);
  const lower = propose({ nearer: [0, 0.08] })!;
  expect(Math.abs(lower.converges.across)).toBeGreaterThan(0.05);
  expect(Math.abs(lower.converges.up)).toBeLessThan(1e-6);
  // The side that is nearer in the rectifier is the one whose corners lie closer together in the picture.
  const back = invert(rectifierOf({ ...LEVEL, nearer: [0.08, 0] }, W, H));
  const height = (x: number) => project(back, [x, 300])[1] - project(back, [x, 100])[1];
  expect(Math.sign(height(500) / height(100) - 1)).toBe(Math.sign(away.converges.up));
});

test('with few cells, lines alone or pieces that wander a lean has to be larger to be believed', () => {
  const lean = { lying: Math.tan((0.3 * Math.PI) / 180) };
  expect(propose(lean)).not.toBeNull();
  expect(propose(lean, 12)).toBeNull();
  expect(propose(lean, null)).toBeNull();
  expect(propose(lean, MANY_CELLS, 1.5)).toBeNull();
  expect(propose({ lying: Math.tan((0.7 * Math.PI) / 180) }, 12, 40)).not.toBeNull();
});
