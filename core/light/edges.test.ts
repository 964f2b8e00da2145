import {
  blurWrapped,
  fractalNoise,
  makeColourPicture,
  makePlane,
  mapChannels,
  type ColourPicture,
  type Plane,
} from '../raster';
import { meanOfSplit, splitPart, timesInPart, timesInSplit } from './index';

const SIDE = 192;
const JOINT = [0.55, 0.52, 0.47] as const;
const GLAZE = [0.06, 0.2, 0.22] as const;
const FACTORS = [4.5, 0.5, 0.6] as const;

/** Share of the pixel from x to x + 1 that a joint covers; joints of a width at a pitch. */
function covered(x: number, pitch: number, width: number): number {
  let sum = 0;
  for (let k = -1; k <= SIDE / pitch + 1; k++)
    sum += Math.max(0, Math.min(x + 1, k * pitch + width) - Math.max(x, k * pitch));
  return Math.min(1, sum);
}

/** Glazed tiles whose joints cover parts of pixels, as a camera sees them; what share is glaze is known. */
function tiles(
  widthPx: number,
  times: readonly number[] = [1, 1, 1],
): { picture: ColourPicture; glaze: Plane } {
  const picture = makeColourPicture(SIDE, SIDE);
  const glaze = makePlane(SIDE, SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const i = y * SIDE + x;
      const joint = Math.max(covered(x + 0.4, 48, widthPx), covered(y + 0.7, 48, widthPx));
      const tone = 1 + 0.25 * fractalNoise(x / SIDE, y / SIDE, 12, 12, 3, 0.6, 5);
      const sand = 1 + 0.08 * fractalNoise(x / SIDE, y / SIDE, 40, 40, 2, 0.6, 9);
      glaze.data[i] = 1 - joint;
      (['r', 'g', 'b'] as const).forEach((c, k) => {
        picture[c][i] = (1 - joint) * GLAZE[k]! * tone * times[k]! + joint * JOINT[k]! * sand;
      });
    }
  return { picture, glaze };
}

/** The mask by which a part is found: each pixel is of one side or the other. */
const hard = ({ data, ...size }: Plane): Plane => ({ ...size, data: data.map((v) => (v >= 0.5 ? 1 : 0)) });

/** How far a recoloured picture is off the truth at the pixels that a joint's edge runs through. */
function fringe(recoloured: ColourPicture, widthPx: number): { worst: number; mean: number } {
  const { picture: truth, glaze } = tiles(widthPx, FACTORS);
  let [worst, sum, n] = [0, 0, 0];
  for (let i = 0; i < glaze.data.length; i++) {
    if (glaze.data[i]! < 0.02 || glaze.data[i]! > 0.98) continue;
    const off = Math.max(
      ...(['r', 'g', 'b'] as const).map((c) => Math.abs(recoloured[c][i]! - truth[c][i]!)),
    );
    worst = Math.max(worst, off);
    sum += off;
    n++;
  }
  return { worst, mean: sum / n };
}

test.each([4.3, 7.6, 2.2])('a colourway leaves no fringe at joints of %d px', (widthPx) => {
  const { picture, glaze } = tiles(widthPx);
  const plain = fringe(timesInPart(picture, FACTORS, hard(glaze)), widthPx);
  const split = fringe(timesInSplit(picture, FACTORS, splitPart(picture, hard(glaze), 1.5)), widthPx);
  // The joint is five times as light as the glaze: half a pixel of it multiplied by 4.5 is a white rim.
  expect(plain.worst).toBeGreaterThan(0.5);
  expect(split.worst).toBeLessThan(0.15 * plain.worst);
  expect(split.mean).toBeLessThan(0.12 * plain.mean);
});

test('the light of both sides together is the picture, to the last bit of what can be kept', () => {
  const { picture, glaze } = tiles(5.3);
  const { light, share } = splitPart(picture, hard(glaze), 1.5);
  const rest = splitPart(picture, { ...glaze, data: hard(glaze).data.map((v) => 1 - v) }, 1.5);
  let off = 0;
  for (let i = 0; i < share.data.length; i++) {
    for (const c of ['r', 'g', 'b'] as const)
      off = Math.max(off, Math.abs(light[c][i]! + rest.light[c][i]! - picture[c][i]!));
    off = Math.max(off, Math.abs(share.data[i]! + rest.share.data[i]! - 1));
  }
  expect(off).toBeLessThan(2e-6);
  // Nothing changes where the factors are one.
  const same = timesInSplit(picture, [1, 1, 1], { light, share });
  expect(same).toEqual(picture);
});

test('an edge softer than the band, of uneven sides, gives neither side less than nothing', () => {
  const { picture, glaze } = tiles(7.6, [0.5, 1, 0.15]);
  const soft = mapChannels(picture, (plane) => blurWrapped(plane, 2.5, 2.5));
  const { light, share } = splitPart(soft, hard(glaze), 1.5);
  for (const c of ['r', 'g', 'b'] as const) {
    expect(light[c].every((v, i) => v >= 0 && v <= soft[c][i]!)).toBe(true);
  }
  // Eight times the light of a side that has little of a channel: nowhere less of it than before.
  const bluer = timesInSplit(soft, [1, 1, 8], { light, share });
  expect(bluer.b.every((v, i) => v >= soft.b[i]! * (1 - 1e-6))).toBe(true);
});

test('the mean of a part is that of its own light, edges included', () => {
  const { picture, glaze } = tiles(6.4);
  const mean = meanOfSplit(splitPart(picture, hard(glaze), 1.5));
  mean.forEach((v, k) => expect(v / GLAZE[k]!).toBeCloseTo(1, 1));
  expect(() => meanOfSplit(splitPart(picture, makePlane(SIDE, SIDE), 1.5))).toThrow(/covers next to nothing/);
});

test('where both sides have one colour, the part is what it was found to be', () => {
  const even = makeColourPicture(32, 32);
  for (const c of ['r', 'g', 'b'] as const) even[c].fill(0.3);
  const half = makePlane(32, 32);
  half.data.fill(1, 0, 512);
  const { share } = splitPart(even, half, 1.5);
  expect(share.data).toEqual(half.data);
});
