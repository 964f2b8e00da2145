import type { Arrays } from './task';

/** What a helper is asked: rows of one task, given to it part by part through shared memory. */
export interface HelpMessage {
  task: string;
  settings: unknown;
  /** In shared memory, or copied with the message. */
  whole: Arrays;
  /** Memory for one part at a time. */
  part: SharedArrayBuffer;
  byRow: Places;
  out: Places;
  /** Numbers that both sides read and write: see `Control`. */
  control: SharedArrayBuffer;
}

/** Where arrays lie in the memory of a part: all rows of one, then all rows of the next. */
export type Places = Readonly<Record<string, Place>>;
export interface Place {
  kind: Kind;
  perRow: number;
  /** Bytes from the start. */
  at: number;
}

const KINDS = { Float32Array, Float64Array, Int32Array, Uint8Array };
export type Kind = keyof typeof KINDS;

export const kindOf = (array: Arrays[string]): Kind => array.constructor.name as Kind;

export const viewOf = (kind: Kind, buffer: ArrayBufferLike, at: number, length: number) =>
  new KINDS[kind](buffer as ArrayBuffer, at, length);

export const bytesPer = (kind: Kind): number => KINDS[kind].BYTES_PER_ELEMENT;

/** The arrays of a part that holds so many rows. */
export const viewsOf = (places: Places, buffer: ArrayBufferLike, rows: number): Arrays =>
  Object.fromEntries(
    Object.entries(places).map(([name, { kind, perRow, at }]) => [
      name,
      viewOf(kind, buffer, at, rows * perRow),
    ]),
  );

/** How far a helper is; each step is taken by one side only. */
export enum State {
  /** It has not read the message yet. */
  Coming,
  /** It waits for its first part. */
  Ready,
  /** It has been given a part. */
  Working,
  /** Its part is computed. */
  Done,
  /** It cannot go on. */
  Failed,
  /** Nothing more is wanted of it. */
  Ended,
}

/** State of one helper, and the rows of its part. */
export class Control {
  private readonly numbers: Int32Array;
  constructor(buffer: SharedArrayBuffer) {
    this.numbers = new Int32Array(buffer);
  }
  static readonly BYTES = 12;

  get state(): State {
    return Atomics.load(this.numbers, 0);
  }
  get from(): number {
    return this.numbers[1]!;
  }
  get to(): number {
    return this.numbers[2]!;
  }
  /** Sets the state, unless the other side has set it since. @returns whether it did */
  advance(from: State, to: State): boolean {
    const did = Atomics.compareExchange(this.numbers, 0, from, to) === from;
    Atomics.notify(this.numbers, 0);
    return did;
  }
  give(from: number, to: number): void {
    this.numbers[1] = from;
    this.numbers[2] = to;
    Atomics.store(this.numbers, 0, State.Working);
    Atomics.notify(this.numbers, 0);
  }
  end(): void {
    Atomics.store(this.numbers, 0, State.Ended);
    Atomics.notify(this.numbers, 0);
  }
  /** Blocks this thread while the state stays as it is. @returns false: it still is, after so many ms */
  waitWhile(state: State, limitMs = Infinity): boolean {
    const until = Date.now() + limitMs;
    // The other side may notify of an earlier step only now: that it did says nothing of the state.
    while (this.state === state) {
      if (Atomics.wait(this.numbers, 0, state, until - Date.now()) === 'timed-out')
        return this.state !== state;
    }
    return true;
  }
}
