import { distanceTo, makePlane, maskWhere, type ColourPicture, type Plane } from '../raster';
import { isGrain, jointWidthsPx, labPlanes, segmentingSteps } from './segment';
import { atOnce, type Steps } from '../steps';
import { median } from './statistics';

/** A joint fades into the piece over this share of the piece's side, and over a pixel at least. */
const FADES = 0.12;
/** Joints are known to a pixel or so. */
const JOINT_PX = 1;
const SQUARE = { x: 1, y: 1 };

/**
 * Joints of the pieces that a sample shows: 1 in joints, 0 inside pieces.
 * @param picture linear light
 * @returns null where it shows no pieces that joints part
 */
export const jointsOfPieces = (picture: ColourPicture): Plane | null => atOnce(jointsOfPiecesSteps(picture));

/** The same in steps: of a large picture it takes seconds. */
export function* jointsOfPiecesSteps(picture: ColourPicture): Steps<Plane | null> {
  const { widthPx: w, heightPx: h } = picture;
  const found = yield* segmentingSteps(labPlanes(picture), jointWidthsPx(Math.min(w, h)));
  if (!found) return null;
  const { label, pieces } = found.pieces;
  const whole = pieces.filter((p) => !p.cutOff);
  if (isGrain(whole)) return null;
  const fadesPx = Math.max(1, FADES * Math.sqrt(median(whole.map((p) => p.areaPx))!));
  const far = distanceTo(
    maskWhere(label, (k) => k < 0),
    w,
    h,
    SQUARE,
  );
  const out = makePlane(w, h);
  for (let i = 0; i < out.data.length; i++)
    out.data[i] = 1 - Math.min(1, Math.max(0, (far.data[i]! - JOINT_PX) / fadesPx));
  return out;
}
