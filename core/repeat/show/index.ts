export * from './telltales';
export type { Courses } from './lattice';
export * from './visible';
