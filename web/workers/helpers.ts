import { setIdleCrew } from '@jossel/core/shared-rows';

const MOST_HELPERS = 3;
/** Cores that are busy already: the worker's own, and that of the page, which draws the proof. A helper there would only take turns with them. */
const BUSY_CORES = 2;

/**
 * Lets other threads help this worker with the rows of large pictures. Browsers share memory between threads only in pages that are
 * isolated from other sites, which the server asks for (`server/http/guards.ts`); elsewhere the worker computes alone.
 */
export function openHelpers(): void {
  const count = Math.min(MOST_HELPERS, navigator.hardwareConcurrency - BUSY_CORES);
  if (!crossOriginIsolated || count < 1) return;
  setIdleCrew(
    count,
    (lost) => {
      const worker = new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' });
      worker.onerror = lost;
      return { post: (message: unknown) => worker.postMessage(message), end: () => worker.terminate() };
    },
    (ms, run) => {
      const timer = setTimeout(run, ms);
      return () => clearTimeout(timer);
    },
  );
}
