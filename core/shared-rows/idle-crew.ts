import { releaseSharedMemory, setCrew, type Helper } from './share';

/** A thread that helps, and can be ended. */
export interface HelperThread extends Helper {
  end(): void;
}

/** Without anything to do threads end after this long, ms. */
const IDLE_MS = 10_000;

/**
 * Lets threads help this one. They are started when they are first needed, and end when they have had nothing to do for a while.
 * @param start starts one; it calls `lost` where that thread has failed: this one then computes alone until the next time
 * @param after calls back after some ms, and returns what cancels it
 */
export function setIdleCrew(
  count: number,
  start: (lost: () => void) => HelperThread,
  after: (ms: number, run: () => void) => () => void,
): void {
  let threads: HelperThread[] = [];
  let cancel = (): void => undefined;
  const end = () => {
    for (const thread of threads) thread.end();
    threads = [];
    releaseSharedMemory();
  };
  setCrew({
    gather() {
      cancel();
      if (threads.length === 0) threads = Array.from({ length: count }, () => start(end));
      return threads;
    },
    rest() {
      cancel();
      cancel = after(IDLE_MS, end);
    },
  });
}
