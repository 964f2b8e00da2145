import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import type { Database } from './database';

const CHUNK_BYTES = 1024 * 1024;

/** Keeps bytes under their SHA-256; the same bytes are kept once. */
export async function putBlob(database: Database, bytes: Uint8Array, mediaType: string): Promise<string> {
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await putChunks(database, { sha256, bytes: bytes.byteLength, mediaType }, async function* () {
    for (let at = 0; at < bytes.byteLength; at += CHUNK_BYTES) {
      const chunk = bytes.subarray(at, at + CHUNK_BYTES);
      yield Buffer.from(chunk.buffer, chunk.byteOffset, chunk.byteLength);
    }
  });
  return sha256;
}

/** Keeps the bytes of a file, without ever holding all of them. @returns their hash, and how many they are */
export async function putFile(
  database: Database,
  path: string,
  mediaType: string,
): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  const chunks = () => createReadStream(path, { highWaterMark: CHUNK_BYTES }) as AsyncIterable<Buffer>;
  for await (const chunk of chunks()) {
    hash.update(chunk);
    bytes += chunk.byteLength;
  }
  const sha256 = hash.digest('hex');
  await putChunks(database, { sha256, bytes, mediaType }, chunks);
  return { sha256, bytes };
}

async function putChunks(
  database: Database,
  { sha256, bytes, mediaType }: { sha256: string; bytes: number; mediaType: string },
  chunks: () => AsyncIterable<Buffer>,
): Promise<void> {
  await database.transaction(async (trx) => {
    const added = await trx('blobs')
      .insert({ sha256, bytes, media_type: mediaType })
      .onConflict('sha256')
      .ignore()
      .returning('sha256');
    if (added.length === 0) {
      // It is about to be referred to again, and is not collected before that.
      await trx('blobs').where({ sha256 }).update({ stored_at: trx.fn.now() });
      return;
    }
    let n = 0;
    for await (const chunk of chunks()) await trx('blob_chunks').insert({ sha256, n: n++, bytes: chunk });
  });
}

/** Bytes that come one chunk after the other, as fast as they are taken. */
export interface BlobStream {
  bytes: number;
  stream: Readable;
}

export async function streamBlob(database: Database, sha256: string): Promise<BlobStream | null> {
  const head = await database('blobs').where({ sha256 }).first<{ bytes: string } | undefined>();
  if (!head) return null;
  async function* chunks() {
    for (let n = 0; ; n++) {
      const chunk = await database('blob_chunks').where({ sha256, n }).first<{ bytes: Buffer } | undefined>();
      if (!chunk) return;
      yield chunk.bytes;
    }
  }
  return { bytes: Number(head.bytes), stream: Readable.from(chunks(), { objectMode: false }) };
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
