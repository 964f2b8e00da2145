export * from './lights';
export * from './measure';
export type { LitPicture } from './readings';
export * from './straightened';
export { surfaceFromSlopes } from './surface-from-slopes';
export { doubtsOfMeasured, doubtsOfPictures } from './doubts';
