import { seededRandom } from '../raster';
import { makeFrame, toShares, withBow, type Point, type Quad } from '../straighten';
import { figure } from '../units';
import { resolveSize, sizeKnownBy } from './index';

/** Photographs of a rectangle by cameras of many focal lengths and with some distortion, neither of which is told. */

const SHAPE = { widthPx: 1600, heightPx: 1200 };
const HALF_PX = Math.hypot(SHAPE.widthPx, SHAPE.heightPx) / 2;
const SETTINGS = 200;

/** @param seed of everything about one photograph */
function photographed(seed: number) {
  const random = seededRandom(seed);
  const [widthMm, heightMm] = [random.between(300, 2000), random.between(300, 2000)];
  const focalPx = (random.between(20, 135) / 43.27) * 2 * HALF_PX;
  const [tilt, pan] = [0, 0].map(() => (random.between(-30, 30) * Math.PI) / 180) as [number, number];
  const bow = { k1: random.between(-0.012, 0.012), k2: 0 };
  const awayMm = (1.6 * focalPx * Math.max(widthMm, heightMm)) / SHAPE.widthPx;
  const at = (u: number, v: number): Point => {
    const [x, y] = [(u - 0.5) * widthMm, (v - 0.5) * heightMm];
    const [x1, z1] = [x * Math.cos(pan), x * Math.sin(pan)];
    const [y2, z2] = [y * Math.cos(tilt) - z1 * Math.sin(tilt), y * Math.sin(tilt) + z1 * Math.cos(tilt)];
    const scale = focalPx / (awayMm + z2) / HALF_PX;
    const [sx, sy] = toShares(SHAPE, withBow(bow, [x1 * scale, y2 * scale]));
    // Places are marked by hand.
    return [sx + (0.5 * random.normal()) / SHAPE.widthPx, sy + (0.5 * random.normal()) / SHAPE.heightPx];
  };
  const frame = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)] as unknown as Quad;
  const [from, to] = [random.between(0, 0.45), random.between(0.55, 1)];
  const row = random.between(0.1, 0.9);
  const rulers = [
    { id: 'a', from: at(from, row), to: at(to, row), mm: (to - from) * widthMm },
    { id: 'b', from: at(row, from), to: at(row, to), mm: (to - from) * heightMm },
  ];
  return { widthMm, heightMm, frame: makeFrame(SHAPE, { bowLines: [], frame }), rulers };
}

test.each([
  ['two rulers', 2],
  ['one ruler, the height from proportions', 1],
])('by %s, sizes hold the truth within their tolerance in 95 of 100 settings', (_, count) => {
  let held = 0;
  const wide: number[] = [];
  for (let seed = 1; seed <= SETTINGS; seed++) {
    const { widthMm, heightMm, frame, rulers } = photographed(seed);
    const settings = sizeKnownBy('follows', 'follows');
    settings.ruling = { across: 'lines', up: count > 1 ? 'lines' : 'follows' };
    settings.lines = rulers.slice(0, count).map(({ mm, ...line }) => ({
      ...line,
      lengthMm: figure(mm, 'mm', 'measured'),
    })) as typeof settings.lines;
    const size = resolveSize(settings, frame);
    for (const [length, truth] of [
      [size.width, widthMm],
      [size.height, heightMm],
    ] as const) {
      if (Math.abs(length.mm - truth) <= length.toleranceMm) held++;
      wide.push(length.toleranceMm / length.mm);
    }
  }
  expect(held / (2 * SETTINGS)).toBeGreaterThanOrEqual(0.95);
  // A tolerance that holds everything says nothing.
  wide.sort((a, b) => a - b);
  expect(wide[wide.length >> 1]).toBeLessThan(count > 1 ? 0.02 : 0.06);
});
