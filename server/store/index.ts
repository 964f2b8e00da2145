export * from './database';
export * from './blobs';
export * from './samples';
export * from './finishes';
export * from './tasks';
export * from './settings';
export * from './projects';
export * from './measured';
