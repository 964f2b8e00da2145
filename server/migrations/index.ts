import type { Knex } from 'knex';
import * as initial from './001-initial';
import * as receiving from './002-receiving';
import * as issued from './003-issued';
import * as library from './004-library';
import * as lightSets from './005-light-sets';
import * as headlines from './006-headlines';
import * as operating from './007-operating';
import * as solvedRepeats from './008-solved-repeats';
import * as reliefPlans from './009-relief-plans';

/** Migrations in order; they are part of the program, so nothing is looked up on disk. */
const MIGRATIONS: Record<string, Knex.Migration> = {
  '001-initial': initial,
  '002-receiving': receiving,
  '003-issued': issued,
  '004-library': library,
  '005-light-sets': lightSets,
  '006-headlines': headlines,
  '007-operating': operating,
  '008-solved-repeats': solvedRepeats,
  '009-relief-plans': reliefPlans,
};

export const migrationSource: Knex.MigrationSource<string> = {
  getMigrations: async () => Object.keys(MIGRATIONS).sort(),
  getMigrationName: (name) => name,
  getMigration: async (name) => MIGRATIONS[name]!,
};
