import type { Steps } from '../steps';
import { bytesPer, Control, kindOf, State, viewOf, viewsOf, type HelpMessage, type Places } from './message';
import { rowsOf, type Arrays, type RowTask, type RowWork } from './task';

/** A thread that helps with rows; it calls `help` with what it is posted. */
export interface Helper {
  post(message: HelpMessage): void;
}

/** The threads that help this one. */
export interface Crew {
  /** Called when rows are about to be shared out. */
  gather(): readonly Helper[];
  /** Called when none is needed for now. */
  rest(): void;
}

let crew: Crew | null = null;
/** One computation at a time is helped; another one that runs in between is done alone. */
let helped = false;
/**
 * Memory that is shared with helpers, used again by the next computation: an engine does not count shared memory as garbage that
 * is worth collecting.
 */
const wholeMemory = new Map<string, SharedArrayBuffer>();
const partMemory = new Map<Helper, SharedArrayBuffer>();

/** Tells who helps this thread from now on; null: nobody. */
export function setCrew(helpers: Crew | null): void {
  crew = helpers;
  releaseSharedMemory();
}

/** Whether other threads help this one. */
export const isHelped = (): boolean => crew !== null;

/** Lets go of the memory that is shared with helpers. */
export function releaseSharedMemory(): void {
  wholeMemory.clear();
  partMemory.clear();
}

/** Shared memory of at least so many bytes. */
function memoryOf<K>(kept: Map<K, SharedArrayBuffer>, key: K, bytes: number): SharedArrayBuffer {
  const known = kept.get(key);
  if (known && known.byteLength >= bytes) return known;
  const made = new SharedArrayBuffer(bytes);
  kept.set(key, made);
  return made;
}

/** Below so many results, asking for help takes longer than computing. */
const LEAST_RESULTS = 1 << 17;
/** So many parts for each thread, so that all end at about the same time. */
const PARTS = 6;
/** While a helper computes its part, this thread computes so many of its own and looks after helpers in between. */
const OWN_PARTS = 4;
const MOST_PART_BYTES = 32 << 20;
/** Parts have so many results at most: work is left only between two, and at its end the last ones are waited for. */
const MOST_PART_RESULTS = 1 << 18;
/** A helper that does not answer for so long is lost; its part is computed here. */
const LOST_MS = 20_000;

/**
 * Computes rows, with the help of other threads where there are some and it is worth it. The results are the same bits for any
 * number of threads, as no row depends on another.
 *
 * @throws whatever the task throws
 */
export function* shareRows<S, W extends Arrays, R extends Arrays, O extends Arrays>(
  task: RowTask<S, W, R, O>,
  work: RowWork<S, W, R, O>,
): Steps<void> {
  const results = Object.values(work.out).reduce((sum, { length }) => sum + length, 0);
  const helpers = crew && !helped && results >= LEAST_RESULTS ? crew.gather() : [];
  const partRows = partRowsOf(work, helpers.length + 1);
  if (helpers.length === 0) {
    yield* computeAlone(task, work, Math.max(1, Math.floor(partRows / OWN_PARTS)));
    return;
  }
  helped = true;
  const whole = inSharedMemory(work.whole);
  const parts = helpers.map((helper) => new HelpedPart(helper, task.name, { ...work, whole }, partRows));
  try {
    yield* computeTogether(task, work, parts, partRows);
  } finally {
    for (const part of parts) part.end();
    helped = false;
    crew?.rest();
  }
}

function partRowsOf({ rows, byRow, out }: RowWork<unknown, Arrays, Arrays, Arrays>, threads: number): number {
  const bytesPerRow = [...Object.values(byRow), ...Object.values(out)].reduce(
    (sum, { byteLength }) => sum + byteLength / rows,
    0,
  );
  const resultsPerRow = Object.values(out).reduce((sum, { length }) => sum + length / rows, 0);
  const most = Math.min(
    rows / (PARTS * threads),
    MOST_PART_BYTES / bytesPerRow,
    MOST_PART_RESULTS / resultsPerRow,
  );
  return Math.max(1, Math.floor(most));
}

function* computeAlone<S, W extends Arrays, R extends Arrays, O extends Arrays>(
  task: RowTask<S, W, R, O>,
  { settings, whole, byRow, out, rows }: RowWork<S, W, R, O>,
  partRows: number,
): Steps<void> {
  const compute = task.begin(settings, whole);
  for (let from = 0; from < rows; from += partRows) {
    const to = Math.min(rows, from + partRows);
    compute(rowsOf(byRow, rows, from, to), rowsOf(out, rows, from, to), from, to);
    yield;
  }
}

