export { makeAtlas, type ComposeSource, type Turn } from './atlas';
export type { Lattice, Steps } from './composer';
export * from './cells';
export { brokenHoldPx } from './held';
export { beginningsOf, begunAt, offBy, type Beginning } from './origin';
export { redo, type RedoTask } from './redo';
export * from './solve';
export type { Joints, ToroidalCanvas } from './toroidal-canvas';
