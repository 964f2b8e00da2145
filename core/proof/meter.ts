import {
  FORM_TABLE,
  LIGHT_TABLE,
  NEUTRALS,
  type FormName,
  type LightName,
  type Mesh,
  type TurnedLight,
} from './scene';
import { buildTriangles } from './tracer/bvh';
import { tracedFinish } from './tracer/material';
import { PathTracer } from './tracer/tracer';

const SIDE_PX = 12;
const SAMPLES = 24;
/** How far before the card the meter stands, against its side. */
const BEFORE = 0.6;

/** A scene whose finish is a neutral grey: what is metered does not depend on what is looked at. */
const plainFinish = () =>
  tracedFinish({
    widthPx: 1,
    heightPx: 1,
    repeatMm: { width: 1000, height: 1000 },
    colour: Uint8ClampedArray.from([148, 148, 148, 255]),
    normal: Uint8ClampedArray.from([128, 128, 255, 255]),
    roughness: 1,
    metalness: 0,
    opacity: 1,
    physical: { index: 1.5, coat: null, sheen: null, brushed: null, haze: null, glass: null, cloth: null },
  });

/**
 * What the grey card of a scene is shown as, in linear light, by an exposure.
 * @param meshes with one card, upright and facing the viewer
 * @param exposure what 1 cd/m² is shown as
 */
export function readCard(meshes: readonly Mesh[], light: TurnedLight, exposure: number): number {
  const card = meshes.find(({ of }) => of === 'card')!;
  const [low, high] = [
    [0, 1, 2].map((a) => bound(card, a, Math.min)),
    [0, 1, 2].map((a) => bound(card, a, Math.max)),
  ];
  const side = high[0]! - low[0]!;
  const middle = low.map((v, a) => (v + high[a]!) / 2) as [number, number, number];
  const tracer = new PathTracer(
    { triangles: buildTriangles(meshes), finish: plainFinish(), light, exposure, surround: 0 },
    {
      eye: [middle[0], middle[1], middle[2] + BEFORE * side],
      target: middle,
      fovDeg: 60,
      widthPx: SIDE_PX,
      heightPx: SIDE_PX,
    },
  );
  for (let s = 0; s < SAMPLES; s++) tracer.addRows(0, SIDE_PX, s);
  const { light: sums } = tracer.gathered;
  return sums.reduce((a, b) => a + b, 0) / (sums.length * SAMPLES);
}

const bound = ({ positions }: Mesh, axis: number, most: (a: number, b: number) => number) => {
  let value = positions[axis]!;
  for (let k = axis; k < positions.length; k += 3) value = most(value, positions[k]!);
  return value;
};

const known = new Map<string, number>();

/**
 * Exposure of a form under a light: what 1 cd/m² is shown as, so that the grey card where it stands is shown at its
 * reflectance. It is metered with the light where it stands to begin with and a grey in place of the finish, and stays when
 * either is changed.
 */
export function exposureOf(form: FormName, light: LightName): number {
  const key = `${form} ${light}`;
  const ready = known.get(key);
  if (ready !== undefined) return ready;
  const { azimuthDeg, elevationDeg } = LIGHT_TABLE[light];
  const read = readCard(FORM_TABLE[form].build(), { name: light, azimuthDeg, elevationDeg }, 1e-3);
  const exposure = (1e-3 * NEUTRALS.card) / read;
  known.set(key, exposure);
  return exposure;
}

/** An exposure with more (+) or less (−) light by a number of stops, each twice as much. */
export const exposureWith = (exposure: number, stops: number): number =>
  exposure * Math.exp(stops * Math.LN2);
