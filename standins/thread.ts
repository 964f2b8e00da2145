import { capture, type CaptureSettings } from './capture/capture';
import { cameraJpeg, cameraPng } from './encode';
import { captureUnderLights, CAREFUL_RIG, RIG_FOCAL_MM, type RigRequest } from './light-rig/rig';
import { benchSample } from './capture/samples';
import { surfaceOf } from './physical/surface';
import { readGloss, readReflectance } from './meters/meters';
import { productOf } from './supplier/catalogue';
import { swatchOf } from './supplier/swatch';

/** What runs in a thread of the stand-ins; each export is one kind of work. */

interface Spot {
  sampleId: string;
  xMm: number;
  yMm: number;
  seed: number;
}

export const thumbnail = async (id: string) => cameraJpeg(await swatchOf(productOf(id)!, 200), undefined, 80);
export const swatch = async (id: string) => cameraJpeg(await swatchOf(productOf(id)!, 1800), 50);
export const takePicture = async (settings: CaptureSettings) =>
  cameraJpeg((await capture(settings))!.picture, settings.focalMm);
/** Texels of a sample over pixels of its picture, at most. */
const FINER_THAN_SEEN = 1.5;

/** A picture under every lamp of the rig, and where the lamps are said to stand. */
export async function takeLightSet({ sampleId, ...settings }: RigRequest) {
  const sample = benchSample(sampleId)!;
  // No finer than the camera sees it.
  const pxPerMm = Math.min(sample.pxPerMm, (FINER_THAN_SEEN * settings.widthPx) / sample.widthMm);
  const surface = await surfaceOf(sampleId, sample, pxPerMm);
  const { shots, coveredMm } = captureUnderLights(surface, { ...CAREFUL_RIG, ...settings });
  const pictures = await Promise.all(shots.map(({ picture }) => cameraPng(picture, RIG_FOCAL_MM)));
  return {
    coveredMm,
    pictures,
    lights: shots.map(({ positionMm, strength }, k) => ({
      file: `light-${k + 1}.png`,
      positionMm,
      strength,
    })),
  };
}
export const truth = async (settings: CaptureSettings) => {
  const { place: _, ...told } = (await capture(settings))!.truth;
  return told;
};
export const reflectance = (s: Spot) => readReflectance(s.sampleId, s.xMm, s.yMm, s.seed);
export const gloss = (s: Spot) => readGloss(s.sampleId, s.xMm, s.yMm, s.seed);
