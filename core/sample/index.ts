export * from './report';
export * from './settings';
export * from './marks';
export * from './parts';
export * from './map-set';
