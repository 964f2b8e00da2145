import type { ColourPicture } from '../raster';
import { decodeSqrt, encodeSqrt } from './sqrt-coding';

/**
 * Mixing that keeps the histogram: channels are made independent, each is mapped to a Gaussian through its own
 * cumulative histogram, mixed with preserved variance, and mapped back.
 * Source: Heitz, Neyret, "High-Performance By-Example Noise using a Histogram-Preserving Blending Operator", 2018.
 */
export interface BlendSpace {
  /**
   * Mixes `count` linear colours.
   * @param values r, g, b of each
   * @param weights of each, not necessarily summing to 1
   * @param out receives the mixed linear r, g, b
   */
  mix(values: Float64Array, weights: Float64Array, count: number, out: Float64Array): void;
}

const BINS = 1024;

/**
 * Quantile of the standard normal distribution.
 * Source: P. J. Acklam's rational approximation (relative error 1.15e-9).
 */
export function normalQuantile(p: number): number {
  const low = 0.02425;
  if (p < low || p > 1 - low) {
    const q = Math.sqrt(-2 * Math.log(p < low ? p : 1 - p));
    const x =
      (((((-7.784894002430293e-3 * q - 0.3223964580411365) * q - 2.400758277161838) * q - 2.549732539343734) *
        q +
        4.374664141464968) *
        q +
        2.938163982698783) /
      ((((7.784695709041462e-3 * q + 0.3224671290700398) * q + 2.445134137142996) * q + 3.754408661907416) *
        q +
        1);
    return p < low ? x : -x;
  }
  const q = p - 0.5;
  const r = q * q;
  return (
    ((((((-39.69683028665376 * r + 220.9460984245205) * r - 275.9285104469687) * r + 138.357751867269) * r -
      30.66479806614716) *
      r +
      2.506628277459239) *
      q) /
    (((((-54.47609879822406 * r + 161.5858368580409) * r - 155.6989798598866) * r + 66.80131188771972) * r -
      13.28068155288572) *
      r +
      1)
  );
}

/** Eigenvectors (rows) of a symmetric 3×3 matrix by Jacobi's rotations. */
function eigenvectors(m: number[][]): number[][] {
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  for (let sweep = 0; sweep < 30; sweep++) {
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const) {
      if (Math.abs(m[p]![q]!) < 1e-15) continue;
      const theta = (m[q]![q]! - m[p]![p]!) / (2 * m[p]![q]!);
      const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
      const c = 1 / Math.sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const a = m[k]![p]!;
        const b = m[k]![q]!;
        m[k]![p] = c * a - s * b;
        m[k]![q] = s * a + c * b;
      }
      for (let k = 0; k < 3; k++) {
        const a = m[p]![k]!;
        const b = m[q]![k]!;
        m[p]![k] = c * a - s * b;
        m[q]![k] = s * a + c * b;
        const va = v[p]![k]!;
        const vb = v[q]![k]!;
        v[p]![k] = c * va - s * vb;
        v[q]![k] = s * va + c * vb;
      }
    }
  }
  return v;
}

interface Axis {
  min: number;
  scale: number;
  toGauss: Float64Array;
  gaussMin: number;
  gaussStep: number;
  fromGauss: Float64Array;
}

function makeAxis(data: Float64Array): Axis | null {
  let min = Infinity;
  let max = -Infinity;
  for (const v of data) {
    if (v < min) min = v;
    if (v > max) max = v;
  }
  if (!(max - min > 1e-6)) return null;
  const bins = new Float64Array(BINS);
  const scale = BINS / (max - min);
  for (const v of data) bins[Math.min(BINS - 1, Math.floor((v - min) * scale))]!++;
  // Gaussian value at each bin border; a small floor keeps the curve strictly rising through empty bins.
  const floor = data.length * 1e-7;
  const total = data.length + BINS * floor;
  const toGauss = new Float64Array(BINS + 1);
  let seen = 0;
  for (let k = 0; k <= BINS; k++) {
    toGauss[k] = normalQuantile(Math.min(1 - 2e-4, Math.max(2e-4, seen / total)));
    if (k < BINS) seen += bins[k]! + floor;
  }
  const gaussMin = toGauss[0]!;
  const gaussStep = (toGauss[BINS]! - gaussMin) / BINS;
  const fromGauss = new Float64Array(BINS + 1);
  let k = 0;
  for (let i = 0; i <= BINS; i++) {
    const g = gaussMin + i * gaussStep;
    while (k < BINS - 1 && toGauss[k + 1]! < g) k++;
    const span = toGauss[k + 1]! - toGauss[k]!;
    const t = span > 0 ? Math.min(1, Math.max(0, (g - toGauss[k]!) / span)) : 0;
    fromGauss[i] = min + (k + t) / scale;
  }
  return { min, scale, toGauss, gaussMin, gaussStep, fromGauss };
}

