import { Worker } from 'node:worker_threads';
import { releaseSharedMemory, setCrew, type Helper } from '@jossel/core/shared-rows';

/** Without anything to do they end after this long, ms. */
const IDLE_MS = 10_000;

/**
 * Lets other threads help this one with the rows of large pictures. They are started when they are first needed.
 * @param file of the helpers
 * @param count how many, besides this thread
 */
export function openHelpers(file: URL, count: number): void {
  let helpers: (Helper & { worker: Worker })[] = [];
  let idle: NodeJS.Timeout | undefined;
  const end = () => {
    for (const { worker } of helpers) void worker.terminate();
    helpers = [];
    releaseSharedMemory();
  };
  const start = () => {
    const worker = new Worker(file);
    worker.unref();
    // Without it, this thread computes alone until the next time.
    worker.on('error', end);
    return { worker, post: (message: unknown) => worker.postMessage(message) };
  };
  setCrew({
    gather() {
      clearTimeout(idle);
      if (helpers.length === 0) helpers = Array.from({ length: count }, start);
      return helpers;
    },
    rest() {
      clearTimeout(idle);
      idle = setTimeout(end, IDLE_MS).unref();
    },
  });
}
