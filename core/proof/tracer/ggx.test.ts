import fc from 'fast-check';
import { seededRandom } from '../../raster';
import { Albedo, density, Facet, hidden } from './ggx';

const WIDTH = fc.double({ min: 0.05, max: 1, noNaN: true });
const RAD = Math.PI / 180;

/** Sums over the half of directions that the surface faces, by their solid angle. */
function overFacing(of: (x: number, y: number, z: number) => number, steps = 120): number {
  let sum = 0;
  for (let t = 0; t < steps; t++) {
    const theta = ((t + 0.5) * 90 * RAD) / steps;
    for (let p = 0; p < 2 * steps; p++) {
      const phi = (2 * Math.PI * (p + 0.5)) / (2 * steps);
      const [s, z] = [Math.sin(theta), Math.cos(theta)];
      sum += of(s * Math.cos(phi), s * Math.sin(phi), z) * s;
    }
  }
  return (sum * 90 * RAD * 2 * Math.PI) / (steps * 2 * steps);
}

test.each([
  [0.3, 0.3],
  [0.9, 0.9],
  [0.25, 0.7],
])('facets of widths %d and %d cover the surface once, seen from above', (ax, ay) => {
  expect(overFacing((x, y, z) => density(x, y, z, ax, ay) * z)).toBeCloseTo(1, 2);
});

test.each([
  [0.3, 0.3, 50],
  [0.2, 0.6, 70],
  [0.8, 0.8, 20],
])(
  'facets of widths %d and %d that are seen from %d° cover as much as the surface does from there',
  (ax, ay, deg) => {
    const view = [Math.sin(deg * RAD) * 0.8, Math.sin(deg * RAD) * 0.6, Math.cos(deg * RAD)] as const;
    // Smith: what is not masked, over all facets that face the viewer.
    const seen = 1 / (1 + hidden(...view, ax, ay));
    const covered = overFacing((x, y, z) => {
      const facing = view[0] * x + view[1] * y + view[2] * z;
      return facing > 0 ? density(x, y, z, ax, ay) * facing * seen : 0;
    });
    expect(covered / view[2]).toBeCloseTo(1, 2);
  },
);

test('nothing hides a surface seen from straight above, and the more the rougher it is and the lower one looks', () => {
  expect(hidden(0, 0, 1, 0.7, 0.2)).toBe(0);
  fc.assert(
    fc.property(WIDTH, fc.double({ min: 5, max: 80, noNaN: true }), (alpha, deg) => {
      const at = (d: number, a: number) => hidden(Math.sin(d * RAD), 0, Math.cos(d * RAD), a, a);
      expect(at(deg + 5, alpha)).toBeGreaterThan(at(deg, alpha));
      expect(at(deg, alpha * 1.1)).toBeGreaterThan(at(deg, alpha));
    }),
  );
});

test('facets are unit vectors that face the viewer, and their spread is that of the density', () => {
  const facet = new Facet();
  const random = seededRandom(5);
  const [ax, ay] = [0.2, 0.5];
  const view = [0.6, 0, 0.8] as const;
  const [bins, n] = [8, 30_000];
  let [longest, leastFacing] = [0, 1];
  const drawn = new Float64Array(bins);
  for (let k = 0; k < n; k++) {
    facet.draw(...view, ax, ay, random.next(), random.next());
    longest = Math.max(longest, Math.abs(Math.hypot(facet.x, facet.y, facet.z) - 1));
    leastFacing = Math.min(leastFacing, facet.x * view[0] + facet.y * view[1] + facet.z * view[2]);
    drawn[Math.min(bins - 1, Math.floor(facet.z * bins))]! += 1 / n;
  }
  expect(longest).toBeLessThan(1e-9);
  expect(leastFacing).toBeGreaterThan(-1e-9);
  const seen = 1 / (1 + hidden(...view, ax, ay)) / view[2];
  for (let b = 0; b < bins; b++) {
    const expected = overFacing((x, y, z) => {
      const facing = view[0] * x + view[1] * y + view[2] * z;
      return facing > 0 && Math.min(bins - 1, Math.floor(z * bins)) === b
        ? density(x, y, z, ax, ay) * facing * seen
        : 0;
    });
    expect(Math.abs(drawn[b]! - expected)).toBeLessThan(0.01);
  }
});

test('a perfect mirror gives back all light at any roughness, what is reflected more than once included', () => {
  const albedo = new Albedo();
  for (const roughness of [0.05, 0.3, 0.6, 1])
    for (const cos of [0.1, 0.4, 0.8, 1]) {
      albedo.look(cos, roughness);
      expect(albedo.total(1)).toBeCloseTo(1, 6);
      expect(albedo.total(0.04)).toBeLessThan(1);
      expect(albedo.more(0.5)).toBeGreaterThanOrEqual(1);
    }
});

test('a smooth dielectric reflects what Schlick’s term says, and more the lower one looks', () => {
  const albedo = new Albedo();
  let before = 0;
  for (const deg of [0, 30, 50, 65, 75]) {
    const cos = Math.cos(deg * RAD);
    albedo.look(cos, 0.05);
    const m = 1 - cos;
    expect(Math.abs(albedo.total(0.04) - (0.04 + 0.96 * m * m * m * m * m))).toBeLessThan(0.01);
    expect(albedo.total(0.04)).toBeGreaterThanOrEqual(before);
    before = albedo.total(0.04);
  }
});
