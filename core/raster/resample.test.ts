import fc from 'fast-check';
import { makePlane, resample, sampleGridWrapped, sampleWrapped, seededRandom } from '.';

/** Keys' kernel, written down once more. */
const kernel = (t: number) => {
  const a = Math.abs(t);
  return a < 1 ? 1.5 * a ** 3 - 2.5 * a ** 2 + 1 : a < 2 ? -0.5 * a ** 3 + 2.5 * a ** 2 - 4 * a + 2 : 0;
};

/** Weights of the pixels around a place, the kernel as wide as the step. */
function weightsAt(centre: number, step: number): Map<number, number> {
  const scale = Math.max(1, step);
  const weights = new Map<number, number>();
  for (let k = Math.floor(centre - 2 * scale) - 1; k <= centre + 2 * scale + 1; k++) {
    const w = kernel((k - centre) / scale);
    if (w !== 0) weights.set(k, w);
  }
  const sum = [...weights.values()].reduce((a, b) => a + b, 0);
  return new Map([...weights].map(([k, w]) => [k, w / sum]));
}

test('every pixel is the sum over its neighbourhood, of any window, enlarged or made smaller, also beyond the edges', () => {
  const side = fc.integer({ min: 1, max: 40 });
  const offset = fc.double({ min: -9, max: 9, noNaN: true });
  const step = fc.double({ min: 0.3, max: 3.5, noNaN: true });
  fc.assert(
    fc.property(
      fc.record({
        w: side,
        h: side,
        W: side,
        H: side,
        leftPx: offset,
        topPx: offset,
        stepX: step,
        stepY: step,
      }),
      ({ w, h, W, H, leftPx, topPx, stepX, stepY }) => {
        const random = seededRandom(w + 41 * h);
        const plane = makePlane(w, h);
        plane.data.forEach((_, i) => (plane.data[i] = random.between(-0.2, 1)));
        const made = resample(plane, { leftPx, topPx, stepX, stepY }, W, H);
        const held = (k: number, n: number) => Math.min(n - 1, Math.max(0, k));
        let worst = 0;
        for (let y = 0; y < H; y++)
          for (let x = 0; x < W; x++) {
            let sum = 0;
            for (const [j, wy] of weightsAt(topPx + (y + 0.5) * stepY - 0.5, stepY))
              for (const [i, wx] of weightsAt(leftPx + (x + 0.5) * stepX - 0.5, stepX))
                sum += wx * wy * plane.data[held(j, h) * w + held(i, w)]!;
            worst = Math.max(worst, Math.abs(made.data[y * W + x]! - sum));
          }
        expect(worst).toBeLessThan(2e-6);
      },
    ),
    { numRuns: 40 },
  );
});

test('the plane itself, pixel for pixel, comes back as it is', () => {
  const plane = makePlane(5, 3);
  plane.data.set([3, 1, 4, 1, 5, 9, 2, 6, 5, 3, 5, 8, 9, 7, 9]);
  const same = resample(plane, { leftPx: 0, topPx: 0, stepX: 1, stepY: 1 }, 5, 3);
  expect(same.data).toEqual(plane.data);
  expect(same.data).not.toBe(plane.data);
});

test('a grid of places reads what each place reads by itself, in any order and beyond the edges', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -12, max: 12, noNaN: true }), { minLength: 1, maxLength: 9 }),
      fc.array(fc.double({ min: -12, max: 12, noNaN: true }), { minLength: 1, maxLength: 9 }),
      fc.integer({ min: 1, max: 6 }),
      fc.integer({ min: 1, max: 6 }),
      (xs, ys, widthPx, heightPx) => {
        const plane = makePlane(widthPx, heightPx);
        for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.sin(17 * i) + i;
        const grid = sampleGridWrapped(plane, Float64Array.from(xs), Float64Array.from(ys));
        const each = ys.flatMap((y) => xs.map((x) => Math.fround(sampleWrapped(plane, x, y))));
        expect([...grid.data]).toEqual(each);
      },
    ),
  );
});
