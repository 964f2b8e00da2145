import { throughPanes } from '../../optics';
import type { PhysicalMaterial } from '../../response';
import { exposureOf, readCard } from '../meter';
import {
  aroundIlluminance,
  cardIlluminance,
  exposureForCard,
  FORM_TABLE,
  FORMS,
  LIGHT_TABLE,
  LIGHTS,
  rectangle,
  type Mesh,
  type TurnedLight,
} from '../scene';
import { buildTriangles } from './bvh';
import { Finder } from './finder';
import { tracedFinish, type FinishMaps } from './material';
import { smoothed } from './smooth';
import { PathTracer, type Shot } from './tracer';

const BARE: PhysicalMaterial = {
  index: 1.5,
  coat: null,
  sheen: null,
  brushed: null,
  haze: null,
  glass: null,
  cloth: null,
};
const even = (changes: Partial<FinishMaps> = {}): FinishMaps => ({
  widthPx: 1,
  heightPx: 1,
  repeatMm: { width: 100, height: 100 },
  colour: Uint8ClampedArray.from([188, 188, 188, 255]),
  normal: Uint8ClampedArray.from([128, 128, 255, 255]),
  roughness: 1,
  metalness: 0,
  opacity: 1,
  physical: BARE,
  ...changes,
});
const asSet = (name: (typeof LIGHTS)[number]): TurnedLight => ({
  name,
  azimuthDeg: LIGHT_TABLE[name].azimuthDeg,
  elevationDeg: LIGHT_TABLE[name].elevationDeg,
});

/** Mean shown light over a view of some meshes. */
function shown(
  meshes: Mesh[],
  light: TurnedLight,
  exposure: number,
  shot: Partial<Shot>,
  maps = even(),
  samples = 64,
) {
  const whole: Shot = { eye: [0, 0, 2], target: [0, 0, 0], fovDeg: 10, widthPx: 8, heightPx: 8, ...shot };
  const tracer = new PathTracer(
    { triangles: buildTriangles(meshes), finish: tracedFinish(maps), light, exposure, surround: 0 },
    whole,
  );
  for (let s = 0; s < samples; s++) tracer.addRows(0, whole.heightPx, s);
  const { light: sums } = tracer.gathered;
  return sums.reduce((a, b) => a + b, 0) / (sums.length * samples);
}

test.each(LIGHTS)(
  'a grey card alone under %s comes out at 18 percent, within one of a hundred of it',
  (name) => {
    const light = asSet(name);
    const card = [rectangle('card', [-1, -1, 0], [2, 0, 0], [0, 2, 0])];
    const got = shown(card, light, exposureForCard(light), {}, even(), 128);
    expect(Math.abs(got / 0.18 - 1)).toBeLessThan(0.01);
  },
);

test.each([
  ['panel', 'sun'],
  ['room-wall', 'window'],
  ['pane', 'overcast'],
] as const)(
  'in the scene of a %s under %s the card comes out at 18 percent where it stands',
  (form, name) => {
    const exposure = exposureOf(form, name);
    expect(Math.abs(readCard(FORM_TABLE[form].build(), asSet(name), exposure) / 0.18 - 1)).toBeLessThan(0.01);
  },
);

test('a white of LRV 90 beside the card is not clipped under any light', () => {
  for (const name of LIGHTS) {
    const light = asSet(name);
    const white = [rectangle('light', [-1, -1, 0], [2, 0, 0], [0, 2, 0])];
    expect(shown(white, light, exposureForCard(light), {}) * (0.9 / 0.85)).toBeLessThan(1);
  }
});

test('two lobes shine as the mean of each by its share', () => {
  const sheet = [rectangle('finish', [-1, -1, 0], [2, 0, 0], [0, 2, 0])];
  const light: TurnedLight = { name: 'downlight', azimuthDeg: 0, elevationDeg: 60 };
  const metal = (roughness: number, haze: PhysicalMaterial['haze'] = null) =>
    even({ metalness: 1, roughness, physical: { ...BARE, index: null, haze } });
  const at = (maps: FinishMaps) => shown(sheet, light, exposureForCard(light), {}, maps, 256);
  const haze = { wideShare: 0.4, wideRoughness: 0.7, narrowFactor: 0.5 };
  const mixed = 0.6 * at(metal(0.3)) + 0.4 * at(metal(0.7));
  expect(Math.abs(at(metal(0.6, haze)) / mixed - 1)).toBeLessThan(0.03);
});

