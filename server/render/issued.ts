import { asIssued } from '@jossel/core/finish';
import { inflateSync } from 'node:zlib';

/** What an issued revision was made by; its solved results are compressed. */
export interface IssuedAs {
  versions: Readonly<Record<string, number>> | null;
  solved: Uint8Array | null;
}

/** Options by which a revision renders as it was issued; a draft has none. */
export const optionsOf = (issued: IssuedAs | null | undefined) =>
  issued ? asIssued(issued.versions, issued.solved && new Uint8Array(inflateSync(issued.solved))) : {};
