import { placedLamp, type TurnedLight } from '../scene';
import { lampIlluminance, meetsLamp, type PlacedLamp } from '../scene/lights';
import { seededRandom } from '../../raster';
import { LampDirections } from './lamp';

const placed = (light: TurnedLight): PlacedLamp => placedLamp(light)!;
const LAMPS: [string, PlacedLamp][] = [
  ['the sun', placed({ name: 'sun', azimuthDeg: 58, elevationDeg: 24 })],
  ['the sun below the eyes', placed({ name: 'sun', azimuthDeg: 200, elevationDeg: -20 })],
  ['a downlight', placed({ name: 'downlight', azimuthDeg: 90, elevationDeg: 62 })],
  ['a lamp straight above', placed({ name: 'downlight', azimuthDeg: 0, elevationDeg: 90 })],
  ['a window', placed({ name: 'window', azimuthDeg: 60, elevationDeg: 14 })],
  ['a skylight', placed({ name: 'window', azimuthDeg: 60, elevationDeg: 90 })],
];

test.each(LAMPS)('%s: directions are unit vectors within it, as likely as is said', (_, lamp) => {
  const directions = new LampDirections(lamp);
  const random = seededRandom(3);
  const to = [0, 0, 0];
  for (let k = 0; k < 500; k++) {
    // On the very edge rounding decides.
    const [u, v] = [0.001 + 0.998 * random.next(), 0.001 + 0.998 * random.next()];
    const pdf = directions.draw(u, v, to);
    expect(Math.hypot(...to)).toBeCloseTo(1, 9);
    expect(meetsLamp(lamp, to as never)).toBe(true);
    expect(directions.pdfAlong(to) / pdf).toBeCloseTo(1, 6);
  }
});

test.each(LAMPS)('%s: what it gives a surface is the mean over directions drawn', (_, lamp) => {
  const directions = new LampDirections(lamp);
  const random = seededRandom(4);
  const to = [0, 0, 0];
  const { towards } = lamp;
  let sum = 0;
  const n = 20_000;
  for (let k = 0; k < n; k++) {
    const pdf = directions.draw(random.next(), random.next(), to);
    const cos = to[0]! * towards[0] + to[1]! * towards[1] + to[2]! * towards[2];
    sum += (directions.luminance * cos) / pdf;
  }
  expect(sum / n / lampIlluminance(lamp, towards)).toBeCloseTo(1, 2);
});

test.each(LAMPS)('%s: beside it and behind it nothing is drawn', (_, lamp) => {
  const directions = new LampDirections(lamp);
  const { towards } = lamp;
  expect(directions.pdfAlong(towards)).toBeGreaterThan(0);
  expect(directions.pdfAlong(towards.map((v) => -v))).toBe(0);
  // A quarter turn away, about an axis that it does not lie on.
  const [x, y, z] = towards;
  const across = Math.abs(y) > 0.9 ? [1, 0, 0] : [-z / Math.hypot(x, z), 0, x / Math.hypot(x, z)];
  expect(directions.pdfAlong(across)).toBe(0);
});
