import { squared } from '../exact';
import { luminanceOf, meanSteps, type ColourPicture } from '../raster';
import { atOnce, type Steps } from '../steps';
import { linearToLab, lrvOf, type Triple } from './spaces';

/** What a colour picture measures: all means are taken in linear light. */
export interface ColourReading {
  meanLinear: Triple;
  lrv: number;
  meanLab: Triple;
  /** The same after clipping to 0–1, as an encoded map shows it. */
  shown: { lrv: number; meanLab: Triple; meanLinear: Triple };
  /** Share of pixels with a channel above 1 or below 0, 0–1. */
  clippedHigh: number;
  clippedLow: number;
  /** Luminance (0–1) below which 1, 50 and 99 % of the pixels lie. */
  p1: number;
  p50: number;
  p99: number;
}

/** Reads a picture. Clipping counts values more than half an 8-bit step outside 0–1. */
export const readColour = (picture: ColourPicture): ColourReading => atOnce(colourReadingSteps(picture));

/** Pixels that are read between two steps. */
const AT_ONCE = 1 << 18;

/** The same in steps: a tall picture has many millions of pixels. */
export function* colourReadingSteps(picture: ColourPicture): Steps<ColourReading> {
  const { r: red, g: green, b: blue } = picture;
  const meanLinear: [number, number, number] = [0, 0, 0];
  for (const [c, plane] of [red, green, blue].entries()) {
    meanLinear[c] = yield* meanSteps(plane);
  }
  const n = red.length;
  let high = 0;
  let low = 0;
  let [sumR, sumG, sumB] = [0, 0, 0];
  const bins = new Float64Array(2048);
  for (let i = 0; i < n; i++) {
    if (i % AT_ONCE === 0) yield;
    const r = red[i]!;
    const g = green[i]!;
    const b = blue[i]!;
    if (r > 1.002 || g > 1.002 || b > 1.002) high++;
    if (r < -0.0002 || g < -0.0002 || b < -0.0002) low++;
    sumR += r < 0 ? 0 : r > 1 ? 1 : r;
    sumG += g < 0 ? 0 : g > 1 ? 1 : g;
    sumB += b < 0 ? 0 : b > 1 ? 1 : b;
    const y = luminanceOf(r, g, b);
    const bin = y > 0 ? Math.floor(Math.sqrt(y) * 1448) : 0;
    bins[bin < 2047 ? bin : 2047]!++;
  }
  const at = (share: number) => {
    let seen = 0;
    for (let k = 0; k < 2048; k++) {
      seen += bins[k]!;
      if (seen >= share * n) return squared((k + 0.5) / 1448);
    }
    return 2;
  };
  const clippedMean: Triple = [sumR / n, sumG / n, sumB / n];
  const shown = { lrv: lrvOf(clippedMean), meanLab: linearToLab(clippedMean), meanLinear: clippedMean };
  return {
    shown,
    meanLinear,
    lrv: lrvOf(meanLinear),
    meanLab: linearToLab(meanLinear),
    clippedHigh: high / n,
    clippedLow: low / n,
    p1: at(0.01),
    p50: at(0.5),
    p99: at(0.99),
  };
}
