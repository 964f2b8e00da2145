import { capture, type CaptureSettings } from './capture/capture';
import { cameraJpeg } from './encode';
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

export const thumbnail = (id: string) => cameraJpeg(swatchOf(productOf(id)!, 200), undefined, 80);
export const swatch = (id: string) => cameraJpeg(swatchOf(productOf(id)!, 1800), 50);
export const takePicture = (settings: CaptureSettings) =>
  cameraJpeg(capture(settings)!.picture, settings.focalMm);
export const truth = (settings: CaptureSettings) => {
  const { place: _, ...told } = capture(settings)!.truth;
  return told;
};
export const reflectance = (s: Spot) => readReflectance(s.sampleId, s.xMm, s.yMm, s.seed);
export const gloss = (s: Spot) => readGloss(s.sampleId, s.xMm, s.yMm, s.seed);
