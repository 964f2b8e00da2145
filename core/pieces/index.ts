export * from './angled';
export * from './boards';
export * from './bond';
export * from './joints-of-pieces';
export * from './joint-colours';
export * from './rectangles';
export * from './segment';
export { median } from './statistics';
export * from './stones';
