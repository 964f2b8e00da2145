/**
 * Powers that come to the same bits in every engine and in every tier of it. `**` and `Math.pow` do not: engines differ in
 * the last bit, and one that has optimised a function multiplies where it looked powers up before. `Math.exp` and
 * `Math.log` follow one published algorithm (fdlibm) in all engines this runs on.
 */

/** x·x. */
export const squared = (x: number): number => x * x;

/**
 * A whole power, multiplied out by squaring.
 * @param n a whole number; below zero gives one over the power
 * @returns 1 for n = 0, whatever x is
 */
export function wholePower(x: number, n: number): number {
  let result = 1;
  let factor = x;
  for (let left = Math.abs(n); left > 0; left = Math.floor(left / 2)) {
    if (left % 2 === 1) result *= factor;
    factor *= factor;
  }
  return n < 0 ? 1 / result : result;
}

/**
 * Any power of what is not negative: e^(y·ln x), within |y·ln x|·2⁻⁵² of its true value.
 * @returns 0 for x = 0 and y > 0; NaN below 0
 */
export const power = (x: number, y: number): number => Math.exp(y * Math.log(x));
