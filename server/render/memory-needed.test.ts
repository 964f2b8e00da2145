import fc from 'fast-check';
import { memoryNeeded, tooLargeForMemory } from './memory-needed';

const GB = 1e9;
const SLAB = { width: 1200, height: 900 };
const refusal = (widthPx: number, limitBytes: number, sizeMm = SLAB, workBytesPerPx = 90): string | null => {
  const px = {
    width: widthPx,
    height: Math.max(1, Math.round((widthPx * sizeMm.height) / sizeMm.width)),
  };
  return tooLargeForMemory('Shell limestone', px, workBytesPerPx * px.width * px.height, limitBytes);
};

test('8192 px fit into 8 GB and not into 4; the sentence says what would', () => {
  expect(refusal(8192, 8 * GB)).toBeNull();
  expect(refusal(8192, 4 * GB)).toMatch(
    /^Maps of 8192 × 6144 px of Shell limestone take about 6\.0 GB of memory; this machine has 4\.0 GB\./,
  );
});

test('faces that are larger than what is laid of them count', () => {
  expect(memoryNeeded({ width: 8192, height: 6144 }, 0)).toBeCloseTo(6.04 * GB, -8);
  expect(memoryNeeded({ width: 512, height: 512 }, 3 * GB)).toBeGreaterThan(3 * GB);
  expect(refusal(512, 2 * GB, SLAB, 16_000)).toMatch(/up to \d+ px here\.$/);
});

test('what the sentence says would fit does fit, and nothing much larger', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 512, max: 8192 }),
      fc.double({ min: 0.1, max: 10, noNaN: true }),
      fc.double({ min: 0.7, max: 8, noNaN: true }),
      (widthPx, aspect, gb) => {
        const sizeMm = { width: 1000 * aspect, height: 1000 };
        const said = refusal(widthPx, gb * GB, sizeMm);
        if (said === null) return;
        const fits = Number(/up to (\d+) px/.exec(said)![1]);
        // Rounding to whole pixels is all that may be between.
        const width = (longer: number) => Math.floor(aspect > 1 ? longer : longer * aspect);
        expect(refusal(width(0.99 * fits), gb * GB, sizeMm)).toBeNull();
        expect(refusal(Math.ceil(width(fits) * 1.03) + 2, gb * GB, sizeMm)).not.toBeNull();
      },
    ),
  );
});
