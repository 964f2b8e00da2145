/** What is above this share of a cache is large: a few such results would push out all that is small. */
const LARGE_SHARE = 1 / 16;

/**
 * Results under the hash of all they depend on. When it is full, large ones go first, then small ones, each time the least
 * recently used. The newest stays: one that is larger than the cache leaves what is small beside it.
 */
export class StageCache {
  private readonly entries = new Map<string, { value: unknown; bytes: number }>();
  private held = 0;

  /** @param capacityBytes how much is kept */
  constructor(private readonly capacityBytes = 512 * 1024 * 1024) {}

  get<T>(key: string): T | undefined {
    const entry = this.entries.get(key);
    if (!entry) return undefined;
    this.entries.delete(key);
    this.entries.set(key, entry);
    return entry.value as T;
  }

  set(key: string, value: unknown): void {
    const bytes = bytesOf(value);
    const before = this.entries.get(key);
    if (before) this.held -= before.bytes;
    this.entries.delete(key);
    this.entries.set(key, { value, bytes });
    this.held += bytes;
    const large = LARGE_SHARE * this.capacityBytes;
    this.letGo(large, this.capacityBytes, key);
    this.letGo(0, this.capacityBytes + (bytes > large ? bytes : 0), key);
  }

  /** Deletes what is larger than so many bytes, the least recently used first, until no more than `most` is held. @param newest stays */
  private letGo(largerThan: number, most: number, newest: string): void {
    if (this.held <= most) return;
    for (const [key, { bytes }] of this.entries) {
      if (this.held <= most) return;
      if (bytes <= largerThan || key === newest) continue;
      this.entries.delete(key);
      this.held -= bytes;
    }
  }

  /** What was kept under a key, or is made now and kept. */
  async known<T>(key: string, make: () => T | Promise<T>): Promise<T> {
    const before = this.get<T>(key);
    if (before !== undefined) return before;
    const made = await make();
    this.set(key, made);
    return made;
  }

  /** Bytes of all that is kept. */
  get heldBytes(): number {
    return this.held;
  }
}

/** What an object or a collection takes beside what it holds, roughly. */
const OBJECT_BYTES = 64;
const VALUE_BYTES = 8;

/**
 * Bytes that a value takes: buffers in full, once each however many views and paths lead to them; strings, objects, maps
 * and sets by their content. A function counts as an object: what it closes over cannot be seen, so that results must
 * not hide data in closures.
 */
export function bytesOf(value: unknown, seen: Set<unknown> = new Set()): number {
  if (typeof value === 'string') return 2 * value.length + VALUE_BYTES;
  if (value === null || (typeof value !== 'object' && typeof value !== 'function')) return VALUE_BYTES;
  const whole = ArrayBuffer.isView(value) ? value.buffer : value;
  if (seen.has(whole)) return VALUE_BYTES;
  seen.add(whole);
  if (ArrayBuffer.isView(value)) return value.buffer.byteLength + OBJECT_BYTES;
  if (value instanceof ArrayBuffer) return value.byteLength + OBJECT_BYTES;
  let sum = OBJECT_BYTES;
  const inside: Iterable<unknown> =
    value instanceof Map ? [...value].flat() : value instanceof Set ? value : Object.values(value);
  for (const part of inside) sum += bytesOf(part, seen);
  return sum;
}
