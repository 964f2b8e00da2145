export * from './length';
export * from './figure';
export * from './resolution';
