import fc from 'fast-check';
import { makePlane, mean, type Plane } from '../raster';
import {
  bandsOfPictureSteps,
  normalsOfHeight,
  occlusionOfHeight,
  heightOfBandsSteps,
  summedBandsSteps,
  slopesSteps,
  withZeroSteps,
  type ReliefFromPicture,
  type ZeroLevel,
} from './index';
import { occlusionOfVersion1 } from './occlusion-of-version-1';
import { atOnce } from '../steps';

const fill = (w: number, h: number, f: (x: number, y: number) => number): Plane => {
  const p = makePlane(w, h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) p.data[y * w + x] = f(x + 0.5, y + 0.5);
  return p;
};
/** Relief of a grey picture of 1 mm pixels. */
const relief = (p: Plane, { zero, ...settings }: ReliefFromPicture & { zero: ZeroLevel }) => {
  const px = { x: 1, y: 1 };
  const bands = atOnce(
    bandsOfPictureSteps(
      { widthPx: p.widthPx, heightPx: p.heightPx, r: p.data, g: p.data, b: p.data },
      px,
      settings,
    ),
  );
  return atOnce(
    withZeroSteps(atOnce(heightOfBandsSteps(atOnce(summedBandsSteps(bands, px, settings)), settings)), zero),
  );
};
const degrees = (c: number) => (Math.acos(Math.min(1, Math.max(-1, c))) * 180) / Math.PI;

describe('normals against shapes that are known', () => {
  const px = { x: 0.5, y: 0.25 };
  test.each([
    // height at (x, y up) in mm, gradient there
    [
      'sine',
      (x: number, y: number) => 2 * Math.sin((2 * Math.PI * x) / 32) + Math.cos((2 * Math.PI * y) / 16),
      (x: number, y: number) => [
        ((2 * 2 * Math.PI) / 32) * Math.cos((2 * Math.PI * x) / 32),
        -((2 * Math.PI) / 16) * Math.sin((2 * Math.PI * y) / 16),
      ],
    ],
    [
      'ramp up and down',
      (x: number) => 0.6 * Math.abs((x % 64) - 32),
      (x: number) => [x % 64 < 32 ? -0.6 : 0.6, 0],
    ],
    [
      'sphere cap',
      (x: number, y: number) => {
        const d2 = (x - 32) ** 2 + (y - 16) ** 2;
        return d2 < 144 ? Math.sqrt(900 - d2) - Math.sqrt(756) : 0;
      },
      (x: number, y: number) => {
        const [u, v] = [x - 32, y - 16];
        const d2 = u * u + v * v;
        const z = Math.sqrt(900 - d2);
        return d2 < 144 ? [-u / z, -v / z] : [0, 0];
      },
    ],
  ] as [string, (x: number, y: number) => number, (x: number, y: number) => number[]][])(
    '%s comes back within 0.5° on average',
    (_, f, gradient) => {
      const [w, h] = [128, 128];
      const hMm = h * px.y;
      const n = normalsOfHeight(
        fill(w, h, (x, y) => f(x * px.x, hMm - y * px.y)),
        px,
      );
      let error = 0;
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const [gx, gy] = gradient((x + 0.5) * px.x, hMm - (y + 0.5) * px.y) as [number, number];
          const l = Math.hypot(gx, gy, 1);
          const i = y * w + x;
          error += degrees((-gx * n.x[i]! - gy * n.y[i]! + n.z[i]!) / l);
        }
      expect(error / (w * h)).toBeLessThan(0.5);
    },
  );
});