test('the overcast sky gives an upright surface what its formula says', () => {
  // 10 000 lx on the ground: of a CIE overcast sky 0.396 of it on a wall, and half of what the ground of 20 % gives back.
  expect(aroundIlluminance(asSet('overcast'), [0, 1, 0])).toBeCloseTo(10000, -2);
  expect(Math.abs(aroundIlluminance(asSet('overcast'), [0, 0, 1]) / (3960 + 1000) - 1)).toBeLessThan(0.01);
  expect(cardIlluminance(asSet('sun'))).toBeGreaterThan(20000);
});

test('a clear pane before the lamp takes from its light what the sums for panes say', () => {
  const light: TurnedLight = { name: 'sun', azimuthDeg: 90, elevationDeg: 60 };
  const card = rectangle('card', [-0.2, 0, 0], [0.4, 0, 0], [0, 0, -0.4]);
  const pane = rectangle('finish', [-3, 1, 3], [6, 0, 0], [0, 0, -6]);
  const attenuation = [0.7, 0.7, 0.7] as const;
  const glass = even({
    physical: { ...BARE, index: 1.52, glass: { attenuation, thicknessMm: 6, roughness: 0 } },
  });
  const view = { eye: [0, 0.6, 0] as const, target: [0.001, 0, -0.2] as const };
  const bare = shown([card], light, 1e-6, view, glass);
  const under = shown([card, pane], light, 1e-6, view, glass);
  const sunAlone = 60000 * Math.sin(Math.PI / 3);
  const sky = aroundIlluminance(light, [0, 1, 0]);
  // The sky passes at all angles; of the sun exactly what a pane lets through at 30°.
  const passes = throughPanes([{ index: 1.52, thicknessMm: 6, absorptionPerMm: [-Math.log(0.7) / 6] }], 30)
    .transmitted[0]!;
  const share = under / bare;
  expect(share).toBeGreaterThan((sunAlone * passes + 0.4 * sky) / (sunAlone + sky));
  expect(share).toBeLessThan((sunAlone * passes + 0.7 * sky) / (sunAlone + sky));
});

test('openings of a cloth let their share of the light through', () => {
  const light = asSet('overcast');
  const ground = rectangle('card', [-0.2, 0, 0.2], [0.4, 0, 0], [0, 0, -0.4]);
  const cloth = rectangle('finish', [-30, 1, 30], [60, 0, 0], [0, 0, -60]);
  const open = even({
    opacity: Uint8ClampedArray.from([128, 0, 0, 255]),
    colour: Uint8ClampedArray.from([0, 0, 0, 255]),
  });
  const view = { eye: [0, 0.6, 0] as const, target: [0.001, 0, 0] as const };
  const share =
    shown([ground, cloth], light, 1e-4, view, open, 200) / shown([ground], light, 1e-4, view, open, 200);
  expect(Math.abs(share - 127 / 255)).toBeLessThan(0.04);
});

test('the tree finds what trying every triangle finds', () => {
  const triangles = buildTriangles(FORM_TABLE['room-floor'].build());
  const finder = new Finder(triangles);
  let seed = 5;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  for (let k = 0; k < 400; k++) {
    const o = [4 * random() - 2, 3 * random(), 4 * random()];
    const d = [random() - 0.5, random() - 0.5, random() - 0.5];
    const n = Math.hypot(...d);
    const [dx, dy, dz] = d.map((v) => v / n) as [number, number, number];
    finder.find(o[0]!, o[1]!, o[2]!, dx, dy, dz, 1e9, false);
    expect(finder.t).toBe(nearest(triangles, o, [dx, dy, dz]));
  }
});

