import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** JSON with sorted keys, so that equal settings give equal text. */
export function canonicalJson(value: unknown): string {
  return JSON.stringify(value, (_key, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );
}

/** SHA-256 of settings, as 64 hexadecimal digits. */
export const hashOf = (...parts: readonly unknown[]): string =>
  bytesToHex(sha256(utf8ToBytes(canonicalJson(parts))));

/** SHA-256 of bytes, as 64 hexadecimal digits. */
export const hashOfBytes = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));
