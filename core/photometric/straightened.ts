import { squared } from '../exact';
import {
  makeFrame,
  warp,
  warpLevel,
  type Frame,
  type PictureShape,
  type StraightenSettings,
} from '../straighten';
import { cross, dot, length, plus, times, unit, type Vector } from '../vector';
import type { Light } from './lights';
import type { LitPicture } from './lit-picture';

/** Straightens all pictures of a light set alike, and brings its lights into the straightened frame. */

/** How the pictures of a set are straightened: one rectangle of the sample, and its size. */
export interface StraightenedAs {
  settings: StraightenSettings;
  /** Size of the frame on the sample. */
  sizeMm: { width: number; height: number };
}

export interface Straightener {
  /** How often a picture is halved before it is straightened. */
  level: number;
  /** @param lit its picture halved so often; its light as it was given */
  straighten: (lit: LitPicture) => LitPicture;
  /** Size of a straightened pixel. */
  mmPerPx: { x: number; y: number };
  /** From the camera to the plane of the frame. */
  cameraMm: number;
}

/** Focal length over the diagonal of the picture where no file tells it: a long lens, as such pictures are taken with. */
const USUAL_LENS = 3;

/**
 * How a frame lies before the camera. Axes and places are those that lights are given in: from the middle of the picture on the
 * sample, x to the right of the picture, y up, z to the camera, mm.
 */
export interface FramePose {
  right: Vector;
  up: Vector;
  normal: Vector;
  /** Middle of the frame. */
  middle: Vector;
  /** From the camera to the plane of the frame. */
  cameraMm: number;
}

/**
 * The pose of a rectangle of known size from its image (Zhang, "A flexible new technique for camera calibration", 2000, section
 * 3.1): the columns of the homography, freed from the camera's focal length, are its two directions and the place of its corner.
 * @param frame of the picture as received
 * @param sizeMm its size on the sample
 */
export function poseOfFrame(frame: Frame, sizeMm: { width: number; height: number }): FramePose {
  const { picture, plane: h } = frame;
  const halfDiagonal = Math.hypot(picture.widthPx, picture.heightPx) / 2;
  const focal = picture.focalPx ? picture.focalPx / halfDiagonal : 2 * USUAL_LENS;
  // Camera's axes: x to the right, y down, z away from it.
  const column = (k: 0 | 1 | 2): Vector => [h[k]! / focal, h[3 + k]! / focal, h[6 + k]!];
  const [across, down, corner] = [column(0), column(1), column(2)];
  // The two sides tell the scale; where they do not agree, their mean does.
  const scale = 2 / (length(across) / sizeMm.width + length(down) / sizeMm.height);
  const u = unit(across);
  // The second direction is at right angles to the first, whatever the corners say.
  const v = unit(plus(down, u, -dot(down, u)));
  const away = cross(u, v);
  const at = times(corner, scale);
  const middle = plus(plus(at, u, sizeMm.width / 2), v, sizeMm.height / 2);
  // The line of sight through the middle of the picture meets the plane here.
  const originZ = dot(middle, away) / away[2];
  const toLights = ([x, y, z]: Vector): Vector => [x, -y, -z];
  return {
    right: toLights(u),
    up: times(toLights(v), -1),
    normal: times(toLights(away), -1),
    middle: toLights([middle[0], middle[1], middle[2] - originZ]),
    cameraMm: dot(middle, away),
  };
}

/** A light as it stands to a frame: from its middle, x along its width, y along its height, z out of the sample. */
export function lightToFrame(light: Light, { right, up, normal, middle }: FramePose): Light {
  const along = (v: Vector): Vector => [dot(v, right), dot(v, up), dot(v, normal)];
  const { strength } = light;
  const rest = strength === undefined ? {} : { strength };
  if ('directionTo' in light) return { ...rest, directionTo: along(light.directionTo) };
  const moved = along(plus(light.positionMm, middle, -1));
  // Strength is what a white facing the light reads in the middle of the picture; now it is that in the middle of the frame.
  const [before, after] = [squared(length(light.positionMm)), squared(length(moved))];
  return { positionMm: moved, strength: ((strength ?? 1) * before) / after };
}

/**
 * Straightens the pictures of a set one by one, so that not all of them need be held as received.
 * @param picture shape of the pictures as received
 * @param longSidePx of the straightened pictures, at most
 * @throws RangeError with a sentence where the corners frame nothing
 */
export function straightenerOf(
  picture: PictureShape,
  { settings, sizeMm }: StraightenedAs,
  longSidePx: number,
): Straightener {
  const frame = makeFrame(picture, settings);
  const pose = poseOfFrame(frame, sizeMm);
  const long = Math.max(sizeMm.width, sizeMm.height);
  const perMm = Math.min(longSidePx, Math.max(frame.widthPx, frame.heightPx)) / long;
  const [widthPx, heightPx] = [sizeMm.width, sizeMm.height].map((mm) =>
    Math.max(8, Math.round(mm * perMm)),
  ) as [number, number];
  const level = warpLevel(frame, widthPx, heightPx);
  return {
    level,
    straighten: ({ picture: halved, light }) => ({
      picture: warp(halved, level, frame, widthPx, heightPx),
      light: lightToFrame(light, pose),
    }),
    mmPerPx: { x: sizeMm.width / widthPx, y: sizeMm.height / heightPx },
    cameraMm: pose.cameraMm,
  };
}
