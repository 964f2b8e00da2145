export * from './found-structure';
export * from './structure';
export * from './settings';
export * from './lines';
export * from './resolve';
export * from './plausible';
export * from './card';
export * from './sheet-count';
export { snappedShift } from './lattice/courses';
