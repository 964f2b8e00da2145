export { GENERATED_FAMILIES, familyOf } from './families';
export { drawdownOfCloth, yarnMm } from './families/cloth/cloth';
export { GROUPS, type Family, type Group } from './family';
export { Canvas, type Painted } from './canvas';
export * from './setting';
export * from './settings';
export * from './stage';
export { NOISE_ROWS } from './noise';
