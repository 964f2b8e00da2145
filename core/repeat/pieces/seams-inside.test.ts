import type { Pieces } from '../../pieces';
import { makePlane } from '../../raster';
import { piecesWithSeams } from './seams-inside';

/** Two boards above each other, grain along; a seam runs up through both. */
const [W, H, SEAM] = [80, 40, 40];
const pieces: Pieces = {
  widthPx: W,
  heightPx: H,
  label: Int32Array.from({ length: W * H }, (_, i) =>
    i % W < 2 || Math.floor(i / W) % 20 < 2 ? -1 : Math.floor(i / W / 20),
  ),
  pieces: [0, 1].map((k) => ({
    areaPx: 78 * 18,
    widthPx: 78,
    heightPx: 18,
    left: 2,
    top: 20 * k + 2,
    cutOff: false,
  })),
};
const meet = Uint8Array.from({ length: W * H }, (_, i) => (i % W === SEAM || i % W === SEAM - 1 ? 1 : 0));

test('a piece whose grain does not go on over the line where copies meet is one with a seam', () => {
  const light = makePlane(W, H);
  for (let i = 0; i < light.data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    // In the lower board the grain on one side lies two pixels lower.
    const shifted = y >= 20 && x >= SEAM ? y + 2 : y;
    light.data[i] = 50 + 6 * Math.sin(shifted * 1.3);
  }
  const flat = makePlane(W, H);
  expect(piecesWithSeams(pieces, [light, flat, flat], meet)).toEqual([1]);
});

test('where a surface is as rough everywhere, a line where copies meet does not show', () => {
  const light = makePlane(W, H);
  light.data.forEach((_, i) => (light.data[i] = 50 + 5 * Math.sin(i * 12.9898) * Math.cos(i * 78.233)));
  expect(piecesWithSeams(pieces, [light], meet)).toEqual([]);
});
