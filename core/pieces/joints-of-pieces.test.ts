import { fractalNoise, makeColourPicture, type ColourPicture } from '../raster';
import { jointsOfBoards, jointsOfPieces } from './index';

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

describe('boards, whose joints are thinner than grain is wide', () => {
  const PITCH = 25;
  const ENDS = [60, 150, 95, 180, 40, 120, 75, 165];
  /** Courses of 25 px with lines of 1 px, each with one joint across it; the first line lies at 10 px. */
  const floor = (x: number, y: number) => {
    const course = Math.floor((y - 10) / PITCH);
    const line = (y - 10 + PITCH) % PITCH === 0;
    const end = course >= 0 && course < ENDS.length && Math.abs(x - ENDS[course]!) < 1;
    return line || end ? 0.05 : 0.3 + 3 * grain(x / 12, y);
  };
  const courses = { along: 'across', pitchPx: PITCH, firstPx: 10 } as const;
  const turned = (at: (x: number, y: number) => number) => {
    const p = makeColourPicture(H, W);
    for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = at(Math.floor(i / H), i % H);
    return p;
  };

  test('boards are pieces, their ends and the lines between courses joints; lying or upright', () => {
    const lying = jointsOfBoards(picture(floor), courses)!;
    const upright = jointsOfBoards(turned(floor), { ...courses, along: 'up' })!;
    for (const at of [
      (x: number, y: number, of: 'pieces' | 'joints') => lying[of].data[y * W + x]!,
      (x: number, y: number, of: 'pieces' | 'joints') => upright[of].data[x * H + y]!,
    ])
      for (const [course, end] of ENDS.slice(0, 7).entries()) {
        const middle = 10 + PITCH * (course + 0.5);
        expect(at(end, Math.floor(middle), 'pieces')).toBe(0);
        expect(at(end, Math.floor(middle), 'joints')).toBe(1);
        for (const x of [end - 15, end + 15]) expect(at(x, Math.floor(middle), 'pieces')).toBe(1);
        expect(at(end - 15, Math.floor(middle), 'joints')).toBe(0);
        expect(at(end - 15, 10 + PITCH * (course + 1), 'pieces')).toBe(0);
      }
  });

  test('courses that the sample cuts are pieces as well; where none lies whole, there are no boards', () => {
    const { pieces } = jointsOfBoards(picture(floor), courses)!;
    // Above the first line, and below the last.
    expect(pieces.data[4 * W + 100]).toBe(1);
    expect(pieces.data[(H - 4) * W + 100]).toBe(1);
    expect(jointsOfBoards(picture(floor), { along: 'across', pitchPx: 150, firstPx: 90 })).toBeNull();
  });
});
