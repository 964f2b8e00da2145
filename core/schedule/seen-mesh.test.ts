import { makePlane } from '../raster';
import { seenMesh } from './seen-mesh';

const VIEW = { distanceMm: 2000, cameraDeg: 0, fovDeg: 60, pictureWidthPx: 1920 };
const FOCAL_PX = 1920 / (2 * Math.tan(Math.PI / 6));
const MM = { x: 1, y: 1 };
const SEEN = { width: 60, height: 40 };

test('a flat mesh seen square on is a grid of its spacing, evenly lit', () => {
  const mesh = seenMesh(makePlane(64, 64), MM, VIEW, 4, SEEN);
  const step = (4 * FOCAL_PX) / 2000;
  for (let i = 1; i < mesh.columns; i++) expect(mesh.x[i]! - mesh.x[i - 1]!).toBeCloseTo(step, 3);
  expect(mesh.y[0]! - mesh.y[mesh.columns]!).toBeCloseTo(step, 3);
  // It fills what is to be seen.
  expect(Math.max(...mesh.x)).toBeGreaterThan(SEEN.width / 2);
  expect(Math.max(...mesh.y)).toBeGreaterThan(SEEN.height / 2);
  expect(new Set(mesh.light).size).toBe(1);
});

test('from the side a rise is shifted by its height times the sine of the angle', () => {
  const plane = makePlane(64, 64);
  plane.data.fill(10);
  const tilted = { ...VIEW, cameraDeg: 60 };
  const [flat, raised] = [makePlane(64, 64), plane].map((p) => seenMesh(p, MM, tilted, 4, SEEN));
  const middle = Math.floor(flat!.rows / 2) * flat!.columns + Math.floor(flat!.columns / 2);
  const shift = raised!.y[middle]! - flat!.y[middle]!;
  expect(shift).toBeCloseTo((10 * Math.sin(Math.PI / 3) * FOCAL_PX) / (2000 - 10 * Math.cos(Math.PI / 3)), 1);
  // Far rows are smaller than near ones.
  const wide = (row: number) =>
    raised!.x[(row + 1) * raised!.columns - 1]! - raised!.x[row * raised!.columns]!;
  expect(wide(0)).toBeLessThan(wide(raised!.rows - 1));
});

test('slopes towards the upper left are lit, those away from it lie in the dark; no more points than can be drawn', () => {
  const ridge = makePlane(64, 64);
  ridge.data.forEach((_, i) => (ridge.data[i] = 16 - Math.abs((i % 64) - 32) / 2));
  const { light, columns, x, rows } = seenMesh(ridge, MM, VIEW, 1, { width: 30, height: 20 });
  const row = Math.floor(rows / 2) * (columns - 1);
  const at = (mm: number) => {
    const px = (mm * FOCAL_PX) / 2000;
    return light[row + x.findIndex((v) => v > px) - 1]!;
  };
  // The ridge stands half a repeat from the middle: left of the middle the surface falls to the right.
  expect(at(-8)).toBeLessThan(at(8));
  const fine = seenMesh(ridge, MM, VIEW, 0.01, { width: 4000, height: 4000 });
  expect(fine.columns * fine.rows).toBeLessThanOrEqual(40000);
});
