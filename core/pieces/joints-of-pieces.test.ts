import { fractalNoise, makeColourPicture, type ColourPicture } from '../raster';
import { jointsOfPieces } from './index';

const [W, H] = [240, 200];
const picture = (at: (x: number, y: number) => number): ColourPicture => {
  const p = makeColourPicture(W, H);
  for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = at(i % W, Math.floor(i / W));
  return p;
};
const grain = (x: number, y: number) => 0.02 * fractalNoise(x / 997, y / 997, 200, 200, 2, 0.5, 7);
/** Joints of 4 px about faces of 36 × 36. */
const inJoint = (x: number, y: number) => x % 40 < 4 || y % 40 < 4;

test('joints are 1 and faces 0, light or dark, and between them it falls within a part of the face', () => {
  for (const [joint, face] of [
    [0.5, 0.15],
    [0.05, 0.3],
  ] as const) {
    const joints = jointsOfPieces(picture((x, y) => (inJoint(x, y) ? joint : face) + grain(x, y)))!.joints;
    const at = (x: number, y: number) => joints.data[y * W + x]!;
    for (const [x, y] of [
      [82, 60],
      [60, 82],
      [121, 140],
    ] as const)
      expect(at(x, y)).toBe(1);
    for (const [x, y] of [
      [62, 62],
      [102, 60],
      [141, 138],
    ] as const)
      expect(at(x, y)).toBe(0);
    expect(at(87, 62)).toBeGreaterThan(0);
    expect(at(87, 62)).toBeLessThan(1);
  }
});

test('what shows no pieces has no joints: grain, a gradient, specks', () => {
  expect(jointsOfPieces(picture((x, y) => 0.3 + grain(x, y)))).toBeNull();
  expect(jointsOfPieces(picture((x, y) => 0.1 + 0.002 * x + grain(x, y)))).toBeNull();
  // A net of lines every 6 px is a weave or a grain, not pieces.
  expect(jointsOfPieces(picture((x, y) => (x % 6 < 2 || y % 6 < 2 ? 0.5 : 0.2)))).toBeNull();
});
