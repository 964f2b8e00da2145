export * from './places';
export * from './homography';
export * from './lens-bow';
export * from './frame';
export * from './warp';
export * from './card';
export * from './find-card';
