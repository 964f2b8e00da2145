import { makePlane } from '../raster';
import { angledPieces, irregularPieces, jointColours } from './index';
import { labelledPieces } from './labelled-for-tests';

const [W, H] = [320, 240];

const labelled = (at: (x: number, y: number) => number) => labelledPieces(W, H, at);

/** Discs of 18 px radius in squares of 40 px. */
const discs = labelled((x, y) => {
  const [i, j] = [Math.floor(x / 40), Math.floor(y / 40)];
  return Math.hypot(x - 40 * i - 20, y - 40 * j - 20) < 18 ? 10 * j + i : -1;
});

test('stones: what each takes of the surface, how far they are apart, and the largest rectangle within', () => {
  const found = irregularPieces(discs)!;
  expect(found.cellPx.width).toBeCloseTo(40, 0);
  expect(found.cellPx.height).toBeCloseTo(40, 0);
  expect(found.areasVary).toBeLessThan(0.02);
  // Of a square of 40 px what the disc leaves, over the quarter of the outlines of both neighbours.
  expect(Math.abs(found.jointPx - (2 * (1600 - Math.PI * 324)) / (2 * Math.PI * 18))).toBeLessThan(0.6);
  expect(found.corners).toHaveLength(48);
  for (const [[l, t], , [r, b]] of found.corners) {
    // The square within a disc is √2 radii wide; a pixel at each edge is left out.
    expect(Math.abs((r - l) * (b - t) - (18 * Math.SQRT2 - 2) ** 2)).toBeLessThan(70);
    for (const [x, y] of [
      [l, t],
      [r, b],
    ] as const) {
      const [dx, dy] = [x - 40 * Math.floor(l / 40) - 20, y - 40 * Math.floor(t / 40) - 20];
      expect(Math.hypot(dx, dy)).toBeLessThan(18.5);
    }
  }
});

test('a joint that widens into a piece is cut out of it', () => {
  const widened = Uint8Array.from({ length: W * H }, (_, i) => Number(i % W >= 40 && i % W < 65));
  const found = irregularPieces(discs, widened)!;
  for (const [[l], [r]] of found.corners) expect(r <= 40 || l >= 65).toBe(true);
});

/** Boards of 60 × 20 px in herringbone with joints of 3 px, turned. */
const herringbone = (turnedDeg: number) => {
  const [c, s] = [Math.cos((turnedDeg * Math.PI) / 180), Math.sin((turnedDeg * Math.PI) / 180)];
  return labelled((x, y) => {
    const [u, v] = [c * x - s * y + 4000, s * x + c * y + 4000];
    const [i, j] = [Math.floor(u / 20), Math.floor(v / 20)];
    // Three cells lie in a row, three stand; each row is moved on by one cell.
    const at = (((i - j) % 6) + 6) % 6;
    const [u0, v0, l, w] = at < 3 ? [i - at, j, 60, 20] : [i, j - (5 - at), 20, 60];
    const [du, dv] = [u - 20 * u0, v - 20 * v0];
    if (du < 1.5 || dv < 1.5 || du > l - 1.5 || dv > w - 1.5) return -1;
    return 2 * (u0 * 4000 + v0) + (at < 3 ? 0 : 1);
  });
};

test.each([45, 30, -20])(
  'boards of a herringbone that is turned by %d° are picked along their grain',
  (turnedDeg) => {
    const found = angledPieces(herringbone(turnedDeg))!;
    expect(found.directionsDeg).toHaveLength(2);
    for (const deg of found.directionsDeg) {
      const off = (((deg - turnedDeg) % 90) + 90) % 90;
      expect(Math.min(off, 90 - off)).toBeLessThan(1.5);
    }
    expect(Math.abs(found.lengthPx - 57)).toBeLessThan(1.5);
    expect(Math.abs(found.widthPx - 17)).toBeLessThan(1.5);
    for (const [a, b] of found.corners)
      expect(Math.abs(Math.hypot(b[0] - a[0], b[1] - a[1]) - 55)).toBeLessThan(2.5);
  },
);

test('discs lie at no angle', () => {
  expect(angledPieces(discs)).toBeNull();
});

test('joints that blur makes look wider than they are get their true width back', () => {
  // Bricks of 50 × 20 with joints of 6, blurred over 4 px, and segmented 2 px too wide.
  const soft = (d: number) => Math.min(1, Math.max(0, 0.5 - d / 4));
  const toPiece = (x: number, y: number) =>
    Math.max(Math.abs(((x + 28) % 56) - 28) * -1 + 3, Math.abs(((y + 13) % 26) - 13) * -1 + 3);
  const lightness = makePlane(W, H);
  for (let i = 0; i < W * H; i++)
    lightness.data[i] = 40 + 30 * soft(-toPiece((i % W) + 0.5, Math.floor(i / W) + 0.5));
  const wide = labelled((x, y) => (toPiece(x, y) > -1 ? -1 : Math.floor(x / 56) + 100 * Math.floor(y / 26)));
  const share = (grown: number) => {
    const [w, h] = [6 + grown, 6 + grown];
    return 1 - ((56 - w) * (26 - h)) / (56 * 26);
  };
  const look = { channel: 0 as const, sign: 1 as const, widthPx: 8 };
  const { coverage } = jointColours([lightness, makePlane(W, H), makePlane(W, H)], look, wide);
  expect(Math.abs(coverage - share(0) / share(2))).toBeLessThan(0.05);
});