/** The nearest triangle, each tried by itself through a tree of one box. */
function nearest(all: ReturnType<typeof buildTriangles>, o: number[], d: [number, number, number]): number {
  let t = 1e9;
  for (let k = 0; k < all.count; k++) {
    const alone = new Finder({
      ...all,
      boxes: Float32Array.from([-99, -99, -99, 99, 99, 99]),
      first: Int32Array.from([k]),
      size: Uint8Array.from([1]),
    });
    alone.find(o[0]!, o[1]!, o[2]!, ...d, t, false);
    t = Math.min(t, alone.t);
  }
  return t;
}

test('every form is built of the finish and neutral matter, at its size, with normals of length one', () => {
  for (const form of FORMS) {
    const meshes = FORM_TABLE[form].build();
    expect(meshes.filter(({ of }) => of === 'card')).toHaveLength(1);
    const finish = meshes.filter(({ of }) => of === 'finish');
    expect(finish.length).toBeGreaterThan(0);
    for (const { normals, positions, uvMm } of finish) {
      let off = 0;
      for (let k = 0; k < normals.length; k += 3)
        off = Math.max(off, Math.abs(Math.hypot(normals[k]!, normals[k + 1]!, normals[k + 2]!) - 1));
      expect(off).toBeLessThan(1e-4);
      // Neighbours are as far apart on the finish as they are in space: it is neither stretched nor squeezed.
      const apart = Math.hypot(...[0, 1, 2].map((a) => positions[3 + a]! - positions[a]!));
      const onFinish = Math.hypot(uvMm[2]! - uvMm[0]!, uvMm[3]! - uvMm[1]!) / 1000;
      if (form !== 'sphere') expect(Math.abs(apart / onFinish - 1)).toBeLessThan(0.03);
    }
  }
});

test('a finish that does not repeat upwards reaches as high as the wall it is for, and no higher', () => {
  for (const [form, high] of [
    ['panel', 2.4],
    ['room-wall', 2.7],
    ['wall', 6],
  ] as const)
    for (const wallM of [1.2, 2.6, 9]) {
      const meshes = FORM_TABLE[form].build(wallM);
      const topOf = (matter: string) =>
        Math.max(
          ...meshes
            .filter(({ of }) => of === matter)
            .flatMap(({ positions }) => [...positions].filter((_, k) => k % 3 === 1)),
        );
      expect(topOf('finish')).toBeCloseTo(Math.min(high, wallM), 5);
      // A room has a wall above it all the same.
      if (form === 'room-wall') expect(topOf('wall')).toBeCloseTo(high, 5);
    }
});

test('smoothing takes noise away and keeps edges and what is light on average', () => {
  const meshes = [
    rectangle('light', [-1, -1, 0], [1, 0, 0], [0, 2, 0]),
    rectangle('dark', [0, -1, 0], [1, 0, 0], [0, 2, 0]),
  ];
  const light = asSet('overcast');
  const shot: Shot = { eye: [0, 0, 2], target: [0, 0, 0], fovDeg: 20, widthPx: 32, heightPx: 32 };
  const tracer = new PathTracer(
    {
      triangles: buildTriangles(meshes),
      finish: tracedFinish(even()),
      light,
      exposure: exposureForCard(light),
      surround: 0,
    },
    shot,
  );
  for (let s = 0; s < 4; s++) tracer.addRows(0, 32, s);
  tracer.gathered.samples = 4;
  const clean = smoothed(tracer.gathered, 32, 32);
  const side = (x0: number, x1: number) => {
    const values: number[] = [];
    for (let y = 4; y < 28; y++) for (let x = x0; x < x1; x++) values.push(clean[3 * (32 * y + x)]!);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    return {
      mean,
      spread: Math.sqrt(values.reduce((a, v) => a + (v - mean) * (v - mean), 0) / values.length),
    };
  };
  const [left, right] = [side(4, 14), side(18, 28)];
  expect(Math.abs(left.mean / 0.85 - 1)).toBeLessThan(0.03);
  expect(Math.abs(right.mean / 0.04 - 1)).toBeLessThan(0.05);
  expect(left.spread / left.mean).toBeLessThan(0.03);
});
