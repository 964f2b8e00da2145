import { createHash } from 'node:crypto';
import type { Database } from './database';

const CHUNK_BYTES = 1024 * 1024;

/** Keeps bytes under their SHA-256; the same bytes are kept once. */
export async function putBlob(database: Database, bytes: Uint8Array, mediaType: string): Promise<string> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await database.transaction(async (trx) => {
    const added = await trx('blobs')
      .insert({ sha256, bytes: bytes.byteLength, media_type: mediaType })
      .onConflict('sha256')
      .ignore()
      .returning('sha256');
    if (added.length === 0) return;
    for (let n = 0; n * CHUNK_BYTES < bytes.byteLength; n++) {
      const chunk = bytes.subarray(n * CHUNK_BYTES, (n + 1) * CHUNK_BYTES);
      await trx('blob_chunks').insert({
        sha256,
        n,
        bytes: Buffer.from(chunk.buffer, chunk.byteOffset, chunk.byteLength),
      });
    }
  });
  return sha256;
}

export async function getBlob(
  database: Database,
  sha256: string,
): Promise<{ bytes: Buffer; mediaType: string } | null> {
  const head = await database('blobs').where({ sha256 }).first<{ media_type: string } | undefined>();
  if (!head) return null;
  const chunks = await database('blob_chunks')
    .where({ sha256 })
    .orderBy('n')
    .select<{ bytes: Buffer }[]>('bytes');
  return { bytes: Buffer.concat(chunks.map((c) => c.bytes)), mediaType: head.media_type };
}
