import type { ColourPicture, Plane } from '../raster';
import { normalsOfHeight, type NormalField } from '../relief';
import { inTurns } from '../steps';
import { Refusal } from '../surface';
import { brightnessOf } from './brightness';
import { confidenceOf, heightOf } from './height-of-readings';
import { faultOfLights } from './lights';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import { readPixels, type Readings } from './readings';
import type { Lobe } from './sheen';
import { surroundingsOf } from './surroundings';
import { toleranceOf } from './tolerance';

/** A surface that was measured from light. Its places are those of the pictures. */
export interface MeasuredSurface {
  /** Reflectance without shading, shadow and glare, linear light. */
  colour: ColourPicture;
  /** mm above the mean plane of the sample. */
  height: Plane;
  /** Unit normals about the mean plane of the sample. */
  normal: NormalField;
  /** 0–1: how well the readings of a pixel agree, and how many were of use. */
  confidence: Plane;
  /** How far heights may be off, mm, at 95 %. */
  toleranceMm: number;
  /** What each light was found to be: brightness beside what was said, relative residual, share of pixels it was of use in. */
  ofLights: { gain: number; residual: number; used: number }[];
  /** Light that the whole surface mirrors besides glare that stands out. */
  lobes: readonly Lobe[];
}

/** After the first round shadows and reflections are known from the relief, and readings are taken anew. */
const ROUNDS = 3;

/**
 * Measures relief and reflectance of a sample from pictures under several lights: robust photometric stereo (see PixelSolver)
 * with near lights (Quéau, Durix, Wu, Cremers, Lauze, Durou 2018), whose brightness is found from the pictures. From the
 * first relief, the shadows that it throws are left out and the light that its hollows reflect is taken off, and the pictures
 * are read again.
 *
 * @param set pictures of one size from one place
 * @param mmPerPx size of a pixel on the sample
 * @param cameraMm from the camera to the sample; null: not known, three times the diagonal of the picture
 * @throws Refusal when the lights tell no relief
 */
export async function measureRelief(
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
  cameraMm: number | null,
  step: (share: number, what: string) => Promise<void> = async () => {},
): Promise<MeasuredSurface> {
  const fault = faultOfLights(set.map(({ light }) => light));
  if (fault) throw new Refusal('lights', fault, 'lights');
  await step(0, 'Finding how bright the lights are');
  const { widthPx, heightPx } = set[0]!.picture;
  const far = cameraMm ?? 3 * Math.hypot(widthPx * mmPerPx.x, heightPx * mmPerPx.y);
  const brightness = await brightnessOf(set, mmPerPx, far);
  let known: Surroundings | null = null;
  for (let round = 0; ; round++) {
    const [from, to] = [0.1 + (0.9 * round) / ROUNDS, 0.1 + (0.9 * (round + 1)) / ROUNDS];
    const readings = await readPixels(set, brightness, mmPerPx, known, () =>
      step(from + 0.35 * (to - from), 'Reading the pictures'),
    );
    const integrating = () => step(from + 0.75 * (to - from), 'Integrating the relief');
    await integrating();
    const height: Plane = await inTurns(heightOf(set, readings, brightness, mmPerPx, known), integrating);
    if (round === ROUNDS - 1) {
      const found = { height, colour: readings.colour };
      const toleranceMm = await toleranceOf(set, brightness, found, mmPerPx, () =>
        step(0.98, 'Finding the tolerance'),
      );
      const confidence = confidenceOf(readings, set.length);
      return { ...measured(readings, height, confidence, brightness, mmPerPx), toleranceMm };
    }
    known = await inTurns(surroundingsOf(set, height, readings.colour, mmPerPx), () =>
      step(from + 0.9 * (to - from), 'Following light from face to face'),
    );
  }
}

function measured(
  readings: Readings,
  height: Plane,
  confidence: Plane,
  { lobes }: Brightness,
  mmPerPx: { x: number; y: number },
): Omit<MeasuredSurface, 'toleranceMm'> {
  return {
    colour: readings.colour,
    height,
    normal: normalsOfHeight(height, mmPerPx),
    confidence,
    ofLights: readings.ofLights,
    lobes,
  };
}
