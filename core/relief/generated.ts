import { gradientNoise, makePlane, percentileSteps, type Plane } from '../raster';
import { rowSpans, spans, type Steps } from '../steps';
import type { ContributionOf } from './settings';

/** An octave is half as long as the one before. */
const MOST_OCTAVES = 12;

/**
 * Variation of many wavelengths that repeats with the finish: octaves of gradient noise from the longest wavelength to the
 * shortest, each lower than the one before. The range from the 0.5th to the 99.5th percentile is its depth.
 * @returns mm about the middle of its depth
 */
export function* generatedReliefSteps(
  { longestMm, shortestMm, stretch, along, falloff, seed, depthMm }: ContributionOf<'generated'>,
  sizeMm: { width: number; height: number },
  px: { width: number; height: number },
): Steps<Plane> {
  const out = makePlane(px.width, px.height);
  const lengths = along === 'width' ? { u: stretch, v: 1 } : { u: 1, v: stretch };
  let amplitude = 1;
  let lengthMm = longestMm;
  for (let octave = 0; octave < MOST_OCTAVES && lengthMm >= shortestMm * 0.999; octave++) {
    const cellsU = cellsOver(sizeMm.width, lengthMm * lengths.u);
    const cellsV = cellsOver(sizeMm.height, lengthMm * lengths.v);
    for (const { from, to } of rowSpans(px.height, 4 * px.width)) {
      yield;
      for (let y = from, i = from * px.width; y < to; y++)
        for (let x = 0; x < px.width; x++, i++)
          out.data[i]! +=
            amplitude *
            gradientNoise((x + 0.5) / px.width, (y + 0.5) / px.height, cellsU, cellsV, seed + octave * 101);
    }
    amplitude *= falloff;
    lengthMm /= 2;
  }
  const [low, high] = (yield* percentileSteps(out.data, [0.005, 0.995])) as [number, number];
  const scale = high - low > 1e-7 ? depthMm.value / (high - low) : 0;
  for (const { from, to } of spans(out.data.length)) {
    yield;
    for (let i = from; i < to; i++)
      out.data[i] = scale * (Math.min(high, Math.max(low, out.data[i]!)) - (low + high) / 2);
  }
  return out;
}

/** Cells of gradient noise of a wavelength over a length: a wave is two of them. */
const cellsOver = (lengthMm: number, waveMm: number): number =>
  Math.max(1, Math.round((2 * lengthMm) / waveMm));
