export * from './plane';
export * from './resample';
export * from './blur';
export * from './random';
export * from './noise';
export * from './distance';
export * from './fft';
export * from './paint';
