import fc from 'fast-check';
import { fractalNoise, makeColourPicture, mean, seededRandom, type ColourPicture } from '../raster';
import {
  applyPlacement,
  closeAxis,
  learnBlendSpace,
  normalQuantile,
  placeClosed,
  rampAtPixels,
  seamFigures,
  type Closing,
} from './index';

/** Plaster-like picture of a wall: fractal, not repeating, at 1 px/mm. */
function plaster(w = 420, h = 400): ColourPicture {
  const p = makeColourPicture(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const v = 0.35 + 0.1 * fractalNoise(x / 631, y / 631, 60, 60, 3, 0.7, 7);
      const i = y * w + x;
      p.r[i] = v;
      p.g[i] = v * 0.95;
      p.b[i] = v * 0.85;
    }
  return p;
}

const WALL = plaster();

function close(picture: ColourPicture, across: Closing, up: Closing, overlapMm = 40) {
  const x = closeAxis({ lengthMm: picture.widthPx, closing: across, overlapMm });
  const y = closeAxis({ lengthMm: picture.heightPx, closing: up, overlapMm });
  const map = placeClosed(x, y);
  return applyPlacement(
    map,
    [{ picture, pxPerMm: { x: 1, y: 1 } }],
    Math.round(map.repeatMm.width),
    Math.round(map.repeatMm.height),
    learnBlendSpace(picture),
  );
}

const spread = (data: Float32Array) => {
  const m = mean(data);
  return Math.sqrt(mean(data.map((v) => (v - m) ** 2)));
};

test.each([
  ['blend', 'blend'],
  ['mirror', 'mirror'],
  ['blend', 'mirror'],
  ['mirror', 'blend'],
] as [Closing, Closing][])(
  'an irregular sample closes by %s across and %s up: seam 0.90–1.10',
  (across, up) => {
    const seam = seamFigures(close(WALL, across, up, 120));
    for (const [method, figure] of [
      [across, seam.acrossWidth],
      [up, seam.acrossHeight],
    ] as const) {
      // A mirrored edge meets its own image: no step at all.
      if (method === 'mirror') expect(figure).toBeLessThan(1.1);
      else {
        expect(figure).toBeGreaterThan(0.9);
        expect(figure).toBeLessThan(1.1);
      }
    }
  },
);

test('laid edge to edge, the same sample shows its seam', () => {
  const seam = seamFigures(close(WALL, 'abut', 'abut'));
  expect(Math.max(seam.acrossWidth, seam.acrossHeight)).toBeGreaterThan(2);
});

test('the blend keeps the contrast of the sample in the overlap, where a cross-fade would grey it', () => {
  const random = seededRandom(3);
  const noise = makeColourPicture(300, 120);
  for (let i = 0; i < noise.r.length; i++)
    noise.r[i] = noise.g[i] = noise.b[i] = 0.3 + 0.06 * random.normal();
  const closed = close(noise, 'blend', 'abut', 100);
  const middle = Float32Array.from(
    { length: 120 * 40 },
    (_, k) => closed.r[Math.floor(k / 40) * closed.widthPx + 30 + (k % 40)]!,
  );
  expect(spread(middle) / spread(noise.r)).toBeGreaterThan(0.93); // a plain cross-fade gives 0.71–0.75 here
  expect(spread(middle) / spread(noise.r)).toBeLessThan(1.07);
  expect(mean(middle)).toBeCloseTo(mean(noise.r), 2);
});

test('away from the overlap the sample is left bit for bit', () => {
  const picture = plaster(200, 150);
  const closed = close(picture, 'blend', 'blend');
  for (let y = 45; y < 105; y += 7)
    for (let x = 45; x < 155; x += 5)
      expect(closed.r[y * closed.widthPx + x]).toBe(picture.r[y * picture.widthPx + x]);
});

describe('a counted axis is cut to whole modules', () => {
  test('17 boards of 145 mm with 16 joints of 3 mm: 16 boards and joints remain', () => {
    const axis = closeAxis({
      lengthMm: 17 * 145 + 16 * 3,
      closing: 'blend',
      overlapMm: 6,
      module: { pitchMm: 148, count: 17 },
    });
    expect(axis.repeatMm).toBeCloseTo(16 * 148, 9);
    expect(axis.modules).toBe(16);
    expect(axis.mixedMm).toBe(6);
  });
  test('from joint centre to joint centre, laid edge to edge, all remain', () => {
    expect(
      closeAxis({ lengthMm: 17 * 148, closing: 'abut', overlapMm: 0, module: { pitchMm: 148, count: 17 } })
        .repeatMm,
    ).toBeCloseTo(17 * 148, 9);
  });
  test('always a whole number of modules, and never more than the sample', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.double({ min: 20, max: 400, noNaN: true }),
        fc.double({ min: 0, max: 12, noNaN: true }),
        fc.constantFrom('blend' as const, 'abut' as const),
        (n, m, j, closing) => {
          const lengthMm = n * m + (n - 1) * j;
          const axis = closeAxis({
            lengthMm,
            closing,
            overlapMm: 2 * j + 1,
            module: { pitchMm: m + j, count: n },
          });
          expect(axis.repeatMm / (m + j)).toBeCloseTo(Math.round(axis.repeatMm / (m + j)), 6);
          expect(axis.repeatMm + axis.mixedMm).toBeLessThanOrEqual(lengthMm + 1e-3);
        },
      ),
    );
  });
});

test('weights of a blended axis go from one copy to the other and sum to one', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 50, max: 500, noNaN: true }),
      fc.double({ min: 1, max: 25, noNaN: true }),
      (lengthMm, overlapMm) => {
        const axis = closeAxis({ lengthMm, closing: 'blend', overlapMm });
        const [a, b] = axis.strips.map((s) => rampAtPixels(s.ramp, axis.repeatMm, 256));
        const off = a!.map((v, i) => Math.abs(v + b![i]! - 1));
        expect(Math.max(...off)).toBeLessThan(5e-6);
      },
    ),
  );
});

test('the same map at twice the resolution is the same arrangement', () => {
  const axis = closeAxis({ lengthMm: 100, closing: 'mirror', overlapMm: 0 });
  const map = placeClosed(axis, axis);
  const ramp = (k: number) => {
    const p = makeColourPicture(100 * k, 100 * k);
    for (let i = 0; i < p.r.length; i++) p.r[i] = ((i % (100 * k)) + 0.5) / (100 * k);
    return applyPlacement(
      map,
      [{ picture: p, pxPerMm: { x: k, y: k } }],
      200 * k,
      200 * k,
      learnBlendSpace(p),
    );
  };
  const [one, two] = [ramp(1), ramp(2)];
  for (let x = 0; x < 200; x += 3) expect((two.r[2 * x]! + two.r[2 * x + 1]!) / 2).toBeCloseTo(one.r[x]!, 3);
});

test('normal quantile agrees with published values', () => {
  expect(normalQuantile(0.975)).toBeCloseTo(1.959964, 5);
  expect(normalQuantile(0.001)).toBeCloseTo(-3.090232, 5);
  expect(normalQuantile(0.5)).toBeCloseTo(0, 9);
});
