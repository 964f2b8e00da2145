export * from './srgb';
export * from './spaces';
export * from './difference';
export * from './profile';
export * from './match';
