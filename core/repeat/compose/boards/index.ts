export * from './ends';
export * from './lay';
export * from './over';
