import fc from 'fast-check';
import {
  anglesOf,
  directionOf,
  distanceMmOf,
  faultOfLights,
  incident,
  MOST_LIGHTS,
  type Light,
  type Vector,
} from './lights';

const RAD = Math.PI / 180;
/** A far light by its angles. */
const from = (azimuthDeg: number, elevationDeg: number): Light => {
  const flat = Math.cos(elevationDeg * RAD);
  return {
    directionTo: [
      flat * Math.cos(azimuthDeg * RAD),
      flat * Math.sin(azimuthDeg * RAD),
      Math.sin(elevationDeg * RAD),
    ],
  };
};
const ring = (count: number, elevationDeg = 45, overDeg = 360) =>
  Array.from({ length: count }, (_, k) => from((k * overDeg) / count, elevationDeg));

test('angles and direction say the same, however far the light stands', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 359.9, noNaN: true }),
      fc.double({ min: 1, max: 89, noNaN: true }),
      fc.double({ min: 0.1, max: 5000, noNaN: true }),
      (azimuth, elevation, far) => {
        const direction = directionOf(from(azimuth, elevation));
        const near: Light = { positionMm: direction.map((v) => v * far) as unknown as Vector };
        const { azimuthDeg, elevationDeg } = anglesOf(near);
        expect(Math.cos((azimuthDeg - azimuth) * RAD)).toBeCloseTo(1, 9);
        expect(elevationDeg).toBeCloseTo(elevation, 6);
        expect(distanceMmOf(near)).toBeCloseTo(far, 6);
        expect(distanceMmOf(from(azimuth, elevation))).toBeNull();
      },
    ),
  );
});

test('a near light falls off with the square of its distance; in the middle it reads what is stated', () => {
  const light: Light = { positionMm: [0, 0, 400], strength: 0.8 };
  const lengthAt = (x: number, y: number, z: number) => {
    const out = new Float64Array(4);
    incident(light, x, y, z, 1.5, out, 1);
    expect(out[0]).toBe(0);
    return Math.hypot(out[1]!, out[2]!, out[3]!);
  };
  expect(lengthAt(0, 0, 0)).toBeCloseTo(0.8 * 1.5, 12);
  expect(lengthAt(0, 0, 200)).toBeCloseTo(4 * 0.8 * 1.5, 12);
  // 300 and 400 mm make 500 mm.
  expect(lengthAt(300, 0, 0)).toBeCloseTo((0.8 * 1.5 * 16) / 25, 12);
  expect(lengthAt(0, -300, 0)).toBeCloseTo((0.8 * 1.5 * 16) / 25, 12);
});

test('a far light arrives alike everywhere, however long its direction is given', () => {
  const out = new Float64Array(6);
  incident({ directionTo: [3, 0, 4], strength: 2 }, 0, 0, 0, 1, out, 0);
  incident({ directionTo: [0.6, 0, 0.8], strength: 2 }, 900, -50, 12, 1, out, 3);
  [1.2, 0, 1.6, 1.2, 0, 1.6].forEach((v, k) => expect(out[k]).toBeCloseTo(v, 12));
});

test('lights all round are enough from three on', () => {
  for (const count of [3, 4, 6, 8, 12, MOST_LIGHTS]) expect(faultOfLights(ring(count))).toBeNull();
});

test.each<[string, Light[], RegExp]>([
  ['no light', [], /0 lights are not enough.*at least 3/],
  ['one light', ring(1), /One light is not enough/],
  ['two lights', ring(2), /2 lights are not enough/],
  ['more than can be told apart', ring(MOST_LIGHTS + 1), new RegExp(`at most ${MOST_LIGHTS} lights`)],
  ['lights on one side', ring(6, 40, 140), /on one side.*gap of \d+°/],
  ['a light behind the sample', [...ring(5), { directionTo: [0, 1, -0.1] }], /Light 6 stands behind/],
  ['a light in the plane of the sample', [{ positionMm: [0, 10, 0] }, ...ring(5)], /Light 1 stands behind/],
  ['a light without a direction', [...ring(3), { directionTo: [0, 0, 0] }], /Light 4 has no direction/],
  ['a light that is no number', [...ring(3), { directionTo: [NaN, 0, 1] }], /Light 4 has no direction/],
  [
    'lights along one line',
    [from(0, 20), from(180, 20), from(0, 60), from(180, 60), from(0, 85)],
    /nearly in one plane/,
  ],
  ['lights all at one place', [from(20, 85), from(140, 85.5), from(260, 85.2)], /nearly in one plane/],
])('%s: what is wrong is said, and what would do', (_, lights, sentence) => {
  expect(faultOfLights(lights)).toMatch(sentence);
});

test('a gap is measured over the right as well: lights turned together are as good', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 360, noNaN: true }), (turnDeg) => {
      const turned = (azimuths: number[]) => azimuths.map((a) => from(a + turnDeg, 45));
      expect(faultOfLights(turned([0, 60, 100, 150]))).toMatch(/gap of 210°/);
      expect(faultOfLights(turned([0, 90, 180]))).toBeNull();
    }),
  );
});
