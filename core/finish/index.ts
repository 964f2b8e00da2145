export * from './recipe';
export * from './hash';
export * from './cache';
export * from './render';
export * from './checks';
export * from './encode';
