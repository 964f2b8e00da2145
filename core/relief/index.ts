export * from './height';
export * from './normal';
export * from './occlusion';
export * from './integrate';
export * from './settings';
export * from './stage';
export * from './section';
export { nameOfLook } from './joints';
