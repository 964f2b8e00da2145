import type { Origin } from '../app/api';

/** Where a sample came from: the fields and their names. */
export const ORIGIN_FIELDS: readonly [keyof Origin, string][] = [
  ['supplier', 'Supplier'],
  ['line', 'Line'],
  ['code', 'Code'],
  ['batch', 'Batch'],
  ['permission', 'Permission to use'],
  ['note', 'Note'],
];
