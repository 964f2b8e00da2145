export * from './help';
export { type HelpMessage } from './message';
export * from './share';
export * from './task';
