import type { ColourPicture } from '../raster';
import type { BoardsLaid } from './boards';
import type { Cells } from './placement';

/**
 * A solved repeat as an issued revision keeps it: with it, any later version of Jossel lays the same pieces at the same
 * places, at any size. What is kept is small: a raster of which copy lies where, where each copy comes from, and what
 * evens them out.
 */
export interface KeptRepeat {
  /** Names this content: two that are kept alike have the same. */
  id: string;
  /** Size of what is cut from copies: the repeat, or the picture made ready before it is laid. */
  sizeMm: { width: number; height: number };
  cells: Cells;
  copies: number;
  /** Boards of which it is laid; none: it is not laid of boards. */
  boards?: BoardsLaid;
  brokenHoldMm: number;
  /** What is added to even out copies that meet, in the square root of linear light: of the picture, and of each map by its role. */
  evened: Readonly<Record<string, ColourPicture>>;
}

const MAGIC = 0x4a4b5231; // "JKR1"

/** Where an array lies in the bytes. */
interface Slice {
  array: 'Uint8Array' | 'Uint16Array' | 'Float32Array';
  offset: number;
  length: number;
}
const ARRAYS = { Uint8Array, Uint16Array, Float32Array } as const;
type Numbers = Uint8Array | Uint16Array | Float32Array;
const isNumbers = (v: unknown): v is Numbers => Object.values(ARRAYS).some((A) => v instanceof A);

/** A kept repeat as bytes: a header in JSON, in which arrays are named by their place, then the arrays. */
export function encodeKept({ id: _, ...kept }: KeptRepeat): Uint8Array {
  const arrays: Numbers[] = [];
  let offset = 0;
  const header = JSON.stringify(kept, (_key, value: unknown) => {
    if (!isNumbers(value)) return value;
    const slice: Slice = {
      array: value.constructor.name as Slice['array'],
      offset,
      length: value.length,
    };
    arrays.push(value);
    // Every array begins at a multiple of four bytes.
    offset += Math.ceil(value.byteLength / 4) * 4;
    return { arrayAt: slice };
  });
  const text = ascii(header);
  const begin = 8 + Math.ceil(text.length / 4) * 4;
  const bytes = new Uint8Array(begin + offset);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, text.length, true);
  bytes.set(text, 8);
  let at = begin;
  for (const array of arrays) {
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
    at += Math.ceil(array.byteLength / 4) * 4;
  }
  return bytes;
}

/**
 * Reads what {@link encodeKept} wrote.
 * @param id names the content, for instance its checksum
 * @throws Error when the bytes are something else
 */
export function decodeKept(bytes: Uint8Array, id: string): KeptRepeat {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength < 8 || view.getUint32(0, true) !== MAGIC)
    throw new Error('These bytes are not a kept repeat.');
  const length = view.getUint32(4, true);
  const begin = 8 + Math.ceil(length / 4) * 4;
  const kept = JSON.parse(fromAscii(bytes.subarray(8, 8 + length)), (_key, value: unknown) => {
    const slice = (value as { arrayAt?: Slice } | null)?.arrayAt;
    if (!slice) return value;
    const Kind = ARRAYS[slice.array];
    const from = begin + slice.offset;
    // A copy, so that it is aligned wherever the bytes lie.
    const size = slice.length * Kind.BYTES_PER_ELEMENT;
    return new Kind(bytes.slice(from, from + size).buffer);
  }) as Omit<KeptRepeat, 'id'>;
  return { id, ...kept };
}

// The header is plain ASCII: JSON escapes all else.
const ascii = (text: string): Uint8Array => {
  const plain = text.replace(/[^\x20-\x7e]/g, escaped);
  return Uint8Array.from({ length: plain.length }, (_, i) => plain.charCodeAt(i));
};
const escaped = (c: string) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`;
const fromAscii = (bytes: Uint8Array): string => {
  let text = '';
  for (let i = 0; i < bytes.length; i += 4096) text += String.fromCharCode(...bytes.subarray(i, i + 4096));
  return text;
};
