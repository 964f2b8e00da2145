/** The value below which a share of others lies; undefined: there are none. */
export const quantile = (values: readonly number[], share: number): number | undefined =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))];

/** The upper middle value; undefined: there is none. */
export const median = (values: readonly number[]): number | undefined => quantile(values, 0.5);