/** This thread takes rows from the first on, helpers from the last back, until they meet. */
function* computeTogether<S, W extends Arrays, R extends Arrays, O extends Arrays>(
  task: RowTask<S, W, R, O>,
  work: RowWork<S, W, R, O>,
  parts: readonly HelpedPart[],
  partRows: number,
): Steps<void> {
  const { settings, whole, byRow, out, rows } = work;
  const compute = task.begin(settings, whole);
  const computeHere = (from: number, to: number) =>
    compute(rowsOf(byRow, rows, from, to), rowsOf(out, rows, from, to), from, to);
  const ownRows = Math.max(1, Math.floor(partRows / OWN_PARTS));
  let [first, end] = [0, rows];
  while (first < end) {
    for (const part of parts) {
      if (!part.settled(computeHere) || first >= end) continue;
      const from = Math.max(first, end - partRows);
      if (part.give(from, end)) end = from;
    }
    const to = Math.min(end, first + ownRows);
    if (to > first) computeHere(first, to);
    first = to;
    yield;
  }
  for (const part of parts) part.await(computeHere);
}

/** The rows that one helper computes at a time. */
class HelpedPart {
  private readonly control: Control;
  private readonly buffer: SharedArrayBuffer;
  private readonly byRow: Places;
  private readonly out: Places;
  /** Rows that it has been given and that are not collected yet. */
  private given: { from: number; to: number } | null = null;

  constructor(
    helper: Helper,
    task: string,
    private readonly work: RowWork<unknown, Arrays, Arrays, Arrays>,
    partRows: number,
  ) {
    const layout = new PartLayout(work.rows, partRows);
    this.byRow = layout.placesOf(work.byRow);
    this.out = layout.placesOf(work.out);
    this.buffer = memoryOf(partMemory, helper, layout.bytes);
    const control = new SharedArrayBuffer(Control.BYTES);
    this.control = new Control(control);
    const { settings, whole } = work;
    helper.post({ task, settings, whole, part: this.buffer, byRow: this.byRow, out: this.out, control });
  }

  /** Collects what is computed. @returns whether the helper has nothing to do */
  settled(computeHere: (from: number, to: number) => void): boolean {
    const { state } = this.control;
    if (state === State.Done) this.collect();
    if (state === State.Failed) this.takeBack(computeHere);
    return this.given === null;
  }

  /** @returns false: it cannot take any */
  give(from: number, to: number): boolean {
    const { state } = this.control;
    if (state !== State.Ready && state !== State.Done) return false;
    const { byRow, rows } = this.work;
    const views = viewsOf(this.byRow, this.buffer, to - from);
    for (const [name, some] of Object.entries(rowsOf(byRow, rows, from, to))) views[name]!.set(some);
    this.given = { from, to };
    this.control.give(from, to);
    return true;
  }

  /** Waits for what it has been given last. */
  await(computeHere: (from: number, to: number) => void): void {
    if (this.given && !this.control.waitWhile(State.Working, LOST_MS)) this.takeBack(computeHere);
    this.settled(computeHere);
  }

  end(): void {
    this.control.end();
  }

  private collect(): void {
    if (!this.given) return;
    const { from, to } = this.given;
    const views = viewsOf(this.out, this.buffer, to - from);
    for (const [name, some] of Object.entries(rowsOf(this.work.out, this.work.rows, from, to)))
      some.set(views[name]!);
    this.given = null;
  }

  private takeBack(computeHere: (from: number, to: number) => void): void {
    if (!this.given) return;
    const { from, to } = this.given;
    this.given = null;
    computeHere(from, to);
  }
}

/** Lays arrays of a part out one after another. */
class PartLayout {
  bytes = 0;
  constructor(
    private readonly rows: number,
    private readonly partRows: number,
  ) {}
  placesOf(arrays: Arrays): Places {
    return Object.fromEntries(
      Object.entries(arrays).map(([name, array]) => {
        const [kind, perRow, at] = [kindOf(array), array.length / this.rows, this.bytes];
        this.bytes = Math.ceil((at + this.partRows * perRow * bytesPer(kind)) / 16) * 16;
        return [name, { kind, perRow, at }];
      }),
    );
  }
}

/** Copies of arrays that other threads can look at. */
function inSharedMemory(arrays: Arrays): Arrays {
  const copies = Object.entries(arrays).map(([name, array]) => {
    const copy = viewOf(kindOf(array), memoryOf(wholeMemory, name, array.byteLength), 0, array.length);
    copy.set(array);
    return [name, copy];
  });
  return Object.fromEntries(copies);
}
