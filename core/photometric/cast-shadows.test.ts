import { castShadows } from './cast-shadows';
import type { Light, Vector } from './lights';
import { heightBy } from './height-for-tests';

const SIDE = 101;
const MIDDLE = (SIDE - 1) / 2;
const RAD = Math.PI / 180;

const heightOf = (at: (x: number, y: number) => number) => heightBy(SIDE, SIDE, at);
const far = (azimuthDeg: number, elevationDeg: number): Light => ({
  directionTo: [
    Math.cos(azimuthDeg * RAD) * Math.cos(elevationDeg * RAD),
    Math.sin(azimuthDeg * RAD) * Math.cos(elevationDeg * RAD),
    Math.sin(elevationDeg * RAD),
  ],
});
const SQUARE = { x: 0.5, y: 0.5 };
/** A post in the middle, 5 px wide. */
const post = (mm: number) =>
  heightOf((x, y) => (Math.abs(x - MIDDLE) <= 2 && Math.abs(y - MIDDLE) <= 2 ? mm : 0));
const count = (shadow: Uint8Array) => shadow.reduce((sum, v) => sum + v, 0);

test.each([20, 35, 50, 65])(
  'a wall in light from %d° throws a shadow as long as its height over the tangent',
  (elevationDeg) => {
    const wallMm = 4;
    const shadow = castShadows(
      heightOf((x) => (x < 30 ? wallMm : 0)),
      far(180, elevationDeg),
      SQUARE,
    );
    const row = MIDDLE * SIDE;
    let dark = 0;
    for (let x = 30; x < SIDE; x++) dark += shadow[row + x]!;
    // The light comes from the left, over the wall. What holds a ray up stands 0.3 px above it.
    const lengthPx = (wallMm / SQUARE.x - 0.3) / Math.tan(elevationDeg * RAD);
    expect(Math.abs(dark - lengthPx)).toBeLessThan(1.5);
    // Nothing on the wall, nor from the other side.
    for (let x = 0; x < 30; x++) expect(shadow[row + x]).toBe(0);
    expect(
      count(
        castShadows(
          heightOf((x) => (x < 30 ? wallMm : 0)),
          far(0, elevationDeg),
          SQUARE,
        ),
      ),
    ).toBe(0);
  },
);

test.each([0, 90, 180, 270])('a shadow lies away from light at %d°, y running up', (azimuthDeg) => {
  const shadow = castShadows(post(6), far(azimuthDeg, 35), SQUARE);
  let [x, y, n] = [0, 0, 0];
  shadow.forEach((v, i) => {
    if (!v) return;
    x += (i % SIDE) - MIDDLE;
    y += MIDDLE - Math.floor(i / SIDE);
    n++;
  });
  expect(n).toBeGreaterThan(20);
  const away = Math.atan2(y, x) / RAD;
  expect(Math.cos((away - azimuthDeg - 180) * RAD)).toBeGreaterThan(0.999);
});

test('pixels that are not square are taken by their millimetres', () => {
  const wall = heightOf((x) => (x < 30 ? 4 : 0));
  const narrow = castShadows(wall, far(180, 45), { x: 0.25, y: 0.5 });
  const wide = castShadows(wall, far(180, 45), { x: 1, y: 0.5 });
  const row = MIDDLE * SIDE;
  const dark = (s: Uint8Array) => s.subarray(row + 30, row + SIDE).reduce((sum, v) => sum + v, 0);
  expect(Math.abs(dark(narrow) - 16)).toBeLessThan(2);
  expect(Math.abs(dark(wide) - 4)).toBeLessThan(2);
});

test('light from a lamp nearby comes from another side at each place', () => {
  const placed: Vector = [0, 0, 30];
  const four = [
    [20, 20],
    [80, 20],
    [20, 80],
    [80, 80],
  ] as const;
  const posts = heightOf((x, y) =>
    four.some(([a, b]) => Math.abs(x - a) < 2 && Math.abs(y - b) < 2) ? 5 : 0,
  );
  const shadow = castShadows(posts, { positionMm: placed }, SQUARE);
  const darkAt = (x: number, y: number) => shadow[y * SIDE + x];
  // Every shadow points away from the middle.
  for (const [x, y] of four) {
    const [sx, sy] = [Math.sign(x - MIDDLE), Math.sign(y - MIDDLE)];
    expect(darkAt(x + 5 * sx, y + 5 * sy)).toBe(1);
    expect(darkAt(x - 5 * sx, y - 5 * sy)).toBe(0);
  }
});

test('a slope that the light still meets throws none, and light from above none at all', () => {
  const ramp = heightOf((x) => 0.5 * x * Math.tan(30 * RAD));
  expect(count(castShadows(ramp, far(0, 35), SQUARE))).toBe(0);
  expect(count(castShadows(ramp, far(0, 20), SQUARE))).toBeGreaterThan(SIDE * SIDE * 0.8);
  expect(count(castShadows(post(20), { directionTo: [0, 0, 1] }, SQUARE))).toBe(0);
});

test('the higher the light, the less is in shadow, and nothing new', () => {
  const rough = heightOf((x, y) => 2 * Math.sin(x / 5) * Math.cos(y / 7) + (x % 23 < 3 ? 3 : 0));
  let before = castShadows(rough, far(30, 12), SQUARE);
  for (const elevationDeg of [20, 32, 48, 70]) {
    const now = castShadows(rough, far(30, elevationDeg), SQUARE);
    expect(count(now)).toBeLessThan(count(before));
    expect(now.every((v, i) => v === 0 || before[i] === 1)).toBe(true);
    before = now;
  }
});
