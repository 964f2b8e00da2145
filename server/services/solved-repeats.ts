import type { SolvedRepeat } from '../render/thread';
import * as store from '../store';
import type { Context } from './context';

/** Repeats that were solved here, kept so that pages need not solve them again when a finish is opened. */

/** Bytes as `encodeKept` of the core writes them, compressed with deflate. */
const MEDIA_TYPE = 'application/octet-stream';

export const keepSolved = ({ database }: Context, { key, deflated }: SolvedRepeat): Promise<void> =>
  store.keepDerived(database, 'solved_repeats', key, deflated, MEDIA_TYPE);

/** A solved repeat by the key of all it depends on, compressed; null: none is kept. */
export const solvedRepeat = ({ database }: Context, key: string): Promise<Buffer | null> =>
  store.keptDerived(database, 'solved_repeats', key);
