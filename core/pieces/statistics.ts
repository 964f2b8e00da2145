/** The upper middle value; undefined: there is none. */
export const median = (values: readonly number[]): number | undefined =>
  [...values].sort((a, b) => a - b)[values.length >> 1];
