export * from './boards';
export * from './rectangles';
export * from './segment';
