export * from './height';
export * from './normal';
export * from './occlusion';
export * from './integrate';
