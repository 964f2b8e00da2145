import { makeColourPicture } from '../raster';
import { makeFrame, type Quad } from '../straighten';
import { dot, length, plus, times, type Vector } from '../vector';
import { lightToFrame, poseOfFrame, straightenerOf } from '.';

const PICTURE = { widthPx: 1200, heightPx: 900, focalPx: 2500 };
const SIZE = { width: 300, height: 200 };

/** A turn about x, then about z. */
function turnedBy(tiltDeg: number, rollDeg: number) {
  const [t, r] = [(tiltDeg * Math.PI) / 180, (rollDeg * Math.PI) / 180];
  return ([x, y, z]: Vector): Vector => {
    const [y1, z1] = [y * Math.cos(t) - z * Math.sin(t), y * Math.sin(t) + z * Math.cos(t)];
    return [x * Math.cos(r) - y1 * Math.sin(r), x * Math.sin(r) + y1 * Math.cos(r), z1];
  };
}

/**
 * A rectangle that lies turned before the camera, and its corners in the picture. Axes as lights have them: x right, y up, z to the
 * camera, from where the line of sight meets the sample.
 */
function laid(tiltDeg: number, rollDeg: number, awayMm: number, offMm: readonly [number, number]) {
  const turn = turnedBy(tiltDeg, rollDeg);
  const middle = turn([offMm[0], offMm[1], 0]);
  const at = (x: number, y: number): Vector => plus(middle, turn([x, y, 0]));
  const { widthPx, heightPx, focalPx } = PICTURE;
  const seen = ([x, y, z]: Vector): [number, number] => [
    0.5 + (focalPx * x) / (awayMm - z) / widthPx,
    0.5 - (focalPx * y) / (awayMm - z) / heightPx,
  ];
  const [w, h] = [SIZE.width / 2, SIZE.height / 2];
  const corners = [at(-w, h), at(w, h), at(w, -h), at(-w, -h)].map(seen) as unknown as Quad;
  return { turn, middle, corners };
}

const near = (a: Vector, b: Vector, within: number) => expect(length(plus(a, b, -1))).toBeLessThan(within);

test.each([
  [0, 0, [0, 0]],
  [0, 25, [40, -30]],
  [14, -6, [-25, 10]],
  [-22, 40, [15, 35]],
] as const)('a frame that lies tilted by %d° and turned by %d° is found to lie so', (tilt, roll, off) => {
  const { turn, middle, corners } = laid(tilt, roll, 900, off);
  const pose = poseOfFrame(makeFrame(PICTURE, { bowLines: [], frame: corners }), SIZE);
  near(pose.right, turn([1, 0, 0]), 1e-6);
  near(pose.up, turn([0, 1, 0]), 1e-6);
  near(pose.normal, turn([0, 0, 1]), 1e-6);
  near(pose.middle, middle, 1e-3);
  expect(pose.cameraMm).toBeCloseTo(dot(plus([0, 0, 900], middle, -1), turn([0, 0, 1])), 3);
});

test('lights stand to the frame as they stand to the sample', () => {
  const { turn, middle, corners } = laid(12, 8, 800, [20, -15]);
  const pose = poseOfFrame(makeFrame(PICTURE, { bowLines: [], frame: corners }), SIZE);
  const place: Vector = [120, -90, 340];
  const nearLight = lightToFrame({ positionMm: plus(middle, turn(place)), strength: 0.8 }, pose);
  if (!('positionMm' in nearLight)) throw new Error('It is a near light.');
  near(nearLight.positionMm, place, 1e-3);
  // What a white facing the light reads falls with the square of the distance to it.
  const closer = length(plus(middle, turn(place))) / length(place);
  expect(nearLight.strength).toBeCloseTo(0.8 * closer * closer, 6);
  const far = lightToFrame({ directionTo: turn([0.3, 0.2, 0.9]) }, pose);
  expect(far).toEqual({ directionTo: [0.3, 0.2, 0.9].map((v) => expect.closeTo(v, 6) as unknown) });
});

test('without a focal length what lies square to the camera still lies square, at its size', () => {
  const frame = makeFrame(
    { widthPx: 1000, heightPx: 800 },
    { bowLines: [], frame: [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]] }, // prettier-ignore
  );
  const pose = poseOfFrame(frame, { width: 400, height: 320 });
  near(pose.normal, [0, 0, 1], 1e-6);
  near(pose.middle, [0, 0, 0], 1e-6);
});

test('all pictures of a set are cut alike, to the proportions of the size and no finer than they are', () => {
  const picture = makeColourPicture(400, 300);
  for (let i = 0; i < picture.r.length; i++) picture.r[i] = (i % 400) / 400;
  const lights = [times([1, 0, 1], 500), times([-1, 0, 1], 500)];
  const corners: Quad = [[0.25, 0.2], [0.75, 0.2], [0.75, 0.8], [0.25, 0.8]]; // prettier-ignore
  const as = { settings: { bowLines: [], frame: corners }, sizeMm: { width: 100, height: 90 } };
  const { level, straighten, mmPerPx } = straightenerOf(picture, as, 1600);
  expect(level).toBe(0);
  const set = lights.map((positionMm) => straighten({ picture, light: { positionMm } }));
  expect(set.map(({ picture: p }) => [p.widthPx, p.heightPx])).toEqual([[200, 180], [200, 180]]); // prettier-ignore
  expect(mmPerPx).toEqual({ x: 0.5, y: 0.5 });
  const { r } = set[0]!.picture;
  expect(r[90 * 200]).toBeCloseTo(0.25, 1);
  expect(r[90 * 200 + 199]).toBeCloseTo(0.75, 1);
  const smaller = straightenerOf(picture, as, 50);
  expect(smaller.mmPerPx.x).toBe(2);
  expect(smaller.level).toBe(2);
});
