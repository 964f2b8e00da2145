/** The hash of all that a result depends on. */
export type Key = string;

/** A result that is computed when it is first asked for; its key is known before. */
export interface Pending<T> {
  readonly key: Key;
  get(): Promise<T>;
  /** Lets the value go, where it can be made again: asked for after that, it is. */
  letGo?(): void;
}
