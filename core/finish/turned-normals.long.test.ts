import {
  halve,
  makeColourPicture,
  makePlane,
  mapChannels,
  seededRandom,
  blurWrapped,
  type Plane,
} from '../raster';
import { normalsOfHeight } from '../relief';
import { sizeKnownBy } from '../size';
import type { Pictures } from '../surface';
import { figure } from '../units';
import { defaultRecipe, lead, reliefFrom, renderFinish, type Recipe } from './index';

type Frame = NonNullable<Recipe['sources'][number]['preparation']['frame']>;
const [W, H] = [300, 200];

/** Heights of a wall without any symmetry: hills of many widths, mm at 2 mm a pixel. */
const HILLS: Plane = (() => {
  const random = seededRandom(8);
  const noise = makePlane(W, H);
  for (let i = 0; i < W * H; i++) noise.data[i] = random.normal();
  const [broad, fine] = [blurWrapped(noise, 12, 9), blurWrapped(noise, 3, 3)];
  for (let i = 0; i < W * H; i++) noise.data[i] = 60 * broad.data[i]! + 8 * fine.data[i]!;
  return noise;
})();

function pictureOf(value: (i: number) => readonly [number, number, number]) {
  const p = makeColourPicture(W, H);
  for (let i = 0; i < W * H; i++) [p.r[i], p.g[i], p.b[i]] = value(i) as [number, number, number];
  return p;
}
const low = HILLS.data.reduce((a, b) => Math.min(a, b));
const high = HILLS.data.reduce((a, b) => Math.max(a, b));
const shade = (i: number) => (HILLS.data[i]! - low) / (high - low);
const NORMALS = normalsOfHeight(HILLS, { x: 2, y: 2 });
const stored = (green: 1 | -1) =>
  pictureOf((i) => [(NORMALS.x[i]! + 1) / 2, (green * NORMALS.y[i]! + 1) / 2, (NORMALS.z[i]! + 1) / 2]);
const ALL = {
  wall: pictureOf((i) => [0.2 + 0.4 * shade(i), 0.2 + 0.4 * shade(i), 0.2 + 0.4 * shade(i)]),
  height: pictureOf((i) => [shade(i), shade(i), shade(i)]),
  'normal up': stored(1),
  'normal down': stored(-1),
};
const levelOf = async (id: string, level: number) => {
  let p = ALL[id as keyof typeof ALL];
  for (let i = 0; i < level; i++) p = mapChannels(p, halve);
  return p;
};
const PICTURES: Pictures = {
  info: async (id) => ({ widthPx: W, heightPx: H, sha256: id }),
  level: levelOf,
  data: levelOf,
};

/** Height of the finish, made from one map of the set. */
async function heightFrom(
  role: 'height' | 'normal',
  greenRuns: 'up' | 'down',
  change: (r: Recipe) => void,
): Promise<Float32Array> {
  const r = structuredClone(defaultRecipe(['wall'], 'plaster', { widthPx: W, heightPx: H }));
  lead(r).size = sizeKnownBy({ overall: figure(600, 'mm', 'measured', 1) }, 'follows');
  lead(r).maps = [{ sampleId: role === 'height' ? 'height' : `normal ${greenRuns}`, role, greenRuns }];
  r.relief = reliefFrom(r.relief, 'map');
  change(r);
  const { maps } = await renderFinish(r, PICTURES, { widthPx: 240, maps: ['height'] });
  return maps.height!.data as Float32Array;
}

function correlation(a: Float32Array, b: Float32Array): number {
  const mean = (v: Float32Array) => v.reduce((s, x) => s + x, 0) / v.length;
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    ab += (a[i]! - ma) * (b[i]! - mb);
    aa += (a[i]! - ma) * (a[i]! - ma);
    bb += (b[i]! - mb) * (b[i]! - mb);
  }
  return ab / Math.sqrt(aa * bb);
}

const framed =
  (frame: [number, number][]) =>
  (r: Recipe): void => {
    lead(r).preparation.frame = frame as Frame;
    lead(r).size = sizeKnownBy({ overall: figure(300, 'mm', 'measured', 1) }, 'follows');
  };
const composed = (r: Recipe) => {
  r.repeat.method = 'composed';
  r.repeat.composed = {
    ...r.repeat.composed,
    ...{ widthMm: 320, heightMm: 260, turning: 'quarter' as const, mirrored: true },
  };
};
// A square of 120 px, turned by 60° about the middle of the picture.
const corner = (a: number): [number, number] => [0.5 + (85 / W) * Math.cos(a), 0.5 + (85 / H) * Math.sin(a)];
const [step, turned] = [Math.PI / 2, (-75 * Math.PI) / 180];

test.each<[string, (r: Recipe) => void]>([
  ['laid as it is', () => undefined],
  ['mirrored at its edges', (r) => (r.repeat = { ...r.repeat, method: 'edges', across: { closing: 'mirror', overlapMm: 60 }, up: { closing: 'mirror', overlapMm: 60 } })], // prettier-ignore
  ['composed of turned and mirrored copies', composed],
  ['in a frame that is turned by a quarter', framed([[0.75, 0.2], [0.75, 0.8], [0.25, 0.8], [0.25, 0.2]])], // prettier-ignore
  ['in a frame that is turned by 60°', framed([0, 1, 2, 3].map((k) => corner(turned + k * step)))],
])('a normal map gives the relief that its height map gives, %s', async (_, change) => {
  const expected = await heightFrom('height', 'up', change);
  for (const greenRuns of ['up', 'down'] as const)
    expect(correlation(await heightFrom('normal', greenRuns, change), expected)).toBeGreaterThan(0.93);
});
