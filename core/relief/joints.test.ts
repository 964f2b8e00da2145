import fc from 'fast-check';
import { makeColourPicture, seededRandom, type ColourPicture, type Plane } from '../raster';
import { withoutAlbedoSteps } from './albedo';
import { piecesOfRepeatSteps, reliefOfJointsSteps } from './joints';
import { atOnce } from '../steps';
import { boundedSlopesSteps } from './octaves';

const MM = { x: 1, y: 1 };
const [BRICK, COURSE] = [40, 20];

/** Half bond of bricks of many tones over a repeat that closes, joints 4 px wide. */
function wall(joint: readonly [number, number, number]): ColourPicture {
  const p = makeColourPicture(4 * BRICK, 6 * COURSE);
  const random = seededRandom(3);
  const tones = Array.from({ length: 64 }, () => random.between(0.08, 0.3));
  for (let y = 0, i = 0; y < p.heightPx; y++)
    for (let x = 0; x < p.widthPx; x++, i++) {
      const course = Math.floor(y / COURSE);
      const along = (x + (course % 2) * (BRICK / 2)) % p.widthPx;
      const inJoint = y % COURSE < 4 || along % BRICK < 4;
      const tone = tones[course * 8 + Math.floor(along / BRICK)]!;
      [p.r[i], p.g[i], p.b[i]] = inJoint ? joint : [tone, 0.5 * tone, 0.35 * tone];
    }
  return p;
}
const heightAt = ({ data, widthPx }: Plane, x: number, y: number) => data[y * widthPx + x]!;

test.each([
  ['lighter', [0.6, 0.58, 0.55]],
  ['darker', [0.02, 0.02, 0.02]],
] as const)(
  'joints that are %s lie the asked depth below all faces, whatever tone a brick has',
  (look, joint) => {
    const pieces = atOnce(piecesOfRepeatSteps(wall(joint), MM, { look, widestMm: 6 }));
    expect(pieces.pieces.pieces).toHaveLength(24);
    const relief = atOnce(
      reliefOfJointsSteps(pieces, { widthPx: 4 * BRICK, heightPx: 6 * COURSE }, { edgeMm: 1.2, depthMm: 3 }),
    );
    const faces = [0, 1, 2, 3, 4, 5].flatMap((course) =>
      [0, 1, 2, 3].map((k) =>
        heightAt(relief, (k * BRICK + 22 + (course % 2) * 20) % (4 * BRICK), course * COURSE + 12),
      ),
    );
    for (const face of faces) expect(face).toBeCloseTo(1.5, 3);
    for (let x = 0; x < 4 * BRICK; x += 7) {
      const depth = faces[0]! - Math.min(heightAt(relief, x, 1), heightAt(relief, x, 2));
      expect(Math.abs(depth / 3 - 1)).toBeLessThan(0.05);
    }
  },
);

test.each([[0], [0.03]])('a picture without joints (noise %s) is one level face, not a fault', (noise) => {
  const plain = makeColourPicture(90, 60);
  const random = seededRandom(5);
  for (const c of ['r', 'g', 'b'] as const)
    plain[c].forEach((_, i) => (plain[c][i] = 0.3 + noise * random.between(0, 1)));
  const pieces = atOnce(piecesOfRepeatSteps(plain, MM, { look: 'lighter', widestMm: 6 }));
  const { data } = atOnce(reliefOfJointsSteps(pieces, plain, { edgeMm: 1, depthMm: 3 }));
  expect(data.every(Number.isFinite)).toBe(true);
  if (noise === 0) {
    expect(pieces.pieces.pieces).toHaveLength(1);
    expect(new Set(data)).toEqual(new Set([1.5]));
  }
});

