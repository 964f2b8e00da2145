import fc from 'fast-check';
import { fractalNoise, makePlane, sampleWrapped, type Plane } from '../raster';
import { detailOf, leftOutAt, planRelief, reliefViewSchema, type ReliefView } from '.';

const SIDE = 512;
/** One repeat of 512 mm. */
const MM = { x: 1, y: 1 };

/** A wall: joints of 10 mm every 75 mm and stones between them that stick out unevenly. */
function wall(depthMm: number, seed: number): Plane {
  const plane = makePlane(SIDE, SIDE);
  const courses = 8;
  for (let y = 0, i = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++, i++) {
      const course = (y * courses) / SIDE;
      const off = Math.abs(course - Math.floor(course) - 0.5) * (SIDE / courses);
      const edge = Math.min(1, Math.max(0, (off - 24) / 6));
      const rough = fractalNoise(x / SIDE, y / SIDE, 12, 12, 4, 0.5, seed);
      plane.data[i] = depthMm * (0.3 * rough - edge * edge * (3 - 2 * edge));
    }
  return plane;
}
const known = new WeakMap<Plane, ReturnType<typeof detailOf>>();

function planned(height: Plane, view: Partial<ReliefView> & { distanceMm: number }) {
  let [min, max] = [Infinity, -Infinity];
  for (const v of height.data) [min, max] = [Math.min(min, v), Math.max(max, v)];
  const detail = known.get(height) ?? detailOf(height, MM);
  known.set(height, detail);
  const all = reliefViewSchema.parse({ objectMm: { width: 4000, height: 2400 }, budgetMb: 1e5, ...view });
  return { plan: planRelief({ detail, heightMm: { min, max } }, all), detail };
}

/** What a mesh of a spacing is off by along a horizontal cut through it, px: points at the mean height around them, straight between. */
function outlineOff(height: Plane, spacingMm: number, pixelMm: number): number {
  const mean = (xMm: number, yMm: number) => {
    let sum = 0;
    const n = 6;
    for (let u = 0; u < n; u++)
      for (let v = 0; v < n; v++)
        sum += sampleWrapped(
          height,
          xMm + ((u + 0.5) / n - 0.5) * spacingMm - 0.5,
          yMm + ((v + 0.5) / n - 0.5) * spacingMm - 0.5,
        );
    return sum / (n * n);
  };
  let worst = 0;
  for (const row of [40, 130, 290]) {
    const points = Math.ceil(SIDE / spacingMm) + 1;
    const mesh = Array.from({ length: points }, (_, k) => mean(k * spacingMm, row));
    for (let x = 0; x < SIDE - spacingMm; x++) {
      const k = Math.floor(x / spacingMm);
      const t = x / spacingMm - k;
      const there = mesh[k]! + t * (mesh[k + 1]! - mesh[k]!);
      worst = Math.max(worst, Math.abs(there - sampleWrapped(height, x - 0.5, row - 0.5)));
    }
  }
  return worst / pixelMm;
}

test('a mesh as planned has an outline within a pixel of the relief itself, in ten cases', () => {
  let displaced = 0;
  for (let k = 0; k < 10; k++) {
    const height = wall(4 + 3 * k, k);
    const { plan } = planned(height, { distanceMm: 1500 + 900 * k, errorPx: 0.5 });
    if (plan.need !== 'displacement') continue;
    displaced++;
    expect(outlineOff(height, plan.spacingMm, plan.pixelMm)).toBeLessThan(1);
    // And it is not finer than it must be by far.
    expect(outlineOff(height, 4 * plan.spacingMm, plan.pixelMm)).toBeGreaterThan(0.4);
  }
  expect(displaced).toBeGreaterThanOrEqual(8);
});

test('a gravel wall is displaced from 2 m, needs normals only from further, and colour only from far away', () => {
  const height = wall(12, 3);
  const near = planned(height, { distanceMm: 2000 }).plan;
  expect(near.need).toBe('displacement');
  expect(near.splitMm).toBeCloseTo(3 * near.spacingMm, 6);
  expect(near.why).toMatch(/must be displaced/);
  const far = planned(height, { distanceMm: 40000, pictureWidthPx: 1920 }).plan;
  expect(far.need).toBe('normals');
  expect(far).toMatchObject({ triangles: 2, splitMm: null });
  expect(planned(height, { distanceMm: 400000 }).plan.need).toBe('colour');
});

test('a budget that is too small takes the finest mesh it pays for, and says what it costs', () => {
  const height = wall(12, 3);
  const { plan } = planned(height, { distanceMm: 1000, budgetMb: 1 });
  expect(plan.memoryMb).toBeLessThanOrEqual(1);
  expect(plan.memoryMb).toBeGreaterThan(0.9);
  expect(plan.errorPx).toBeGreaterThan(0.5);
  expect(plan.why).toMatch(/beyond the budget of 1\s?MiB/);
  expect(planned(height, { distanceMm: 1000, budgetMb: 0.001 }).plan.triangles).toBeGreaterThanOrEqual(2);
});

test('further away nothing gets finer, and more error never takes more triangles', () => {
  const height = wall(20, 5);
  fc.assert(
    fc.property(
      fc.double({ min: 500, max: 20000, noNaN: true }),
      fc.double({ min: 1, max: 4, noNaN: true }),
      fc.double({ min: 0.1, max: 4, noNaN: true }),
      (distanceMm, times, errorPx) => {
        const at = (mm: number, error: number) => planned(height, { distanceMm: mm, errorPx: error }).plan;
        const here = at(distanceMm, errorPx);
        expect(at(distanceMm * times, errorPx).spacingMm).toBeGreaterThanOrEqual(0.999 * here.spacingMm);
        expect(at(distanceMm, errorPx * times).triangles).toBeLessThanOrEqual(here.triangles);
      },
    ),
    { numRuns: 25 },
  );
});

test('what a mesh leaves out grows with its spacing, from nothing to the whole relief', () => {
  const height = wall(10, 1);
  const detail = detailOf(height, MM);
  for (let k = 1; k < detail.length; k++)
    expect(detail[k]!.leftOutMm).toBeGreaterThanOrEqual(detail[k - 1]!.leftOutMm);
  expect(leftOutAt(detail, 0.1)).toBe(0);
  expect(leftOutAt(detail, 10000)).toBe(detail.at(-1)!.leftOutMm);
  expect(leftOutAt(detail, 24)).toBeGreaterThan(leftOutAt(detail, 16));
});

test('a large wall is coarser beyond the picture, and a small one lies in it as a whole', () => {
  const height = wall(12, 3);
  const small = planned(height, { distanceMm: 3000, objectMm: { width: 800, height: 600 } }).plan;
  expect(small.inPicture.share).toBe(1);
  const large = planned(height, { distanceMm: 3000, objectMm: { width: 40000, height: 9000 } }).plan;
  expect(large.inPicture.share).toBeLessThan(0.1);
  expect(large.triangles).toBeLessThan((0.25 * 2 * 40000 * 9000) / (large.spacingMm * large.spacingMm));
});

test('a view that cannot be is refused in a sentence', () => {
  const fault = (change: object) =>
    reliefViewSchema.safeParse({ objectMm: { width: 1, height: 1 }, distanceMm: 1000, ...change }).error
      ?.issues[0]?.message;
  expect(fault({ cameraDeg: 90 })).toMatch(/between 0° \(square on\) and 89°/);
  expect(fault({ budgetMb: 0 })).toMatch(/at least 1 kB/);
  expect(fault({ distanceMm: 0 })).toMatch(/at least 1 mm/);
});
