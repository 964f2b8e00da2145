import { makeColourPicture, makePlane } from '../raster';
import { normalsOfHeight } from '../relief';
import { atOnce } from '../steps';
import type { Vector } from './lights';
import { shadowSteps } from './shadow-steps';

const [W, H] = [120, 24];
const MM = { x: 0.5, y: 0.5 };
/** First column of the lower floor: a wall stands at its left border. */
const FIRST = 40;

/** Pictures of a step that falls to the right, under a light from the left: its shadow ends within a pixel. */
function shadowOfStep(wallMm: number, elevationDeg: number) {
  const elevation = (elevationDeg * Math.PI) / 180;
  const directionTo: Vector = [-Math.cos(elevation), 0, Math.sin(elevation)];
  const lengthPx = wallMm / Math.tan(elevation) / MM.x;
  const picture = makeColourPicture(W, H);
  const height = makePlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const beyond = (i % W) - FIRST;
    height.data[i] = beyond < 0 ? wallMm : 0;
    const litShare = beyond < 0 ? 1 : Math.min(1, Math.max(0, beyond + 1 - lengthPx));
    picture.r[i] = picture.g[i] = picture.b[i] = 0.5 * Math.sin(elevation) * litShare;
  }
  const white = makeColourPicture(W, H);
  for (const c of ['r', 'g', 'b'] as const) white[c].fill(0.5);
  return {
    set: [{ picture, light: { directionTo } }],
    brightness: { gains: [1], lobes: [], cameraMm: 1000 },
    // Normals of the level floors: the wall itself is not seen.
    known: {
      ...{ height, normal: normalsOfHeight(makePlane(W, H), MM), reflectance: white },
      ...{ shadow: [], reflected: { light: new Float32Array(0), enclosed: makePlane(W, H) } },
    },
  };
}

test.each([
  [2, 25],
  [3, 32],
  [3.3, 41],
  [5, 32],
  [5, 54],
])(
  'a wall of %p mm under a light at %p° is as high as its shadow is long, to a share of a pixel',
  (wallMm, deg) => {
    const { set, brightness, known } = shadowOfStep(wallMm, deg);
    const { edge, behind, end, mm } = atOnce(shadowSteps(set, brightness, MM, known));
    expect(mm.length).toBe(H);
    const risePerPx = MM.x * Math.tan((deg * Math.PI) / 180);
    mm.forEach((step, k) => {
      expect(Math.abs(step - wallMm)).toBeLessThan(0.55 * risePerPx);
      expect(edge[k]! % W).toBe(FIRST - 1);
      expect(behind[k]! % W).toBe(FIRST);
      // The end lies where the light comes in again.
      const length = wallMm / risePerPx;
      expect(Math.abs((end[k]! % W) - FIRST - length)).toBeLessThanOrEqual(1);
    });
  },
);

test('a dark stripe of the sample is no shadow, nor is a place that stays half lit', () => {
  const { set, brightness, known } = shadowOfStep(3, 32);
  // The reflectance explains all of it.
  const dark = { ...known.reflectance, r: set[0]!.picture.r, g: set[0]!.picture.g, b: set[0]!.picture.b };
  expect(atOnce(shadowSteps(set, brightness, MM, { ...known, reflectance: dark })).mm).toHaveLength(0);
  const half = makeColourPicture(W, H);
  for (const c of ['r', 'g', 'b'] as const)
    half[c].set(set[0]!.picture[c].map((v) => Math.max(v, 0.25 * Math.sin((32 * Math.PI) / 180))));
  expect(atOnce(shadowSteps([{ ...set[0]!, picture: half }], brightness, MM, known)).mm).toHaveLength(0);
});
