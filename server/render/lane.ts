import type { MessagePort } from 'node:worker_threads';
import Piscina from 'piscina';
import { Stopped } from '@jossel/core/surface';
import { callerSignal } from '../http/call';
import { Problem } from '../problem';
import type { Serialised } from './serialise-errors';

/** When work in a lane is ended early. */
export interface Ending {
  /** How long it may take, waiting included, ms. */
  limitMs: number;
  /** Cancels the work; by default the signal of the current call. */
  cancelled?: AbortSignal | null;
}

/** Cancelled work has this long to stop by itself, ms; then its thread is terminated and replaced. */
const GRACE_MS = 2000;

/** What a thread is told when it starts. */
export interface ThreadData {
  /** What it may keep. */
  cacheBytes: number;
  /** How many other threads help it with the rows of large pictures. */
  helpers: number;
}

/** A thread pool for one kind of work, so that other kinds cannot block it. */
export class Lane {
  private readonly threads: Piscina;

  /**
   * @param file of the threads
   * @param most threads at once; they end when nothing is to be done
   * @param cacheBytes that each may keep
   */
  constructor(
    file: URL,
    readonly most: number,
    cacheBytes: number,
  ) {
    this.threads = new Piscina({
      filename: file.href,
      minThreads: 0,
      maxThreads: most,
      idleTimeout: 45_000,
      // One that computes alone uses all cores; several that compute at once share them.
      workerData: { cacheBytes, helpers: most - 1 } satisfies ThreadData,
    });
  }

  /** Runs one kind of work; what the thread refused is thrown here again under its name. */
  async run<T>(
    name: string,
    order: unknown,
    { limitMs, cancelled = callerSignal() }: Ending,
    transferList: MessagePort[] = [],
  ): Promise<T> {
    if (cancelled?.aborted) throw new Stopped();
    const end = new AbortController();
    let late = false;
    const timers = [
      setTimeout(() => {
        late = true;
        end.abort();
      }, limitMs),
    ];
    const onCancelled = () => timers.push(setTimeout(() => end.abort(), GRACE_MS));
    cancelled?.addEventListener('abort', onCancelled);
    try {
      const work = this.threads.run(order, { name, transferList, signal: end.signal });
      return valueOf((await work) as Serialised<T>);
    } catch (error) {
      if (!end.signal.aborted) throw error;
      throw late ? timeLimitExceeded(limitMs) : new Stopped();
    } finally {
      timers.forEach(clearTimeout);
      cancelled?.removeEventListener('abort', onCancelled);
    }
  }

  /** Work that waits for a thread. */
  get waiting(): number {
    return this.threads.queueSize;
  }

  close(): Promise<void> {
    return this.threads.destroy();
  }
}

/** What a thread has made. @throws what it has refused */
export function valueOf<T>(answer: Serialised<T>): T {
  if ('value' in answer) return answer.value;
  const { message, ...more } = answer.refusal;
  throw Object.assign(new Error(message), more);
}

export const timeLimitExceeded = (limitMs: number) =>
  new Problem(
    503,
    'Takes too long',
    `It was stopped after ${Math.round(limitMs / 1000)} seconds. Ask for fewer pixels or a smaller repeat, or try again when less is going on.`,
  );
