import { frameOfQuad, hasBow, toPicture, type Frame, type Quad } from '../straighten';

/** Distortion of a lens that nobody has corrected, at the corner of the picture: usual lenses stay below it. */
const USUAL_BOW = 0.015;

const UNIT = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const;

/**
 * How far sizes read from a picture may be off because the distortion of its lens was not corrected: they are read again as if the
 * lens had a usual barrel, and a usual pincushion.
 * @param read sizes of a frame by what is drawn or found in the picture
 * @returns shares of width and height; 0 where the lens is corrected, or the picture does not come from a camera
 */
export function lensSpread(
  frame: Frame,
  read: (frame: Frame) => { widthMm: number; heightMm: number },
): { across: number; up: number } {
  const photographed = !frame.whole || frame.picture.focalPx;
  if (!photographed || hasBow(frame.bow)) return { across: 0, up: 0 };
  const corners = UNIT.map((at) => toPicture(frame, at)) as unknown as Quad;
  const now = read(frame);
  const off = [USUAL_BOW, -USUAL_BOW].map((k1) => {
    const other = read(frameOfQuad(frame.picture, { k1, k2: 0 }, corners));
    return [Math.abs(other.widthMm / now.widthMm - 1), Math.abs(other.heightMm / now.heightMm - 1)] as const;
  });
  return { across: Math.max(...off.map((o) => o[0])), up: Math.max(...off.map((o) => o[1])) };
}
