import type { SampleReport } from './report';

/** Pixels per mm of an ordinary screen at 1:1 (96 per inch). */
const SCREEN_PX_PER_MM = 96 / 25.4;
const SCALES = [1, 2, 5, 10, 20, 50, 100] as const;

export interface GoodFor {
  /** Pixels per mm that really carry detail. */
  effectivePxPerMm: number;
  /** Largest drawing scale, as 1 : scale, at which the sample still looks sharp; null: not even 1:100. */
  scale: number | null;
  /** Width in pixels beyond which nothing is gained. */
  usefulWidthPx: number;
  sentence: string;
}

/**
 * What a sample is good for, once its size is known: the drawing scale it holds up to on a screen of 96 pixels per inch,
 * and the width in pixels that uses all its detail.
 *
 * @param pxPerMm of the picture, the poorer of its two axes
 * @param widthMm of the used part
 */
export function goodFor(report: Pick<SampleReport, 'sharpness'>, pxPerMm: number, widthMm: number): GoodFor {
  // A soft picture carries half its pixels, a crisp one all of them.
  const share = Math.min(1, Math.max(0.5, 0.5 + (report.sharpness - 0.4) / 0.4));
  const effectivePxPerMm = pxPerMm * share;
  const scale = SCALES.find((s) => effectivePxPerMm * s >= 0.95 * SCREEN_PX_PER_MM) ?? null;
  const usefulWidthPx = Math.round(effectivePxPerMm * widthMm);
  return {
    effectivePxPerMm,
    scale,
    usefulWidthPx,
    sentence: `${scale === null ? 'Too coarse to look sharp even at 1:100' : `Holds up to 1:${scale}`} at ${usefulWidthPx} px of width; more pixels add nothing.`,
  };
}
