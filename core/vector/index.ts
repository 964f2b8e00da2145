/** Vectors of three numbers: places, directions, axes. */
export type Vector = readonly [number, number, number];

export const times = (a: Vector, k: number): Vector => [a[0] * k, a[1] * k, a[2] * k];
/** a + k · b. */
export const plus = (a: Vector, b: Vector, k = 1): Vector => [
  a[0] + k * b[0],
  a[1] + k * b[1],
  a[2] + k * b[2],
];
export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length = (a: Vector): number => Math.sqrt(dot(a, a));
export function unit(a: Vector): Vector {
  const l = length(a);
  return [a[0] / l, a[1] / l, a[2] / l];
}
