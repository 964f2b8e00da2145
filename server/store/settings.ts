import type { Database } from './database';

export async function getSetting<T>(database: Database, key: string): Promise<T | undefined> {
  return (await database('settings').where({ key }).first<{ value: T } | undefined>())?.value;
}

export const putSetting = (database: Database, key: string, value: unknown) =>
  database('settings')
    .insert({ key, value: JSON.stringify(value) })
    .onConflict('key')
    .merge();
