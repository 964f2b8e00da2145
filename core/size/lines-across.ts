import type { Plane } from '../raster';
import { withoutTrend } from './comb';

/** Edge energy along one axis: the mean step, with its sign, from each line to the next, so that only what runs straight across counts. */
export function stepsAlong(lightness: Plane, axis: 'across' | 'up'): Float64Array {
  const { widthPx: w, heightPx: h, data } = lightness;
  const n = axis === 'across' ? w : h;
  const out = new Float64Array(n);
  const by = axis === 'across' ? 1 : w;
  for (let y = axis === 'across' ? 0 : 1; y < h; y++)
    for (let x = axis === 'across' ? 1 : 0; x < w; x++) {
      const i = y * w + x;
      out[axis === 'across' ? x : y]! += data[i]! - data[i - by]!;
    }
  for (let i = 0; i < n; i++) out[i] = Math.abs(out[i]!);
  return withoutTrend(out, Math.max(8, n >> 3));
}

/**
 * Sharpens a period on the edge energy along its axis: the period within 3 % whose harmonics hold the most power; null
 * where that is the one it was, or lies at an end.
 */
export function sharpened(steps: Float64Array, periodPx: number): number | null {
  const n = steps.length;
  const harmonics = Math.max(1, Math.min(16, Math.floor(periodPx / 6)));
  const power = (p: number) => {
    let sum = 0;
    for (let m = 1; m <= harmonics; m++) {
      const turn = (2 * Math.PI * m) / p;
      let [re, im] = [0, 0];
      for (let i = 0; i < n; i++) {
        re += steps[i]! * Math.cos(turn * i);
        im += steps[i]! * Math.sin(turn * i);
      }
      sum += re * re + im * im;
    }
    return sum;
  };
  // Fine enough that the highest harmonic turns by less than an eighth over the whole frame.
  const grain = Math.min(0.005, periodPx / (8 * harmonics * n));
  const reach = Math.ceil(0.03 / grain);
  const powers = Array.from({ length: 2 * reach + 1 }, (_, k) => power(periodPx * (1 + (k - reach) * grain)));
  let best = reach;
  for (let k = 0; k < powers.length; k++) if (powers[k]! > powers[best]!) best = k;
  if (best === 0 || best === powers.length - 1 || powers[best]! <= powers[reach]!) return null;
  const [a, b, c] = [powers[best - 1]!, powers[best]!, powers[best + 1]!];
  const bend = a - 2 * b + c;
  return periodPx * (1 + (best - reach + (bend < 0 ? (0.5 * (a - c)) / bend : 0)) * grain);
}

/** Where the lines of a period stand: the steps are folded at it, both sides of a joint gather in one place. */
export function phaseOf(steps: Float64Array, period: number): number {
  const n = steps.length;
  const bins = Math.max(4, Math.round(period));
  const folded = new Float64Array(bins);
  for (let i = 0; i < n; i++) folded[Math.floor(((i / period) % 1) * bins)]! += steps[i]!;
  const reachBins = Math.max(1, Math.round(0.05 * bins));
  const smooth = folded.map((_, k) => {
    let sum = 0;
    for (let d = -reachBins; d <= reachBins; d++)
      sum += folded[(k + d + bins) % bins]! * (1 - Math.abs(d) / (reachBins + 1));
    return sum;
  });
  const line = smooth.indexOf(Math.max(...smooth));
  return ((line + 0.5) / bins) * period;
}
