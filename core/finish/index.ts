export * from './recipe';
export * from './default-recipe';
export * from './geometry';
export * from './stages';
export * from './maps';
export * from './render';
export * from './repetition';
export * from './advice';
