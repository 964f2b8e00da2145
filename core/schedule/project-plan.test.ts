import fc from 'fast-check';
import { fractalNoise, makePlane } from '../raster';
import { detailOf, planProject, planRelief, projectCameraSchema, reliefViewSchema, zonesOf } from '.';
import type { ReliefToPlan, SurfaceCamera, SurfaceToPlan } from '.';

/** Fine and broad relief, of a depth, known every millimetre. */
function relief(depthMm: number, seed = 1): ReliefToPlan {
  const side = 256;
  const plane = makePlane(side, side);
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++)
      plane.data[i] = depthMm * (fractalNoise(x / side, y / side, 4, 4, 6, 0.6, seed) - 0.5);
  let [min, max] = [Infinity, -Infinity];
  for (const v of plane.data) [min, max] = [Math.min(min, v), Math.max(max, v)];
  return { detail: detailOf(plane, { x: 1, y: 1 }), heightMm: { min, max } };
}
const [GRAVEL, PLASTER] = [relief(30), relief(0.6, 2)];

const surface = (id: string, of: ReliefToPlan, camera: SurfaceCamera | null = null): SurfaceToPlan => ({
  id,
  widthMm: 8000,
  heightMm: 3000,
  relief: of,
  camera,
});
const at = (nearestMm: number, farthestMm: number | null = null, cameraDeg = 30): SurfaceCamera => ({
  nearestMm,
  farthestMm,
  cameraDeg,
});
const camera = (more: object = {}) => projectCameraSchema.parse({ budgetMb: 1e6, ...more });

test('a surface at one distance is planned as by itself', () => {
  const { surfaces, triangles } = planProject([surface('wall', GRAVEL, at(2500))], camera());
  const alone = planRelief(
    GRAVEL,
    reliefViewSchema.parse({
      objectMm: { width: 8000, height: 3000 },
      distanceMm: 2500,
      cameraDeg: 30,
      budgetMb: 1e6,
    }),
  );
  expect(surfaces[0]!.zones[0]).toMatchObject(alone);
  expect(triangles).toBe(alone.triangles);
});

test('zones cover the surface once, each at most doubling the distance but for a short last one', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 1e6, noNaN: true }),
      fc.double({ min: 1, max: 500, noNaN: true }),
      (near, times) => {
        const zones = zonesOf(at(near, near * times));
        expect(zones.reduce((sum, z) => sum + z.share, 0)).toBeCloseTo(1, 9);
        expect(zones[0]!.fromMm).toBe(near);
        expect(zones.at(-1)!.toMm).toBe(near * times);
        zones.forEach((z, k) => {
          if (k > 0) expect(z.fromMm).toBe(zones[k - 1]!.toMm);
          expect(z.toMm / z.fromMm).toBeLessThanOrEqual(2.5);
        });
      },
    ),
  );
});

test('a court from 2 m to 40 m is finest near the camera, and takes far less than one mesh for its nearest place', () => {
  const court = { ...surface('court', GRAVEL, at(2000, 40000)), widthMm: 6000, heightMm: 38000 };
  const zoned = planProject([court], camera());
  const { zones } = zoned.surfaces[0]!;
  expect(zones.map((z) => z.fromMm)).toEqual([2000, 4000, 8000, 16000, 32000].slice(0, zones.length));
  const edges = zones.flatMap((z) => (z.need === 'displacement' ? [z.spacingMm] : []));
  expect(edges.length).toBeGreaterThan(2);
  edges.forEach((mm, k) => k > 0 && expect(mm).toBeGreaterThan(edges[k - 1]!));
  const asFineAsNearest = (2 * 6000 * 38000) / (edges[0]! * edges[0]!);
  expect(zoned.triangles).toBeLessThan(asFineAsNearest / 3);
  zones.forEach((z) => z.need === 'displacement' && expect(z.errorPx).toBeLessThanOrEqual(0.5 + 1e-9));
});

test('a budget is shared so that all are off by the same, as little as it allows', () => {
  const all = [
    surface('near', GRAVEL, at(1500)),
    surface('far', GRAVEL, at(9000)),
    surface('plaster', PLASTER, at(1200)),
  ];
  const free = planProject(all, camera());
  const tight = planProject(all, camera({ budgetMb: free.memoryMb / 10 }));
  expect(tight.fits).toBe(true);
  expect(tight.memoryMb).toBeLessThanOrEqual(free.memoryMb / 10);
  expect(tight.memoryMb).toBeGreaterThan(0.95 * (free.memoryMb / 10));
  expect(tight.errorPx).toBeGreaterThan(0.5);
  for (const { zones } of tight.surfaces)
    for (const z of zones)
      if (z.need === 'displacement') {
        expect(z.errorPx).toBeLessThanOrEqual(tight.errorPx + 1e-9);
        expect(z.errorPx).toBeGreaterThan(0.98 * tight.errorPx);
      }
  expect(tight.why).toMatch(/beyond the budget of .* the same for all/);
  expect(free.why).toMatch(/off by no more than 0\.5\u2009px/);
});

test('the more error, the fewer triangles, down to two for each surface', () => {
  const { choices } = planProject([surface('a', GRAVEL, at(2000)), surface('b', PLASTER)], camera());
  expect(choices.length).toBeGreaterThan(5);
  choices.forEach((c, k) => k > 0 && expect(c.triangles).toBeLessThanOrEqual(choices[k - 1]!.triangles));
  expect(choices.at(-1)!.triangles).toBe(4);
});

test('a budget that holds nothing is said, and a farthest place nearer than the nearest is refused', () => {
  const none = planProject([surface('a', GRAVEL), surface('b', GRAVEL)], camera({ budgetMb: 0.001 }));
  expect(none.fits).toBe(true);
  const many = Array.from({ length: 20 }, (_, k) => surface(String(k), GRAVEL));
  const over = planProject(many, camera({ budgetMb: 0.001 }));
  expect(over.fits).toBe(false);
  expect(over.why).toMatch(/Even flat .* raise the budget/);
  const wrong = projectCameraSchema.safeParse({ surface: at(5000, 2000) });
  expect(wrong.error!.issues[0]!.message).toMatch(/cannot be nearer/);
});

test('surfaces without a distance of their own follow the project', () => {
  const [a, b] = planProject(
    [surface('own', GRAVEL, at(6000)), surface('follows', GRAVEL)],
    camera({ surface: at(6000) }),
  ).surfaces;
  expect(a!.zones).toEqual(b!.zones);
});
