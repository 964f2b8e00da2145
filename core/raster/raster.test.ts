import fc from 'fast-check';
import { atOnce } from '../steps';
import {
  blurSteps,
  blurWrapped,
  cellularNoise,
  extent,
  fractalNoise,
  gradientNoise,
  halve,
  halvingsKeeping,
  halvingsToFit,
  hashUnit,
  luminancePlane,
  makeColourPicture,
  makePlane,
  mean,
  percentiles,
  resample,
  resampleSteps,
  ridgedNoise,
  sampleWrapped,
  seededRandom,
  smoothstep,
  type Plane,
} from './index';

const plane = (w: number, h: number, f: (x: number, y: number) => number): Plane => {
  const p = makePlane(w, h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) p.data[y * w + x] = f(x, y);
  return p;
};
const noisy = (w: number, h: number, seed: number) => {
  const random = seededRandom(seed);
  return plane(w, h, () => random.next());
};
const variance = (data: Float32Array) => {
  const m = mean(data);
  return mean(data.map((v) => (v - m) ** 2));
};

describe('measures of a plane', () => {
  test('percentiles of even steps lie where they should', () => {
    const [p1, p50, p99] = percentiles(plane(100, 100, (x, y) => y * 100 + x).data, [0.01, 0.5, 0.99]) as [
      number,
      number,
      number,
    ];
    expect(Math.abs(p1 - 100)).toBeLessThan(5);
    expect(Math.abs(p50 - 5000)).toBeLessThan(5);
    expect(Math.abs(p99 - 9900)).toBeLessThan(5);
  });
  test('percentiles of one value are that value', () =>
    expect(percentiles(makePlane(4, 4, 0.3).data, [0, 0.5, 1])[1]).toBeCloseTo(0.3, 6));
  test('extent and mean', () => {
    const p = plane(3, 1, (x) => x - 1);
    expect(extent(p.data)).toEqual({ min: -1, max: 1 });
    expect(mean(p.data)).toBe(0);
  });
  test('luminance of white is one, of each primary its weight', () => {
    const p = makeColourPicture(4, 1);
    p.r.set([1, 1, 0, 0]);
    p.g.set([1, 0, 1, 0]);
    p.b.set([1, 0, 0, 1]);
    expect([...luminancePlane(p).data].map((v) => Number(v.toFixed(4)))).toEqual([1, 0.2126, 0.7152, 0.0722]);
  });
});

describe('shrinking and resampling', () => {
  test('halving keeps the mean of even sizes', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer(),
        (w, h, seed) => {
          const p = noisy(2 * w, 2 * h, seed);
          expect(mean(halve(p).data)).toBeCloseTo(mean(p.data), 5);
        },
      ),
    );
  });
  test('a step of one at a whole pixel leaves the picture as it is', () => {
    const p = noisy(20, 14, 1);
    const same = resample(p, { leftPx: 0, topPx: 0, stepX: 1, stepY: 1 }, 20, 14);
    same.data.forEach((v, i) => expect(v).toBeCloseTo(p.data[i]!, 6));
  });
  test('a slope stays that slope at any scale', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.3, max: 6, noNaN: true }), (step) => {
        const p = plane(120, 4, (x) => x);
        const w = Math.floor(60 / step);
        const out = resample(p, { leftPx: 30, topPx: 0, stepX: step, stepY: 1 }, w, 4);
        for (let i = 0; i < w; i++)
          expect(Math.abs(out.data[i]! - (30 + (i + 0.5) * step - 0.5))).toBeLessThan(
            0.05 * Math.max(1, step),
          );
      }),
      { numRuns: 30 },
    );
  });
  test('detail finer than the target does not come back as a coarse pattern', () => {
    // Stripes of three pixels, shrunk sevenfold: point sampling would leave their full contrast.
    const stripes = plane(700, 70, (x) => (x % 3 === 0 ? 1 : 0));
    const small = resample(stripes, { leftPx: 0, topPx: 0, stepX: 7, stepY: 7 }, 100, 10);
    const inside = small.data.filter((_, i) => i % 100 > 2 && i % 100 < 97);
    expect(Math.sqrt(variance(inside))).toBeLessThan(0.02);
    expect(mean(inside)).toBeCloseTo(1 / 3, 2);
  });
  test('sampling between pixels wraps round', () => {
    const p = plane(4, 2, (x) => x);
    expect(sampleWrapped(p, 3.5, 0)).toBeCloseTo(1.5, 6); // halfway from 3 back to 0
    expect(sampleWrapped(p, -4, 5)).toBe(0);
  });
});

