import { power, squared } from '../exact';
import { linearToLab } from '../colour';
import { evennessOf } from '../light/evenness';
import {
  blurWrapped,
  halve,
  luminancePlane,
  makeColourPicture,
  type ColourPicture,
  type Plane,
} from '../raster';

/** What a picture of the sample report shows. */
export const REPORT_PICTURES = ['clipped', 'evenness', 'sharpness'] as const;
/** Contours of the light are so far apart, natural logarithm: 5 %. */
const LIGHT_STEP = 0.05;
export type ReportPicture = (typeof REPORT_PICTURES)[number];

/** Hatch of what is clipped: distance and width of its lines, and their two tones, linear. */
const HATCH_PX = 9;
const HATCH_LINE_PX = 3;
const LIGHT = [0.92, 0.92, 0.92] as const;
const DARK = [0.005, 0.005, 0.005] as const;

const lightness = (picture: ColourPicture): Plane => {
  const plane = luminancePlane(picture);
  for (let i = 0; i < plane.data.length; i++)
    plane.data[i] = linearToLab([plane.data[i]!, plane.data[i]!, plane.data[i]!])[0];
  return plane;
};

/**
 * Draws what the sample report says.
 *
 * - `clipped`: the picture in grey; burnt-out places are hatched rising to the right, dark on white, fully black ones
 *   falling to the right, light on black.
 * - `evenness`: the light by the levelling model in steps of 5 % about the middle of the picture, as a contour map: more light
 *   towards white, less towards black; one tone where no fall is certain.
 * - `sharpness`: how much of the finest detail there is from place to place: white is crisp, black is soft or flat.
 *
 * @param picture linear light
 */
export function drawReport(picture: ColourPicture, shows: ReportPicture): ColourPicture {
  const { widthPx: w, heightPx: h } = picture;
  const out = makeColourPicture(w, h);
  const set = (i: number, [r, g, b]: readonly [number, number, number]) => {
    out.r[i] = r;
    out.g[i] = g;
    out.b[i] = b;
  };
  if (shows === 'clipped') {
    const y = luminancePlane(picture).data;
    for (let i = 0; i < y.length; i++) {
      const [r, g, b] = [picture.r[i]!, picture.g[i]!, picture.b[i]!];
      const [px, py] = [i % w, Math.floor(i / w)];
      if (Math.max(r, g, b) >= 0.996) set(i, (px + py) % HATCH_PX < HATCH_LINE_PX ? DARK : LIGHT);
      else if (Math.max(r, g, b) <= 0.0003)
        set(i, (px - py + h * HATCH_PX) % HATCH_PX < HATCH_LINE_PX ? LIGHT : DARK);
      else set(i, [0.75 * y[i]! + 0.08, 0.75 * y[i]! + 0.08, 0.75 * y[i]! + 0.08]);
    }
    return out;
  }
  const l = lightness(picture);
  if (shows === 'evenness') {
    const { logLightAt } = evennessOf(picture);
    const middle = logLightAt([0.5, 0.5]);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const step = Math.round((logLightAt([(x + 0.5) / w, (y + 0.5) / h]) - middle) / LIGHT_STEP);
        const v = Math.min(0.95, Math.max(0.01, 0.28 * power(1.45, step)));
        set(y * w + x, [v, v, v]);
      }
    return out;
  }
  // Energy of the finest octave over that of the octave above it, averaged over a neighbourhood.
  const fine = octave(l);
  const half = halve(l);
  const coarse = octave(half);
  const r = Math.max(4, Math.max(w, h) / 60);
  const near = blurWrapped(fine, r, r);
  const far = blurWrapped(coarse, r / 2, r / 2);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const c =
        far.data[Math.min(half.heightPx - 1, y >> 1) * half.widthPx + Math.min(half.widthPx - 1, x >> 1)]!;
      const share = c > 0.05 ? near.data[y * w + x]! / c : 0;
      const v = Math.min(0.95, Math.max(0.005, squared((share - 0.25) / 0.6)));
      set(y * w + x, share <= 0.25 ? [0.005, 0.005, 0.005] : [v, v, v]);
    }
  return out;
}

/** Absolute differences to the right and below. */
function octave({ widthPx: w, heightPx: h, data }: Plane): Plane {
  const out = new Float32Array(w * h);
  for (let y = 0; y < h - 1; y++)
    for (let x = 0; x < w - 1; x++) {
      const i = y * w + x;
      out[i] = Math.abs(data[i + 1]! - data[i]!) + Math.abs(data[i + w]! - data[i]!);
    }
  return { widthPx: w, heightPx: h, data: out };
}
