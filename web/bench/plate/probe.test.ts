import { linearToLab, lrvOf, srgbToLinear } from '@jossel/core/colour';
import type { RenderReport } from '@jossel/core/finish';
import { probe } from './probe';

/** A repeat of 8 × 4 px at 1 px/mm; a pixel is light where `light` says so. */
function repeat(light: (x: number, y: number) => boolean) {
  const colour = new Uint8ClampedArray(4 * 8 * 4);
  for (let i = 0; i < 32; i++) colour.fill(light(i % 8, Math.floor(i / 8)) ? 255 : 0, 4 * i, 4 * i + 4);
  const report = { pxPerMm: { x: 1, y: 1 } } as RenderReport;
  return { colour, widthPx: 8, heightPx: 4, report };
}

test('an even repeat reads its own colour, wherever and however large the spot is', () => {
  const grey = repeat(() => false);
  grey.colour.fill(119);
  const linear = srgbToLinear(119 / 255);
  for (const [at, radiusMm] of [
    [[0.5, 0.5], 0],
    [[0, 0], 2],
    [[0.99, 0.01], 3],
  ] as const) {
    const reading = probe(grey, at, radiusMm);
    expect(reading.lrv).toBeCloseTo(lrvOf([linear, linear, linear]), 9);
    expect(reading.lab[0]).toBeCloseTo(linearToLab([linear, linear, linear])[0], 9);
  }
});

test('light is averaged, not codes: half white and half black reflect half', () => {
  const reading = probe(
    repeat((x) => x % 2 === 0),
    [0.5, 0.5],
    2,
  );
  expect(reading.lrv).toBeCloseTo(50, 0);
});

test('the spot is round and goes on over the edge of the repeat', () => {
  const atCorner = probe(
    repeat((x, y) => (x === 0 || x === 7) && (y === 0 || y === 3)),
    [0, 0],
    1,
  );
  expect(atCorner.pixels).toBe(4);
  expect(atCorner.lrv).toBeCloseTo(100, 6);
  const { pixels } = probe(
    repeat(() => true),
    [0.5, 0.5],
    2,
  );
  expect(pixels).toBe(12);
});
