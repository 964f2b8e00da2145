export * from './colour';
export * from './metamerism';
export { ILLUMINANTS, ILLUMINANT_NAMES, type Illuminant } from './illuminants';
