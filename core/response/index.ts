export * from './fresnel';
export * from './glossmeter';
export * from './settings';
export * from './stage';
export { glossSpread, type GlossSpread } from './variation';
export * from './words';
export type { HazeReport, TwoLobes } from './haze';
export type { CoatReport } from './coat';
