export * from './settings';
export * from './stage';
export { wetReflectance } from './wet';
export { runOff } from './water';
export { coverOf } from './coverage';
export * from './usual';
