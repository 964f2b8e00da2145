import type { Canvas } from './canvas';
import type { Rows } from './noise';

/** Shares of a face that noise covers. */

/** Values of a field at every pixel, from rows of up to four noises. */
export async function fieldOf(
  canvas: Canvas,
  noises: readonly Rows[],
  value: (a: number, b: number, c: number, d: number, i: number) => number,
): Promise<Float64Array> {
  const { width, height } = canvas.px;
  const out = new Float64Array(width * height);
  const none = new Float32Array(width);
  await canvas.rows((y, first) => {
    const [a, b = none, c = none, d = none] = noises.map((noise) => noise.row(y));
    for (let x = 0; x < width; x++) out[first + x] = value(a![x]!, b[x]!, c[x]!, d[x]!, first + x);
  });
  return out;
}

/** Noise lies between these. */
export const NOISE_RANGE = [-4, 4] as const;
/** Places of a field that a share is found on. */
const SAMPLES = 50000;
const HALVINGS = 40;

/**
 * The amount at which what a field makes of it covers a share of the face.
 * @param field values at all pixels
 * @param at what a value becomes, 0–1, rising with the amount
 * @param range of the amount
 */
export function amountForShare(
  field: Float64Array,
  share: number,
  at: (value: number, amount: number) => number,
  [least, most]: readonly [number, number],
): number {
  // An odd step does not fall into step with the rows.
  const step = Math.floor(field.length / SAMPLES) | 1;
  let [low, high] = [least, most];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (low + high) / 2;
    let [sum, n] = [0, 0];
    for (let i = 0; i < field.length; i += step, n++) sum += at(field[i]!, middle);
    if (sum < share * n) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
