import { fractalNoise, hashUnit, makeColourPicture, type ColourPicture } from '@jossel/core/raster';
import { invert, project, type Homography, type Point } from '@jossel/core/straighten';
import type { Laying } from './laying';

/** A laid surface photographed by hand: askew, from nearer on one side, by a lens that bows, under uneven light. */

export interface Shot {
  widthPx: number;
  heightPx: number;
  /** Width that is seen, mm. */
  widthMm: number;
  /** Turn of the camera, degrees. */
  slopeDeg: number;
  /** How much larger the right side is shown than the left, and the top than the bottom, as shares. */
  nearer: readonly [number, number];
  /** Radial distortion at the corner, as a share of its distance from the middle. */
  bow: number;
  /** How much the light falls from one side to the other, as a share. */
  fall: number;
  /** Standard deviation of noise, in shares of full light's root. */
  noise: number;
  seed: number;
}

export interface Photographed {
  picture: ColourPicture;
  /** Where a place of the picture, px, lies on the surface, mm. */
  toSurface: (px: Point) => Point;
}

/** From the picture's place, px, to the surface, mm, whose middle of view lies at 3000, 3000. */
export function viewOf({
  widthPx: w,
  heightPx: h,
  widthMm,
  slopeDeg,
  nearer,
  bow,
}: Shot): (p: Point) => Point {
  const turn = (slopeDeg * Math.PI) / 180;
  const mm = widthMm / w;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  // Surface to picture, both about their middle in units of half the width.
  const surfaceToPicture: Homography = [c, -s, 0, s, c, 0, -nearer[0] / 2, nearer[1] / 2, 1];
  const back = invert(surfaceToPicture);
  const corner = (w * w + h * h) / 4;
  return ([x, y]) => {
    const [dx, dy] = [x - w / 2, y - h / 2];
    const straight = 1 + (bow * (dx * dx + dy * dy)) / corner;
    const [u, v] = project(back, [(2 * dx * straight) / w, (2 * dy * straight) / w]);
    return [(u * w * mm) / 2 + 3000, (v * w * mm) / 2 + 3000];
  };
}

/** Colours of pieces, joints and how much pieces differ. */
export interface Tones {
  face: readonly [number, number, number];
  other: readonly [number, number, number];
  joint: readonly [number, number, number];
  /** Share by which pieces differ from each other. */
  varies: number;
  /** Share of grain within a piece. */
  grain: number;
}

/** Places per pixel along each side. */
const SUB = 2;

export function photograph(laying: Laying, tones: Tones, shot: Shot): Photographed {
  const { widthPx: w, heightPx: h, seed } = shot;
  const toSurface = viewOf(shot);
  const picture = makeColourPicture(w, h);
  const planes = [picture.r, picture.g, picture.b];
  const soft = (shot.widthMm / w) * 0.7;
  const sum = [0, 0, 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      sum.fill(0);
      for (let k = 0; k < SUB * SUB; k++) {
        const [xm, ym] = toSurface([x + ((k % SUB) + 0.5) / SUB, y + (Math.floor(k / SUB) + 0.5) / SUB]);
        const { piece, fromJointMm, kind } = laying.at(xm, ym);
        const inJoint = Math.min(1, Math.max(0, (laying.jointMm / 2 - fromJointMm) / soft + 0.5));
        const tone = 1 + tones.varies * (hashUnit(piece[0], piece[1], 9, seed) - 0.5);
        const base = kind === 1 ? tones.other : tones.face;
        for (let c = 0; c < 3; c++) sum[c]! += base[c]! * tone * (1 - inJoint) + tones.joint[c]! * inJoint;
      }
      const [xm, ym] = toSurface([x, y]);
      const grain = 1 + tones.grain * fractalNoise(xm / 4000, ym / 4000, 160, 160, 5, 0.7, seed + 5);
      const light = 1 - shot.fall * (0.6 * (x / w) + 0.4 * (y / h));
      for (let c = 0; c < 3; c++) {
        const v = (sum[c]! / (SUB * SUB)) * grain * light;
        const noise = shot.noise * 1.7 * (hashUnit(x, y, 20 + c, seed) - hashUnit(x, y, 30 + c, seed));
        const root = Math.sqrt(Math.max(0, v)) + noise;
        planes[c]![y * w + x] = Math.max(0, root) * Math.max(0, root);
      }
    }
  return { picture, toSurface };
}
