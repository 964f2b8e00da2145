export * from './srgb';
export * from './spaces';
export * from './oklab';
export * from './difference';
export * from './profile';
export * from './reading';
