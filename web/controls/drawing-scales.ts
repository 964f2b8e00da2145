/** Drawing scales, 1 : n, at which everything is shown. */
export const DRAWING_SCALES = [1, 2, 5, 10, 20, 50] as const;
export const scaleOptions = DRAWING_SCALES.map((value) => ({ value: value as number, name: `1:${value}` }));
