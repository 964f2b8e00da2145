export * from './boards-crossed';
export * from './boards-of-picture';
export * from './cells-of-boards';
export * from './lay-boards';
