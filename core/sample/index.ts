export * from './report';
export * from './report-picture';
export * from './good-for';
export * from './settings';
export * from './marks';
export * from './parts';
export * from './map-set';
export * from './enlarge';
