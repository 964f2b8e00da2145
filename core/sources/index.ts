export * from './settings';
export * from './source';
export * from './density';
export * from './looking';
export * from './calibration';
export * from './checks';
export * from './stage';
