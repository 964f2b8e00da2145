import { heightBy } from './height-for-tests';
import { surfaceFromSlopes } from './surface-from-slopes';
import type { ShadowSteps } from './shadow-steps';
import { unseenWalls } from './unseen-walls';
import type { Plane } from '../raster';

const [W, H] = [72, 48];
const [FROM, TO] = [30, 42];
const MM = { x: 1, y: 1 };
const LIGHTS = 8;

/** A joint by slopes: half as deep as the 2 mm that it is, with walls of so many pixels. */
const joint = (wallPx: number): Plane =>
  heightBy(
    W,
    H,
    (x) => -Math.min(1, Math.max(0, (x - FROM + 1) / wallPx, 0), Math.max(0, (TO - x) / wallPx)),
  );

/** Shadows that its left edge alone throws, in every row. */
const fromTheLeft: ShadowSteps = {
  edge: Int32Array.from({ length: H }, (_, y) => y * W + FROM - 1),
  behind: Int32Array.from({ length: H }, (_, y) => y * W + FROM),
  end: Int32Array.from({ length: H }, (_, y) => y * W + FROM + 5),
  mm: new Float32Array(H).fill(2),
};

const slopesOf = ({ widthPx, heightPx, data }: Plane): { x: Plane; y: Plane } => {
  const of = (dx: number, dy: number) =>
    heightBy(widthPx, heightPx, (x, y) => {
      const [x1, y1] = [Math.min(widthPx - 1, x + dx), Math.min(heightPx - 1, y + dy)];
      const [x0, y0] = [Math.max(0, x - dx), Math.max(0, y - dy)];
      return (data[y1 * widthPx + x1]! - data[y0 * widthPx + x0]!) / Math.max(1, x1 - x0 + y1 - y0);
    });
  const up = of(0, 1);
  return { x: of(1, 0), y: { ...up, data: up.data.map((v) => -v) } };
};

test('a wall that no shadow tells is as high as the one opposite that shadows do tell', () => {
  const bySlopes = joint(1);
  const { differences, slopes } = unseenWalls(fromTheLeft, bySlopes, LIGHTS);
  const right = Array.from(differences.high.keys()).filter((k) => differences.high[k]! % W >= TO);
  expect(right).toHaveLength(H);
  for (const k of right) {
    expect(differences.mm[k]).toBeCloseTo(2, 3);
    expect(differences.low[k]! % W).toBe(FROM + 5);
  }
  expect(slopes[20 * W + TO]).toBeLessThan(0.2);
  expect(slopes[20 * W + TO + 8]).toBe(1);

  const weight = { widthPx: W, heightPx: H, data: slopes };
  const { data } = surfaceFromSlopes(slopesOf(bySlopes), weight, MM, bySlopes, differences);
  const at = (x: number) => data[24 * W + x]!;
  expect(at(10) - at(36)).toBeGreaterThan(1.8);
  // The faces on both sides lie about level: told by one wall alone, they would be 0.8 mm apart.
  expect(Math.abs(at(10) - at(62))).toBeLessThan(0.3);
});

test('a round wall is seen by slopes, and stays as they say', () => {
  const { differences } = unseenWalls(fromTheLeft, joint(6), LIGHTS);
  expect(Array.from(differences.high).every((i) => i % W < FROM)).toBe(true);
});

test('a floor that does not rise again has no wall opposite', () => {
  const step = heightBy(W, H, (x) => (x < FROM ? 0 : -1));
  const { differences } = unseenWalls(fromTheLeft, step, LIGHTS);
  expect(differences.mm).toHaveLength(H);
});
