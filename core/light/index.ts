export * from './settings';
export * from './field';
export * from './target';
export * from './match';
export * from './palette';
export * from './colour-text';
export * from './glare';
export * from './calibrate';
