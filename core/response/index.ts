export * from './glossmeter';
export * from './settings';
export * from './stage';
export { glossSpread, type GlossSpread } from './variation';
export * from './words';
export type { HazeReport, TwoLobes } from './haze';
export type { CoatReport } from './coat';
export {
  ANGLE_STEPS,
  baseMetalColour,
  metalColour,
  reflectanceOverAngle,
  type MetalColour,
  type MetalPart,
} from './metals';
export { physicalOf, type PhysicalMaterial } from './physical';
export type { BrushedReport } from './brushed';
export { clearPane, glassOf, laminateOf, shadowBetween, type GlassReport } from './glass';
