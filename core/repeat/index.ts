export * from './placement';
export * from './cells';
export * from './close';
export * from './even-out';
export * from './histogram';
export * from './seam';
export * from './settings';
export * from './compose';