describe('Gaussian blur on the torus', () => {
  test('keeps the mean, whatever the sigma', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 40, noNaN: true }),
        fc.double({ min: 0, max: 40, noNaN: true }),
        (sx, sy) => {
          const p = noisy(37, 23, 5);
          expect(mean(blurWrapped(p, sx, sy).data)).toBeCloseTo(mean(p.data), 4);
        },
      ),
      { numRuns: 40 },
    );
  });
  test.each([0.8, 2, 5.5, 11])('a point becomes a Gaussian of sigma %f', (sigma) => {
    const p = plane(128, 1, (x) => (x === 64 ? 1 : 0));
    const blurred = blurWrapped(p, sigma, 0).data;
    let second = 0;
    blurred.forEach((v, x) => (second += v * (x - 64) ** 2));
    expect(Math.sqrt(second)).toBeCloseTo(sigma, 1);
    // Four boxes make a Gaussian; the narrowest are a little too pointed.
    const peak = blurred[64]! * sigma * Math.sqrt(2 * Math.PI);
    expect(Math.abs(peak - 1)).toBeLessThan(sigma < 1 ? 0.12 : 0.05);
  });
  test('halves a wave whose length is 2π/√(2 ln 2) sigmas', () => {
    const sigma = 6;
    const lambda = (2 * Math.PI * sigma) / Math.sqrt(2 * Math.LN2);
    const w = Math.round(lambda * 8);
    const wave = plane(w, 1, (x) => Math.sin((2 * Math.PI * 8 * x) / w));
    const { max } = extent(blurWrapped(wave, sigma, 0).data);
    expect(max).toBeCloseTo(0.5, 1);
  });
  test('both axes are blurred alike, and what is at the edge comes in at the other side', () => {
    const p = plane(32, 32, (x, y) => (x === 0 && y === 0 ? 1 : 0));
    const b = blurWrapped(p, 2, 2);
    expect(b.data[31]).toBeCloseTo(b.data[1]!, 5);
    expect(b.data[31 * 32]).toBeCloseTo(b.data[32]!, 5);
    expect(b.data[1]).toBeCloseTo(b.data[32]!, 5);
  });
});

describe('noise', () => {
  const kinds: [string, (u: number, v: number) => number][] = [
    ['gradient', (u, v) => gradientNoise(u, v, 7, 5, 3)],
    ['fractal', (u, v) => fractalNoise(u, v, 3, 4, 5, 0.6, 9)],
    ['ridged', (u, v) => ridgedNoise(u, v, 3, 4, 4, 0.6, 9)],
    ['cellular', (u, v) => cellularNoise(u, v, 6, 5, 1, 2).edge],
  ];
  test.each(kinds)('%s repeats exactly', (_, noise) => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (u, v) => {
          expect(noise(u + 1, v)).toBeCloseTo(noise(u, v), 6);
          expect(noise(u, v - 1)).toBeCloseTo(noise(u, v), 6);
        },
      ),
    );
  });
  test('gradient noise has mean zero and stays near −1…1', () => {
    const p = plane(256, 256, (x, y) => gradientNoise(x / 256, y / 256, 16, 16, 1));
    expect(Math.abs(mean(p.data))).toBeLessThan(0.03);
    const { min, max } = extent(p.data);
    expect([min > -1.3, max < 1.3, max > 0.6, min < -0.6]).toEqual([true, true, true, true]);
  });
  test('in cellular noise the nearest point is nearest, and its border lies halfway to the next', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (u, v) => {
          const c = cellularNoise(u, v, 5, 5, 0.9, 11);
          expect(c.f1).toBeLessThanOrEqual(c.f2);
          expect(Math.hypot(c.dx, c.dy)).toBeCloseTo(c.f1, 6);
          expect(c.edge).toBeGreaterThanOrEqual(-1e-9);
          // Seen from the point, the border is at least half the difference away.
          expect(c.edge).toBeGreaterThanOrEqual((c.f2 - c.f1) / 2 - 1e-6);
        },
      ),
    );
  });
  test('smoothstep runs from 0 to 1 and is level at both ends', () => {
    expect([smoothstep(2, 4, 1), smoothstep(2, 4, 3), smoothstep(2, 4, 9)]).toEqual([0, 0.5, 1]);
    expect(smoothstep(0, 1, 0.01)).toBeLessThan(0.001);
  });
});

