export * from './colour';
export { ILLUMINANTS, ILLUMINANT_NAMES, type Illuminant } from './illuminants';
