import { putBlob } from './blobs';
import type { Database } from './database';

/**
 * What was computed and is kept by the key of all it depends on: small pictures, and repeats that were solved. Both can be computed
 * again, and go when they were not used for long.
 */
export type Derived = 'swatches' | 'solved_repeats';

/** The bytes under a key; null: they were not computed yet, or went. That they were used is noted once a day. */
export async function keptDerived(database: Database, of: Derived, key: string): Promise<Buffer | null> {
  const chunks = await database(of)
    .join('blob_chunks', 'blob_chunks.sha256', `${of}.sha256`)
    .where({ key })
    .orderBy('n')
    .select<{ bytes: Buffer; used_at: Date }[]>('blob_chunks.bytes', `${of}.used_at`);
  if (chunks.length === 0) return null;
  if (Date.now() - chunks[0]!.used_at.getTime() > DAY_MS)
    await database(of).where({ key }).update({ used_at: database.fn.now() });
  return Buffer.concat(chunks.map(({ bytes }) => bytes));
}
const DAY_MS = 86_400_000;

/** Keeps bytes under a key; what is there already stays. */
export async function keepDerived(
  database: Database,
  of: Derived,
  key: string,
  bytes: Uint8Array,
  mediaType: string,
): Promise<void> {
  const sha256 = await putBlob(database, bytes, mediaType);
  await database(of).insert({ key, sha256 }).onConflict('key').ignore();
}
