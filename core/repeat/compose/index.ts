export { makeAtlas, type ComposeSource, type Jointed, type Turn } from './atlas';
export type { Lattice, Steps } from './composer';
export * from './cells';
export { brokenHoldPx } from './held';
export { originCandidates, withOrigin, offBy, type OriginCandidate } from './origin';
export { recomposeArea, type RecomposeTask } from './recompose-area';
export * from './solve';
export type { Joints, ToroidalCanvas } from './toroidal-canvas';
