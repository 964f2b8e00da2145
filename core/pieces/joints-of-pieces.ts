import { distanceTo, makePlane, maskWhere, type ColourPicture, type Plane } from '../raster';
import { isGrain, jointWidthsPx, labPlanes, segmentingSteps } from './segment';
import { atOnce, type Steps } from '../steps';
import { median } from './statistics';

/** A joint fades into the piece over this share of the piece's side, and over a pixel at least. */
const FADES = 0.12;
/** Joints are known to a pixel or so. */
const JOINT_PX = 1;
const SQUARE = { x: 1, y: 1 };

/** Joints of a sample, and the pieces between them. */
export interface JointsAndPieces {
  /** 1 in joints, fading to 0 into the pieces. */
  joints: Plane;
  /** 1 in pieces, 0 in joints. */
  pieces: Plane;
}

/**
 * Joints of the pieces that a sample shows.
 * @param picture linear light
 * @returns null where it shows no pieces that joints part
 */
export const jointsOfPieces = (picture: ColourPicture): JointsAndPieces | null =>
  atOnce(jointsOfPiecesSteps(picture));

/** The same in steps: of a large picture it takes seconds. */
export function* jointsOfPiecesSteps(picture: ColourPicture): Steps<JointsAndPieces | null> {
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
  const [joints, inside] = [makePlane(w, h), makePlane(w, h)];
  for (let i = 0; i < label.length; i++) {
    joints.data[i] = 1 - Math.min(1, Math.max(0, (far.data[i]! - JOINT_PX) / fadesPx));
    inside.data[i] = label[i]! < 0 ? 0 : 1;
  }
  return { joints, pieces: inside };
}
