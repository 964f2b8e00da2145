export * from './placement';
export * from './close';
export * from './histogram';
export * from './seam';
