export * from './mesh';
export * from './forms';
export * from './lights';
