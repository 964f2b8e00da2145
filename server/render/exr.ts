import { promisify } from 'node:util';
import { deflate } from 'node:zlib';

/** Compresses in libuv's threads. */
const deflated = promisify<Uint8Array, { level: number }, Buffer>(deflate);

/**
 * OpenEXR with one channel of 32-bit floats, by scan lines, ZIP compressed: written here because the packages that write
 * OpenEXR store four channels. Layout: "Technical Introduction to OpenEXR" and "OpenEXR File Layout", openexr.com.
 */

const ROWS_PER_BLOCK = 16;
const FLOAT = 2;
const ZIP = 3;

const int = (value: number) => {
  const out = Buffer.alloc(4);
  out.writeInt32LE(value);
  return out;
};
const float = (value: number) => {
  const out = Buffer.alloc(4);
  out.writeFloatLE(value);
  return out;
};
const text = (value: string) => Buffer.from(`${value}\0`, 'latin1');
const attribute = (name: string, type: string, ...value: Buffer[]) => {
  const data = Buffer.concat(value);
  return Buffer.concat([text(name), text(type), int(data.length), data]);
};
/** A string attribute: its length is that of the attribute. */
const words = (name: string, value: string) => attribute(name, 'string', Buffer.from(value, 'utf8'));

/** Blocks that are compressed at once. */
const BLOCKS_AT_ONCE = 64;

/**
 * Writes a plane as an OpenEXR file with the channel Y. The thread that asks may go on computing meanwhile.
 * @param plane rows from the top; values are kept as they are
 * @param comments said of the values, such as their unit
 */
export async function writeExr(
  { widthPx, heightPx, data }: { widthPx: number; heightPx: number; data: Float32Array },
  comments: string,
): Promise<Uint8Array> {
  const box = [int(0), int(0), int(widthPx - 1), int(heightPx - 1)];
  const header = Buffer.concat([
    int(20000630),
    int(2),
    attribute('channels', 'chlist', text('Y'), int(FLOAT), int(0), int(1), int(1), Buffer.alloc(1)),
    words('comments', comments),
    attribute('compression', 'compression', Buffer.from([ZIP])),
    attribute('dataWindow', 'box2i', ...box),
    attribute('displayWindow', 'box2i', ...box),
    attribute('lineOrder', 'lineOrder', Buffer.from([0])),
    attribute('pixelAspectRatio', 'float', float(1)),
    attribute('screenWindowCenter', 'v2f', float(0), float(0)),
    attribute('screenWindowWidth', 'float', float(1)),
    words('writer', 'Jossel'),
    Buffer.alloc(1),
  ]);
  const blockAt = async (y: number): Promise<Buffer> => {
    const rows = data.subarray(y * widthPx, Math.min(heightPx, y + ROWS_PER_BLOCK) * widthPx);
    const raw = new Uint8Array(rows.buffer, rows.byteOffset, rows.byteLength);
    const packed = await deflated(predicted(raw), { level: 4 });
    // What does not get smaller is stored as it is.
    const stored = packed.length < raw.length ? packed : raw;
    return Buffer.concat([int(y), int(stored.length), stored]);
  };
  const blocks: Buffer[] = [];
  const starts = Array.from({ length: Math.ceil(heightPx / ROWS_PER_BLOCK) }, (_, k) => k * ROWS_PER_BLOCK);
  for (let k = 0; k < starts.length; k += BLOCKS_AT_ONCE)
    blocks.push(...(await Promise.all(starts.slice(k, k + BLOCKS_AT_ONCE).map(blockAt))));
  const offsets = Buffer.alloc(8 * blocks.length);
  let at = header.length + offsets.length;
  blocks.forEach((block, k) => {
    offsets.writeBigUInt64LE(BigInt(at), 8 * k);
    at += block.length;
  });
  return Buffer.concat([header, offsets, ...blocks]);
}

/** What is compressed: even bytes before odd ones, each as its difference from the one before, plus 128. */
function predicted(raw: Uint8Array): Uint8Array {
  const out = new Uint8Array(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i]!;
  for (let i = out.length - 1; i > 0; i--) out[i] = out[i]! - out[i - 1]! + 128;
  return out;
}
