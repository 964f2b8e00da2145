export * from './help';
export * from './idle-crew';
export { type HelpMessage } from './message';
export * from './share';
export * from './task';
