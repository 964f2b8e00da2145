export * from './segment';