test('outlines of pieces go over the edges of the repeat', () => {
  const moved = wall([0.6, 0.58, 0.55]);
  const { widthPx: w, heightPx: h } = moved;
  const whole = atOnce(piecesOfRepeatSteps(moved, MM, { look: 'lighter', widestMm: 6 }));
  const [dx, dy] = [13, 9];
  const rolled = makeColourPicture(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (const c of ['r', 'g', 'b'] as const)
        rolled[c][y * w + x] = moved[c][((y + dy) % h) * w + ((x + dx) % w)]!;
  const there = atOnce(piecesOfRepeatSteps(rolled, MM, { look: 'lighter', widestMm: 6 }));
  for (let y = 0; y < h; y += 5)
    for (let x = 0; x < w; x += 3)
      expect(heightAt(there.within, x, y)).toBeCloseTo(heightAt(whole.within, (x + dx) % w, (y + dy) % h), 3);
});

describe('lightness without colour', () => {
  const SIDE = 64;
  /** A surface of two colours in stripes, shaded by waves of relief along y. */
  function shaded(shading: number): ColourPicture {
    const p = makeColourPicture(SIDE, SIDE);
    for (let y = 0, i = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++, i++) {
        const light = 1 + shading * Math.sin((2 * Math.PI * 4 * y) / SIDE);
        const [r, g, b] = x % 16 < 8 ? [0.5, 0.15, 0.1] : [0.1, 0.12, 0.3];
        [p.r[i], p.g[i], p.b[i]] = [r! * light, g! * light, b! * light];
      }
    return p;
  }
  const spreadAlong = ({ data }: Plane, step: number) => {
    const line = Array.from({ length: SIDE }, (_, k) => data[k * step]!);
    return Math.max(...line) - Math.min(...line);
  };

  test('of a print hardly anything is left', () => {
    expect(atOnce(withoutAlbedoSteps(shaded(0), null)).leftWithin).toBeLessThan(0.05);
  });

  test('shading over a print is left, the print is not', () => {
    const { lightness } = atOnce(withoutAlbedoSteps(shaded(0.3), null));
    expect(spreadAlong(lightness, SIDE)).toBeGreaterThan(8 * spreadAlong(lightness, 1));
  });

  test('bricks of many tones come out level', () => {
    const picture = wall([0.6, 0.58, 0.55]);
    const pieces = atOnce(piecesOfRepeatSteps(picture, MM, { look: 'lighter', widestMm: 6 }));
    const { lightness } = atOnce(withoutAlbedoSteps(picture, pieces));
    const middles = [0, 1, 2, 3].map((k) => heightAt(lightness, k * BRICK + 22, 12));
    expect(Math.max(...middles) - Math.min(...middles)).toBeLessThan(0.01);
  });
});

describe('slope of every octave', () => {
  const SIDE = 128;
  const waves = (lengthPx: number, depthMm: number): Plane => ({
    widthPx: SIDE,
    heightPx: SIDE,
    data: Float32Array.from(
      { length: SIDE * SIDE },
      (_, i) => (depthMm / 2) * Math.sin((2 * Math.PI * (i % SIDE)) / lengthPx),
    ),
  });
  const rangeOf = ({ data }: Plane) => Math.max(...data) - Math.min(...data);

  test('what is gentle stays as it is', () => {
    const gentle = waves(32, 1);
    const bounded = atOnce(boundedSlopesSteps(gentle, MM, 20));
    for (let i = 0; i < gentle.data.length; i += 17) expect(bounded.data[i]).toBeCloseTo(gentle.data[i]!, 4);
  });

  test('what is steep is held below the bound, at any wavelength', () => {
    fc.assert(
      fc.property(fc.constantFrom(4, 8, 16), fc.integer({ min: 3, max: 30 }), (lengthPx, steepestDeg) => {
        const bounded = atOnce(boundedSlopesSteps(waves(lengthPx, 2 * lengthPx), MM, steepestDeg)).data;
        const steps = bounded.map((v, i) => bounded[i % SIDE === SIDE - 1 ? i - SIDE + 1 : i + 1]! - v);
        const slope = Math.sqrt(steps.reduce((sum, v) => sum + v * v, 0) / steps.length);
        // Filters share a wave out over four octaves, whose slopes add up.
        const most = Math.tan((steepestDeg * Math.PI) / 180);
        expect(slope).toBeLessThan(4 * most);
        expect(slope).toBeGreaterThan(0.9 * most);
      }),
      { numRuns: 20 },
    );
  });

  test('fine noise on broad waves is taken down, the waves are not', () => {
    const random = seededRandom(7);
    const broad = waves(64, 2);
    const noisy = { ...broad, data: broad.data.map((v) => v + random.between(-1, 1)) };
    const bounded = atOnce(boundedSlopesSteps(noisy, MM, 5));
    const off = bounded.data.map((v, i) => v - broad.data[i]!);
    const deviation = (d: Float32Array) => Math.sqrt(d.reduce((sum, v) => sum + v * v, 0) / d.length);
    expect(deviation(off)).toBeLessThan(0.25 * 0.577);
    expect(rangeOf(bounded)).toBeGreaterThan(1.8);
  });
});