describe('occlusion against grooves that are known', () => {
  const px = { x: 0.1, y: 0.1 };
  const occlusion = (p: Plane) => occlusionOfHeight(p, normalsOfHeight(p, px), px, 200);

  test('a flat surface sees the whole sky', () => {
    expect(mean(occlusion(makePlane(32, 48, 3)).data)).toBeCloseTo(1, 3);
  });

  test('a tilted plane sees its whole sky, whichever way it tilts and whatever the width of the picture', () => {
    for (const [gx, gy] of [
      [0.9, 0],
      [-0.3, 0.7],
      [0.5, 0.5],
    ] as const)
      for (const w of [5, 40, 61]) {
        // Roofs so large that neither ridge nor foot lies within the radius of what is looked at.
        const across = fill(w, 90, (_, y) => (y < 45 ? y : 90 - y) * px.y * gy);
        const along = fill(90, w, (x) => (x < 45 ? x : 90 - x) * px.x * gx);
        const [n, m] = [normalsOfHeight(across, px), normalsOfHeight(along, px)];
        expect(occlusionOfHeight(across, n, px, 1).data[22 * w + 2]).toBeCloseTo(1, 3);
        expect(occlusionOfHeight(along, m, px, 1).data[2 * 90 + 22]).toBeCloseTo(1, 3);
      }
  });

  test('a radius reaches no further than it says', () => {
    const wall = fill(120, 20, (x) => (x > 60 ? 0 : -1));
    const normals = normalsOfHeight(wall, px);
    const { data } = occlusionOfHeight(wall, normals, px, 1);
    expect(data[10 * 120 + 55]).toBeLessThan(0.8);
    expect(data[10 * 120 + 48]).toBeGreaterThan(0.99);
  });

  test('what was issued with version 1 of the stage was made by a sweep, which the newer one agrees with', () => {
    const bumps = fill(
      96,
      64,
      (x, y) => 0.2 * Math.max(0, Math.sin((2 * Math.PI * x) / 12) * Math.cos((2 * Math.PI * y) / 8)),
    );
    const normals = normalsOfHeight(bumps, px);
    for (const radiusMm of [1.6, 40]) {
      const now = occlusionOfHeight(bumps, normals, px, radiusMm);
      const before = occlusionOfVersion1(bumps, normals, px, radiusMm);
      const apart = now.data.map((v, i) => Math.abs(v - before.data[i]!));
      expect(mean(apart)).toBeLessThan(0.015);
      expect(Math.max(...apart)).toBeLessThan(0.05);
    }
  });

  test.each([30, 45, 60])('V-groove whose sides stand at %d°', (angleDeg) => {
    // Both sides meet at the foot and the next crest follows at once: from depth share t below the crests, a wall point
    // sees the slice from its own plane to the opposite crest. View factor of an infinite strip: (sin φ2 − sin φ1)/2.
    const slope = Math.tan((angleDeg * Math.PI) / 180);
    const w = 200;
    const half = (w * px.x) / 2;
    const ao = occlusion(fill(w, 24, (x) => Math.abs(x * px.x - half) * slope));
    for (const t of [0.2, 0.5, 0.8]) {
      const column = Math.round(w / 2 + (t * w) / 2);
      const x = (column + 0.5) * px.x - half; // on the right wall
      // Direction to the opposite crest, from the zenith, leaning left.
      const toCrest = Math.atan2(half + x, (half - x) * slope);
      const normal = (angleDeg * Math.PI) / 180; // the wall's normal leans left by the wall's angle
      const expected = (Math.sin(Math.PI / 2) + Math.sin(toCrest - normal)) / 2;
      expect(Math.abs(ao.data[12 * w + column]! - expected)).toBeLessThan(0.03);
    }
  });

  test.each([0.5, 1, 2])('floor of a square groove %f times as deep as wide', (ratio) => {
    const [w, from, to] = [400, 100, 220];
    const width = (to - from) * px.x;
    const depth = ratio * width;
    const ao = occlusion(fill(w, 12, (x) => (x > from && x < to ? -depth : 0)));
    for (const column of [110, 130, 145, 159, 175, 190]) {
      const left = (column + 0.5 - from) * px.x;
      const right = width - left;
      const expected = (left / Math.hypot(left, depth) + right / Math.hypot(right, depth)) / 2;
      // At the foot of a wall the few directions along it count most.
      expect(Math.abs(ao.data[6 * w + column]! - expected)).toBeLessThan(column < 120 ? 0.045 : 0.03);
    }
  });
});

test('the relief has the asked depth whatever the picture, and its zero where it was asked', () => {
  const settings = {
    broad: 1,
    middle: 1,
    fine: 1,
    broadFromMm: 20,
    fineBelowMm: 3,
    smoothMm: 0,
    invert: false,
    depthMm: 0.8,
    zero: 'top' as const,
  };
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 9 }),
      fc.constantFrom('mean' as const, 'top' as const, 'bottom' as const),
      (waves, zero) => {
        const p = fill(
          64,
          64,
          (x, y) => 0.3 + 0.2 * Math.sin((2 * Math.PI * waves * x) / 64) * Math.cos((2 * Math.PI * y) / 64),
        );
        const field = relief(p, { ...settings, zero });
        expect(field.maxMm - field.minMm).toBeCloseTo(0.8, 5);
        expect(zero === 'top' ? field.maxMm : zero === 'bottom' ? field.minMm : mean(field.data)).toBeCloseTo(
          0,
          5,
        );
      },
    ),
    { numRuns: 20 },
  );
});

test('dark is deep, and inverted it stands out', () => {
  const p = fill(64, 64, (x) => (x < 32 ? 0.1 : 0.6));
  const make = (invert: boolean) =>
    relief(p, {
      broad: 1,
      middle: 1,
      fine: 1,
      broadFromMm: 20,
      fineBelowMm: 3,
      smoothMm: 0,
      invert,
      depthMm: 2,
      zero: 'mean',
    });
  expect(make(false).data[16]).toBeLessThan(make(false).data[48]!);
  expect(make(true).data[16]).toBeGreaterThan(make(true).data[48]!);
});

test.each([5, 30, 44, 46, 75])('the slopes of a roof at %d° are found', (angleDeg) => {
  const roof = fill(64, 8, (x) => Math.abs(x - 32) * Math.tan((angleDeg * Math.PI) / 180));
  const { meanDeg, p99Deg } = atOnce(slopesSteps(normalsOfHeight(roof, { x: 1, y: 1 })));
  expect(Math.abs(meanDeg - angleDeg)).toBeLessThan(0.05 * angleDeg + 0.2); // ridge and foot are flat
  expect(Math.abs(p99Deg - angleDeg)).toBeLessThan(0.3);
});

test('zero at the top leaves nothing above it', () => {
  expect(
    atOnce(
      withZeroSteps(
        fill(4, 4, (x) => x),
        'top',
      ),
    ).maxMm,
  ).toBeCloseTo(0, 9);
});
