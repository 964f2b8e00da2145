export * from './mapping';
export * from './project-plan';
export * from './relief-detail';
export * from './relief-plan';
export * from './seen-mesh';
