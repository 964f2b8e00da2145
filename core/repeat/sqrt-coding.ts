/**
 * Signed square root of linear light, near to how lightness is seen and exact to undo: copies that meet are mixed and corrected
 * in it.
 */
export const encodeSqrt = (v: number): number => (v < 0 ? -Math.sqrt(-v) : Math.sqrt(v));
export const decodeSqrt = (v: number): number => (v < 0 ? -v * v : v * v);
