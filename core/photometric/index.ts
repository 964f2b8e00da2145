export * from './lights';
export * from './measure';
export type { LitPicture } from './lit-picture';
export { READINGS } from './pixel-reader';
export { REFLECTED } from './reflected-light';
export * from './straightened';
export { surfaceFromSlopes } from './surface-from-slopes';
export { doubtsOfMeasured, doubtsOfPictures } from './doubts';
