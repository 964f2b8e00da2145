import { z } from 'zod';
import { CARD_MM } from '@jossel/core/straighten';
import { CAREFUL_CAMERA, photograph, truthOf } from '../camera/photograph';
import { layOut, type Things } from '../camera/scene';
import { surfaceOf } from '../physical/surface';
import { benchSample } from './samples';

const within = (min: number, max: number, what: string) =>
  z
    .number()
    .min(min, `${what}: from ${min} to ${max}.`)
    .max(max, `${what}: from ${min} to ${max}.`)
    .describe(`${what}, from ${min} to ${max}`);

/** What can be set on the capture bench. */
export const captureSchema = z.object({
  sampleId: z.string().describe('Which of the samples lies on the bench'),
  widthPx: z.number().int().min(200).max(6000).default(CAREFUL_CAMERA.widthPx),
  focalMm: within(14, 200, 'Focal length on 24 × 36 mm').default(50),
  distanceMm: within(50, 20000, 'Distance in mm').nullable().default(null),
  tiltDeg: within(-50, 50, 'Tilt forwards in degrees').default(0),
  panDeg: within(-50, 50, 'Tilt sideways in degrees').default(0),
  rollDeg: within(-180, 180, 'Turn in degrees').default(0),
  bow: within(-0.3, 0.3, 'Lens bow').default(0),
  unevenness: within(0, 0.9, 'Loss of light over the picture').default(0.05),
  cast: within(-1, 1, 'Colour cast, cold to warm').default(0),
  exposure: within(-4, 4, 'Exposure in stops').default(0),
  noise: within(0, 0.1, 'Noise').default(0.004),
  glare: within(0, 1, 'Glare').default(0),
  blurPx: within(0, 20, 'Blur in px').default(0.6),
  card: z.boolean().default(true).describe('A target card beside the sample'),
  ruler: z.boolean().default(false).describe('A steel ruler below the sample'),
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31)
    .default(1),
});
export type CaptureSettings = z.infer<typeof captureSchema>;

/** How the camera stands and what lies beside the sample, as the settings say; null when there is no such sample. */
function setUp(settings: CaptureSettings) {
  const sample = benchSample(settings.sampleId);
  if (!sample) return null;
  const halfMm = { x: sample.widthMm / 2, y: sample.heightMm / 2 };
  const upright = sample.heightMm > CARD_MM.width && sample.widthMm > 1.4 * sample.heightMm;
  const beside: Pick<Things, 'card' | 'ruler'> = {
    // Beside the sample, not quite straight: a hand put it there.
    card: settings.card
      ? upright
        ? { xMm: halfMm.x + 14 + CARD_MM.height, yMm: -CARD_MM.width / 2, turnDeg: 91.2 }
        : { xMm: halfMm.x + 14, yMm: -CARD_MM.height / 2, turnDeg: -1.4 }
      : null,
    ruler: settings.ruler
      ? { xMm: -halfMm.x, yMm: halfMm.y + 8, lengthMm: Math.max(100, Math.floor((2 * halfMm.x) / 100) * 100) }
      : null,
  };
  const { sampleId: _, card: _card, ruler: _ruler, ...camera } = settings;
  return {
    sample,
    halfMm,
    beside,
    camera: { ...camera, heightPx: Math.round(settings.widthPx * 0.75) },
  };
}

/** Takes the picture that the settings describe; null when there is no such sample. */
export async function capture(settings: CaptureSettings) {
  const set = setUp(settings);
  if (!set) return null;
  const surface = await surfaceOf(set.sample.id, set.sample, set.sample.pxPerMm);
  return photograph(layOut(surface, set.beside), set.camera);
}

/** What would be true of the picture, without taking it. */
export function captureTruth(settings: CaptureSettings) {
  const set = setUp(settings);
  return set && truthOf({ halfMm: set.halfMm, ...set.beside }, set.camera);
}
