import { power, squared } from '../exact';

/** The sRGB transfer function of IEC 61966-2-1, on single values and as a table for pictures. */

/** Encoded sRGB (0–1) to linear light. Odd-symmetric outside 0–1. */
export function srgbToLinear(encoded: number): number {
  const a = Math.abs(encoded);
  const linear = a <= 0.04045 ? a / 12.92 : power((a + 0.055) / 1.055, 2.4);
  return encoded < 0 ? -linear : linear;
}

/** Linear light to encoded sRGB (0–1). Odd-symmetric outside 0–1. */
export function linearToSrgb(linear: number): number {
  const a = Math.abs(linear);
  const encoded = a <= 0.0031308 ? 12.92 * a : 1.055 * power(a, 1 / 2.4) - 0.055;
  return linear < 0 ? -encoded : encoded;
}

// Linear value at which the code changes from k−1 to k; a search over it is exact and needs no pow per pixel.
const THRESHOLDS = Float64Array.from({ length: 256 }, (_, k) =>
  k === 0 ? -Infinity : srgbToLinear((k - 0.5) / 255),
);
// First guess of the code for a value, in 4096 steps of its square root.
const GUESS = Uint8Array.from({ length: 4097 }, (_, i) =>
  Math.round(255 * Math.max(0, linearToSrgb(squared(i / 4096)))),
);

/** Linear light to the nearest 8-bit sRGB code; values outside 0–1 are clipped. */
export function linearToSrgb8(linear: number): number {
  if (!(linear > 0)) return 0;
  if (linear >= 1) return 255;
  let code = GUESS[Math.floor(4096 * Math.sqrt(linear))]!;
  while (code < 255 && linear >= THRESHOLDS[code + 1]!) code++;
  while (linear < THRESHOLDS[code]!) code--;
  return code;
}

/**
 * Three planes of linear light as interleaved 8-bit sRGB, clipped.
 * @param channels 3: red, green, blue; 4: with an opaque alpha
 */
export function linearToSrgbBytes(
  { r, g, b }: { r: Float32Array; g: Float32Array; b: Float32Array },
  channels: 3 | 4 = 3,
): Uint8ClampedArray<ArrayBuffer> {
  const bytes = new Uint8ClampedArray(channels * r.length);
  for (let i = 0, k = 0; i < r.length; i++, k += channels) {
    bytes[k] = linearToSrgb8(r[i]!);
    bytes[k + 1] = linearToSrgb8(g[i]!);
    bytes[k + 2] = linearToSrgb8(b[i]!);
    if (channels === 4) bytes[k + 3] = 255;
  }
  return bytes;
}
