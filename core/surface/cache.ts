/** Results under the hash of all they depend on; the least recently used go first when it is full. */
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
    for (const [oldest, entry] of this.entries) {
      if (this.held <= this.capacityBytes || oldest === key) break;
      this.entries.delete(oldest);
      this.held -= entry.bytes;
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
