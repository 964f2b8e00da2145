export * from './recipe';
export * from './hash';
export * from './cache';
export * from './geometry';
export * from './density';
export * from './render';
export * from './checks';
export * from './encode';
