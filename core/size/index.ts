export * from './resolve';
