import {
  buildTriangles,
  exposureOf,
  FORM_TABLE,
  LIGHT_TABLE,
  PathTracer,
  smoothed,
  tracedFinish,
  type FormName,
  type LightName,
  type Shot,
} from '@jossel/core/proof';
import { linearToSrgbBytes } from '@jossel/core/colour';
import { normalsOfHeight } from '@jossel/core/relief';
import { DEMO_SAMPLES } from '../demo/samples';

const WIDE = 800;
const HIGH = 600;
const RAD = Math.PI / 180;
const REFERENCE_SAMPLES = 96;

/** The refined picture of the proof: how long it takes, and how far it still is from one of many samples. */
export async function benchProof(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  const finish = await tiles();
  for (const [form, light] of [
    ['panel', 'sun'],
    ['room-wall', 'window'],
  ] as const) {
    const name = `${FORM_TABLE[form].name}, ${LIGHT_TABLE[light].name}, 800 × 600, one thread`;
    const started = performance.now();
    const triangles = buildTriangles(FORM_TABLE[form].build());
    const builtMs = performance.now() - started;
    const lamp = asSet(light);
    const exposure = exposureOf(form, light);
    const scene = { triangles, finish, light: lamp, exposure, surround: 0.28 };
    const rough = traced(scene, shotOf(form, WIDE / 2, HIGH / 2), 2);
    const fine = traced(scene, shotOf(form, WIDE, HIGH), 8);
    print(
      `${name}: tree / first picture (half the size, 2 samples) / 8 samples at full size, smoothed`,
      `${(builtMs / 1000).toFixed(1)} / ${rough.seconds.toFixed(1)} / ${fine.seconds.toFixed(1)} s`,
      'usable ≤ 2 s, clean ≤ 20 s',
    );
    const many = traced(scene, shotOf(form, WIDE, HIGH), REFERENCE_SAMPLES, false);
    print(
      `${name}: mean difference of 8 samples, smoothed, to ${REFERENCE_SAMPLES} that are not`,
      `${(100 * meanDifference(fine.picture, many.picture)).toFixed(2)} % of white`,
    );
  }
}

const asSet = (name: LightName) => ({
  name,
  azimuthDeg: LIGHT_TABLE[name].azimuthDeg,
  elevationDeg: LIGHT_TABLE[name].elevationDeg,
});

function shotOf(form: FormName, widthPx: number, heightPx: number): Shot {
  const { target, distance, fromRightDeg, fromAboveDeg } = FORM_TABLE[form].camera;
  const flat = distance * Math.cos(fromAboveDeg * RAD);
  return {
    eye: [
      target[0] + flat * Math.sin(fromRightDeg * RAD),
      target[1] + distance * Math.sin(fromAboveDeg * RAD),
      target[2] + flat * Math.cos(fromRightDeg * RAD),
    ],
    target,
    fovDeg: 32,
    widthPx,
    heightPx,
  };
}

function traced(
  scene: ConstructorParameters<typeof PathTracer>[0],
  shot: Shot,
  samples: number,
  smooth = true,
): { seconds: number; picture: Float32Array } {
  const started = performance.now();
  const tracer = new PathTracer(scene, shot);
  for (let s = 0; s < samples; s++) tracer.addRows(0, shot.heightPx, s);
  tracer.gathered.samples = samples;
  const picture = smooth
    ? smoothed(tracer.gathered, shot.widthPx, shot.heightPx)
    : tracer.gathered.light.map((v) => v / samples);
  return { seconds: (performance.now() - started) / 1000, picture };
}

const meanDifference = (a: Float32Array, b: Float32Array): number =>
  a.reduce((sum, v, i) => sum + Math.abs(Math.min(1, v) - Math.min(1, b[i]!)), 0) / a.length;

async function tiles() {
  const pxPerMm = 1.6;
  const surface = await DEMO_SAMPLES.find(({ file }) => file.startsWith('glazed-tile'))!.sample.make(pxPerMm);
  const { widthPx, heightPx } = surface.colour;
  const { x, y, z } = normalsOfHeight(surface.heightMmPlane, { x: 1 / pxPerMm, y: 1 / pxPerMm });
  const normal = new Uint8ClampedArray(4 * widthPx * heightPx);
  const roughness = new Uint8ClampedArray(normal.length);
  for (let i = 0; i < x.length; i++) {
    for (const [c, plane] of [x, y, z].entries()) normal[4 * i + c] = 127.5 + 127.5 * plane[i]!;
    roughness[4 * i] = surface.glossGu.data[i]! > 40 ? 40 : 180;
  }
  return tracedFinish({
    widthPx,
    heightPx,
    repeatMm: { width: 624, height: 416 },
    colour: linearToSrgbBytes(surface.colour, 4),
    normal,
    roughness,
    metalness: 0,
    opacity: 1,
    physical: { index: 1.5, coat: null, sheen: null, brushed: null, haze: null, glass: null, cloth: null },
  });
}