describe('random numbers', () => {
  test('are the same for the same seed and differ for another', () => {
    const take = (seed: number) =>
      Array.from(
        { length: 5 },
        (
          (r) => () =>
            r.next()
        )(seededRandom(seed)),
      );
    expect(take(4)).toEqual(take(4));
    expect(take(4)).not.toEqual(take(5));
  });
  test('are even, and normal ones have spread 1', () => {
    const random = seededRandom(8);
    const even = Float32Array.from({ length: 20000 }, () => random.next());
    const normal = Float32Array.from({ length: 20000 }, () => random.normal());
    expect(mean(even)).toBeCloseTo(0.5, 1);
    expect(variance(even)).toBeCloseTo(1 / 12, 2);
    expect(Math.abs(mean(normal))).toBeLessThan(0.03);
    expect(Math.abs(variance(normal) - 1)).toBeLessThan(0.05);
    for (let i = 0; i < 100; i++) expect(random.whole(7)).toBeLessThan(7);
    expect(hashUnit(1, 2, 3, 4)).toBe(hashUnit(1, 2, 3, 4));
  });
});

test('a picture is halved as often as leaves it dense enough, or as makes it fit', () => {
  expect([10, 5.1, 5, 1, 40].map((wanted) => halvingsKeeping(10, wanted))).toEqual([0, 0, 1, 3, 0]);
  const fit = (mostPx: number) => halvingsToFit({ widthPx: 900, heightPx: 1000 }, mostPx);
  expect([1000, 999, 500, 250, 1].map(fit)).toEqual([0, 1, 1, 2, 10]);
});

test.each([
  [1, 1],
  [3, 5],
  [18, 7],
  [37, 66],
])('a blur of %d × %d pixels treats rows and columns alike, and keeps the mean', (w, h) => {
  const random = seededRandom(w + 100 * h);
  const plane = makePlane(w, h);
  for (let i = 0; i < w * h; i++) plane.data[i] = random.next();
  const turned = makePlane(h, w);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) turned.data[x * h + y] = plane.data[y * w + x]!;
  for (const [across, down] of [
    [0.3, 2],
    [5, 0],
    [0, 40],
  ] as const) {
    const blurred = blurWrapped(plane, across, down);
    const other = blurWrapped(turned, down, across);
    let apart = 0;
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++)
        apart = Math.max(apart, Math.abs(blurred.data[y * w + x]! - other.data[x * h + y]!));
    // Only the order of the axes differs, and with it what is rounded between them.
    expect(apart).toBeLessThan(3e-7);
    expect(mean(blurred.data)).toBeCloseTo(mean(plane.data), 5);
  }
});

test('kernels that are left between their steps give what they give alone, also where one is left for good', () => {
  const [a, b] = [noisy(1200, 900, 5), noisy(1000, 1100, 6)];
  const window = { leftPx: 3.5, topPx: -2, stepX: 0.9, stepY: 1.3 };
  const works = [
    () => blurSteps(a, 3, 2),
    () => blurSteps(b, 9, 5),
    () => resampleSteps(a, window, 900, 700),
    () => resampleSteps(b, window, 800, 800),
  ];
  const alone = works.map((work) => atOnce(work()).data);
  const inHand = works.map((work) => work());
  blurSteps(a, 20, 20).next();
  const found: Float32Array[] = [];
  while (found.filter(Boolean).length < works.length)
    inHand.forEach((steps, k) => {
      const next = steps.next();
      if (next.done && next.value) found[k] = next.value.data;
    });
  expect(found).toEqual(alone);
});
