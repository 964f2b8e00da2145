export * from './length';
export * from './figure';
