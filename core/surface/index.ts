export * from './cache';
export * from './check';
export * from './pending';
export * from './context';
export * from './hash';
export * from './refusal';
export * from './stage';
export * from './surface';
