export * from './give-aways';
export type { Courses } from './lattice';
export * from './visible';
