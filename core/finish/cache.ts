/** Results of stages under the hash of all they depend on; the least recently used go first when it is full. */
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

  /** Sets a value and hands it back. */
  keep<T>(key: string, value: T): T {
    this.set(key, value);
    return value;
  }

  set(key: string, value: unknown): void {
    const bytes = sizeOf(value);
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
}

function sizeOf(value: unknown): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  if (value && typeof value === 'object')
    return Object.values(value).reduce<number>((sum, v) => sum + sizeOf(v), 64);
  return 8;
}
