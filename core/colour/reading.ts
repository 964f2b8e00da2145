import { squared } from '../exact';
import { luminanceOf, mean, type ColourPicture } from '../raster';
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
export function readColour(picture: ColourPicture): ColourReading {
  const meanLinear: Triple = [mean(picture.r), mean(picture.g), mean(picture.b)];
  const n = picture.r.length;
  let high = 0;
  let low = 0;
  const sums = [0, 0, 0];
  const bins = new Float64Array(2048);
  for (let i = 0; i < n; i++) {
    const r = picture.r[i]!;
    const g = picture.g[i]!;
    const b = picture.b[i]!;
    if (r > 1.002 || g > 1.002 || b > 1.002) high++;
    if (r < -0.0002 || g < -0.0002 || b < -0.0002) low++;
    sums[0]! += r < 0 ? 0 : r > 1 ? 1 : r;
    sums[1]! += g < 0 ? 0 : g > 1 ? 1 : g;
    sums[2]! += b < 0 ? 0 : b > 1 ? 1 : b;
    const y = luminanceOf(r, g, b);
    bins[Math.min(2047, Math.max(0, Math.floor(Math.sqrt(Math.max(0, y)) * 1448)))]!++;
  }
  const at = (share: number) => {
    let seen = 0;
    for (let k = 0; k < 2048; k++) {
      seen += bins[k]!;
      if (seen >= share * n) return squared((k + 0.5) / 1448);
    }
    return 2;
  };
  const clippedMean: Triple = [sums[0]! / n, sums[1]! / n, sums[2]! / n];
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
