import fc from 'fast-check';
import { frameOfQuad, NO_BOW, toFrame, type Point, type Quad } from '@jossel/core/straighten';
import { pathOf, receivedView, straightView } from './place-view';
import { boxBetween, thinned } from './tracks';

const PICTURE = { widthPx: 2400, heightPx: 1500 };
/** A frame that leans any way, and the bow of any usual lens. */
const anyFrame = fc
  .record({
    lean: fc.array(fc.double({ min: -0.08, max: 0.08, noNaN: true }), { minLength: 8, maxLength: 8 }),
    k1: fc.double({ min: -0.06, max: 0.06, noNaN: true }),
  })
  .map(({ lean, k1 }) => {
    const quad = [
      [0.15, 0.2],
      [0.85, 0.2],
      [0.85, 0.8],
      [0.15, 0.8],
    ].map(([x, y], i) => [x! + lean[2 * i]!, y! + lean[2 * i + 1]!]) as unknown as Quad;
    return { quad, frame: frameOfQuad(PICTURE, { ...NO_BOW, k1 }, quad) };
  });
const place = fc.tuple(
  fc.double({ min: 0.2, max: 0.8, noNaN: true }),
  fc.double({ min: 0.2, max: 0.8, noNaN: true }),
);
const placed = fc.record({
  left: fc.integer({ min: -900, max: 300 }),
  top: fc.integer({ min: -900, max: 300 }),
  pxPerMm: fc.double({ min: 0.05, max: 20, noNaN: true }),
});
const FIELD = { width: 640, height: 410 };

test('a place is put on the screen and taken from it as the same, whichever way the sample is looked at', () => {
  fc.assert(
    fc.property(anyFrame, placed, place, ({ frame }, at, p) => {
      for (const view of [receivedView(frame, at, FIELD), straightView(frame, at, FIELD, 900)]) {
        const [x, y] = view.toPlace(...view.toScreen(p));
        expect(Math.hypot(x - p[0], y - p[1])).toBeLessThan(1e-7);
      }
    }),
  );
});

test('straightened, the corners of the frame are those of its field', () => {
  fc.assert(
    fc.property(anyFrame, placed, ({ quad, frame }, at) => {
      const { toScreen } = straightView(frame, at, FIELD, 900);
      const [w, h] = [FIELD.width * at.pxPerMm, FIELD.height * at.pxPerMm];
      const corners: Point[] = [
        [at.left, at.top],
        [at.left + w, at.top],
        [at.left + w, at.top + h],
        [at.left, at.top + h],
      ];
      for (const [i, [x, y]] of corners.entries()) {
        const [sx, sy] = toScreen(quad[i]!);
        expect(Math.hypot(sx - x, sy - y)).toBeLessThan(1e-3);
      }
    }),
  );
});

test('a box between two places is upright in the frame, with both as its corners', () => {
  fc.assert(
    fc.property(anyFrame, place, place, ({ frame }, a, b) => {
      const box = boxBetween(a, b, frame);
      expect(Math.hypot(box[0]![0] - a[0], box[0]![1] - a[1])).toBeLessThan(1e-7);
      expect(Math.hypot(box[2]![0] - b[0], box[2]![1] - b[1])).toBeLessThan(1e-7);
      const [p, q, r, s] = box.map((corner) => toFrame(frame, corner));
      expect(Math.abs(p![1] - q![1]) + Math.abs(r![1] - s![1])).toBeLessThan(1e-7);
      expect(Math.abs(q![0] - r![0]) + Math.abs(s![0] - p![0])).toBeLessThan(1e-7);
    }),
  );
});

test('a thinned track begins and ends where the hand did, and strays from it by no more than a step', () => {
  fc.assert(
    fc.property(fc.array(place, { minLength: 1, maxLength: 300 }), (track) => {
      const thin = thinned(track);
      const near = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);
      expect(near(thin[0]!, track[0]!)).toBeLessThan(2e-5);
      expect(near(thin.at(-1)!, track.at(-1)!)).toBeLessThan(2e-5);
      for (const p of track) expect(Math.min(...thin.map((q) => near(p, q)))).toBeLessThan(0.0016);
    }),
  );
});

test('a path goes through the places in their order, and back to the first when closed', () => {
  const frame = frameOfQuad(PICTURE, NO_BOW, [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ]);
  const view = receivedView(frame, { left: 10, top: 20, pxPerMm: 2 }, { width: 100, height: 50 });
  const places: Point[] = [
    [0, 0],
    [0.5, 0],
    [0.5, 1],
  ];
  expect(pathOf(view, places)).toBe('M10.0 20.0L110.0 20.0L110.0 120.0');
  expect(pathOf(view, places, true)).toBe('M10.0 20.0L110.0 20.0L110.0 120.0Z');
});
