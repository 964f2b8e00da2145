import { evennessOf } from '../light/evenness';
import { halve, luminancePlane, mean, type ColourPicture, type Plane } from '../raster';

/** What a sample is good for, measured on its pixels. */
export interface SampleReport {
  /** Share of pixels at or above the top of the scale, 0–1. */
  clippedHighlights: number;
  /** Share of pixels at black. */
  clippedBlacks: number;
  /** Share of the light that is lost from the brightest to the darkest place, 0–1; 0: no fall is certain. */
  lightFall: number;
  /** Standard deviation of noise in L*, from the finest differences in the quietest part. */
  noise: number;
  /** Finest-octave contrast over the octave above it: near 1 is crisp, below 0.45 is soft. */
  sharpness: number;
  /** The same in words, the most important first. */
  sentences: string[];
}

/** CIE L* from luminance 0–1. */
const lightnessOf = (y: number) =>
  y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (24389 / 27) * Math.max(0, y);

/** Mean absolute difference to the neighbour on the right and below. */
function contrast(plane: Plane): number {
  const { widthPx: w, heightPx: h, data } = plane;
  let sum = 0;
  let count = 0;
  for (let y = 0; y < h - 1; y++)
    for (let x = 0; x < w - 1; x++) {
      const v = data[y * w + x]!;
      sum += Math.abs(data[y * w + x + 1]! - v) + Math.abs(data[(y + 1) * w + x]! - v);
      count += 2;
    }
  return count ? sum / count : 0;
}

/**
 * Reports on a sample.
 * @param picture linear light, full size or one of its halvings
 */
export function reportOnSample(picture: ColourPicture): SampleReport {
  const n = picture.r.length;
  let high = 0;
  let black = 0;
  for (let i = 0; i < n; i++) {
    if (picture.r[i]! >= 0.996 || picture.g[i]! >= 0.996 || picture.b[i]! >= 0.996) high++;
    if (picture.r[i]! <= 0.0003 && picture.g[i]! <= 0.0003 && picture.b[i]! <= 0.0003) black++;
  }
  const lightness = luminancePlane(picture);
  for (let i = 0; i < n; i++) lightness.data[i] = lightnessOf(lightness.data[i]!);
  const half = halve(lightness);
  const fine = contrast(lightness);
  const coarse = contrast(half);
  const sharpness = coarse > 1e-6 ? fine / coarse : 0;
  const lightFall = evennessOf(picture).fall;
  const noise = noiseOf(lightness);
  const report = { clippedHighlights: high / n, clippedBlacks: black / n, lightFall, noise, sharpness };
  return { ...report, sentences: inWords(report, picture.widthPx, picture.heightPx, mean(lightness.data)) };
}

/** Noise from second differences in blocks of 16 pixels: the quietest tenth of the blocks holds noise and no detail. */
function noiseOf({ widthPx: w, heightPx: h, data }: Plane): number {
  const blocks: number[] = [];
  for (let by = 0; by + 16 <= h; by += 16)
    for (let bx = 0; bx + 16 <= w; bx += 16) {
      let sum = 0;
      for (let y = by + 1; y < by + 15; y++)
        for (let x = bx + 1; x < bx + 15; x++) {
          const i = y * w + x;
          // Immerkær 1996: a mask that is blind to planes and slopes; its response to unit noise is 6.
          const v =
            data[i - w - 1]! +
            data[i - w + 1]! +
            data[i + w - 1]! +
            data[i + w + 1]! -
            2 * (data[i - 1]! + data[i + 1]! + data[i - w]! + data[i + w]!) +
            4 * data[i]!;
          sum += Math.abs(v);
        }
      blocks.push((sum / 196 / 6) * Math.sqrt(Math.PI / 2));
    }
  if (blocks.length === 0) return 0;
  blocks.sort((a, b) => a - b);
  return blocks[Math.floor(blocks.length / 10)]!;
}

/** Light that falls off by less shows in no repeat. */
const MOST_FALL = 0.12;

function inWords(
  r: Omit<SampleReport, 'sentences'>,
  widthPx: number,
  heightPx: number,
  meanLightness: number,
): string[] {
  const out: string[] = [];
  const percent = (share: number) => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;
  if (Math.min(widthPx, heightPx) < 64)
    out.push(`Only ${widthPx} × ${heightPx} pixels: too small to show a finish.`);
  if (r.clippedHighlights > 0.002)
    out.push(`${percent(r.clippedHighlights)} of the picture is burnt out; its colour there is lost.`);
  if (r.clippedBlacks > 0.01)
    out.push(`${percent(r.clippedBlacks)} of the picture is fully black; detail there is lost.`);
  if (r.lightFall > MOST_FALL)
    out.push(
      `Light falls off by ${percent(r.lightFall)} over the picture: level uneven light before it is used.`,
    );
  if (r.sharpness > 0 && r.sharpness < 0.45) out.push('Soft at full size: it holds about half its pixels.');
  if (r.noise > 1.5) out.push(`Noise of ${r.noise.toFixed(1)} L* shows in flat areas.`);
  if (meanLightness < 12) out.push('Very dark on the whole: underexposed, or a black finish.');
  if (out.length === 0) out.push('Sharp, evenly lit and without clipping.');
  return out;
}
