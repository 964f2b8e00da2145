import { linearToLab, lrvOf } from '@jossel/core/colour';
import { looksLike, type ReportWithLikeness } from '@jossel/core/finish';
import { mean } from '@jossel/core/raster';
import { reportOnSample } from '@jossel/core/sample';
import { LIMITS } from '../config';
import { decodePicture, inspectPicture, type PictureFacts } from './decode';

export type Inspection = PictureFacts & {
  report: ReportWithLikeness;
  lrv: number;
  meanLab: [number, number, number];
};

/** A picture of more pixels is reported on at most so many of them: all of it as floats would take gigabytes. */
const REPORTED_PIXELS = 40_000_000;

/** Looks at a new file: is it a picture, what kind, what is it good for. */
export async function inspectSample(bytes: Uint8Array): Promise<Inspection> {
  const facts = await inspectPicture(bytes, LIMITS.pixels);
  const picture = await decodePicture(bytes, LIMITS.pixels, REPORTED_PIXELS);
  const colour = [mean(picture.r), mean(picture.g), mean(picture.b)] as const;
  return {
    ...facts,
    report: { ...reportOnSample(picture), looksLike: looksLike(picture) },
    lrv: lrvOf(colour),
    meanLab: [...linearToLab(colour)],
  };
}
