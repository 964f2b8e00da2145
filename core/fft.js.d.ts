/** The package fft.js has no types of its own; only what is used of it. */
declare module 'fft.js' {
  export default class FFT {
    /** @param size a power of two, at least 2 */
    constructor(size: number);
    transform(out: Float64Array, data: Float64Array): void;
    inverseTransform(out: Float64Array, data: Float64Array): void;
  }
}
