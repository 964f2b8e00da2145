export * from './film';
export * from './fresnel';
export * from './glass';
export * from './metals';
