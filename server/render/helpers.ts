import { Worker } from 'node:worker_threads';
import { setIdleCrew } from '@jossel/core/shared-rows';

/**
 * Lets other threads help this one with the rows of large pictures.
 * @param file of the helpers
 * @param count how many, besides this thread
 */
export function openHelpers(file: URL, count: number): void {
  setIdleCrew(
    count,
    (lost) => {
      const worker = new Worker(file);
      worker.unref();
      worker.on('error', lost);
      return {
        post: (message: unknown) => worker.postMessage(message),
        end: () => void worker.terminate(),
      };
    },
    (ms, run) => {
      const timer = setTimeout(run, ms).unref();
      return () => clearTimeout(timer);
    },
  );
}