function lookUp(table: Float64Array, x: number): number {
  if (x <= 0) return table[0]!;
  if (x >= BINS) return table[BINS]!;
  const k = Math.floor(x);
  return table[k]! + (table[k + 1]! - table[k]!) * (x - k);
}

/**
 * Learns the blend space of a sample.
 * @param picture the sample at any resolution (a few hundred pixels a side are enough)
 */
export function learnBlendSpace(picture: ColourPicture): BlendSpace {
  const n = picture.r.length;
  const channels = [picture.r, picture.g, picture.b].map((data) => {
    const encoded = new Float64Array(n);
    for (let i = 0; i < n; i++) encoded[i] = encodeSqrt(data[i]!);
    return encoded;
  });
  const means = channels.map((channel) => {
    let sum = 0;
    for (let i = 0; i < n; i++) sum += channel[i]!;
    return sum / n;
  });
  const covariance = [0, 1, 2].map((p) =>
    [0, 1, 2].map((q) => {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += (channels[p]![i]! - means[p]!) * (channels[q]![i]! - means[q]!);
      return sum / n;
    }),
  );
  const basis = eigenvectors(covariance);
  const axes = basis.map((row) => {
    const projected = new Float64Array(n);
    for (let i = 0; i < n; i++)
      projected[i] =
        row[0]! * (channels[0]![i]! - means[0]!) +
        row[1]! * (channels[1]![i]! - means[1]!) +
        row[2]! * (channels[2]![i]! - means[2]!);
    return makeAxis(projected);
  });
  return {
    mix(values, weights, count, out) {
      let sum = 0;
      let squares = 0;
      for (let k = 0; k < count; k++) {
        sum += weights[k]!;
        squares += weights[k]! * weights[k]!;
      }
      const keep = 1 / Math.sqrt(squares);
      let o0 = 0;
      let o1 = 0;
      let o2 = 0;
      for (let c = 0; c < 3; c++) {
        const axis = axes[c];
        const row = basis[c]!;
        let mixed = 0;
        let beyond = 0;
        for (let k = 0; k < count; k++) {
          const v =
            row[0]! * (encodeSqrt(values[3 * k]!) - means[0]!) +
            row[1]! * (encodeSqrt(values[3 * k + 1]!) - means[1]!) +
            row[2]! * (encodeSqrt(values[3 * k + 2]!) - means[2]!);
          if (!axis) {
            mixed += weights[k]! * v;
            continue;
          }
          const place = (v - axis.min) * axis.scale;
          mixed += weights[k]! * lookUp(axis.toGauss, place);
          // What lies outside the learnt range is mixed plainly, so that a weight of 1 gives the value itself.
          if (place < 0) beyond += weights[k]! * (v - axis.min);
          else if (place > BINS) beyond += weights[k]! * (v - axis.min - BINS / axis.scale);
        }
        const result = axis
          ? lookUp(axis.fromGauss, (mixed * keep - axis.gaussMin) / axis.gaussStep) + beyond / sum
          : mixed / sum;
        o0 += row[0]! * result;
        o1 += row[1]! * result;
        o2 += row[2]! * result;
      }
      out[0] = decodeSqrt(o0 + means[0]!);
      out[1] = decodeSqrt(o1 + means[1]!);
      out[2] = decodeSqrt(o2 + means[2]!);
    },
  };
}
