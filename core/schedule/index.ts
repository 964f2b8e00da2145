export * from './mapping';
export * from './relief-detail';
export * from './relief-plan';
export * from './seen-mesh';
