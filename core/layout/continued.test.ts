import { gradientNoise, makeColourPicture, type ColourPicture } from '../raster';
import { continued, shownAt, type Continuation } from './continued';

/** A face with grain along it and figure of its own everywhere. */
function face(w = 180, h = 40): ColourPicture {
  const p = makeColourPicture(w, h);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [(i % w) / w, Math.floor(i / w) / h];
    const v = 0.3 + 0.1 * gradientNoise(x, y, 9, 11, 3) + 0.05 * gradientNoise(x, y, 3, 5, 8);
    [p.r[i], p.g[i], p.b[i]] = [v, 0.8 * v, 0.6 * v];
  }
  return p;
}

/** What is shown along a line across the continuation, as shares of the face; mixed places by their second one. */
const shownAlong = (by: Continuation, across: number, steps = 400) =>
  Array.from({ length: steps }, (_, k) => {
    const shown = shownAt(by, (by.length * k) / steps, across, { at: 0, other: 0, weight: 0 });
    return { ...shown };
  });

test.each([1.05, 1.6, 3.2])(
  'a face is continued to %p of its length, and nothing outside it is shown',
  (length) => {
    const by = continued(face(), length);
    expect(by.length).toBeGreaterThanOrEqual(length);
    for (const across of [0, 0.31, 0.99])
      for (const { at, other, weight } of shownAlong(by, across)) {
        expect(at).toBeGreaterThanOrEqual(-1e-6);
        expect(at).toBeLessThanOrEqual(1 + 1e-6);
        if (weight > 0) expect(other).toBeLessThanOrEqual(1 + 1e-6);
      }
  },
);

test('it runs on without a step but at one cut to a copy', () => {
  const by = continued(face(), 2.5);
  const places = shownAlong(by, 0.5, 2000);
  const step = by.length / 2000;
  const jumps = places.slice(1).filter(({ at }, k) => Math.abs(at - places[k]!.at - step) > 1e-6).length;
  expect(jumps).toBe(by.copies.length);
});

test('a cut runs where the copies are alike: far less differs there than at a straight line', () => {
  const picture = face();
  const by = continued(picture, 1.6);
  const [{ from, at, cut }] = by.copies as [Continuation['copies'][number]];
  const value = (share: number, row: number) =>
    picture.r[row * picture.widthPx + Math.min(picture.widthPx - 1, Math.floor(share * picture.widthPx))]!;
  const differs = (along: (row: number) => number) => {
    let sum = 0;
    for (let row = 0; row < picture.heightPx; row++)
      sum += Math.abs(value(along(row), row) - value(along(row) - at + from, row));
    return sum;
  };
  const straight = differs(() => at + 0.15);
  expect(differs((row) => cut[row]!)).toBeLessThan(0.5 * straight);
});

test('a plain face, in which no place is better than another, is continued too', () => {
  const plain = makeColourPicture(60, 10);
  for (const c of ['r', 'g', 'b'] as const) plain[c].fill(0.4);
  expect(continued(plain, 4).length).toBeGreaterThanOrEqual(4);
});
