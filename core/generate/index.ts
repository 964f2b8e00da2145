export * from './surface';
export * from './timber';
export * from './ceramic';
export * from './weave';
export * from './plaster';
export * from './stone';
export * from './metal';
export * from './brick';
