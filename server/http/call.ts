import { AsyncLocalStorage } from 'node:async_hooks';
import type { FastifyInstance } from 'fastify';

/** Carries the cancellation of an HTTP call to everything that is computed for it. */

const calls = new AsyncLocalStorage<AbortSignal | null>();

/** Aborted when the client of the current call disconnects; null: the work belongs to no call. */
export const callerSignal = (): AbortSignal | null => calls.getStore() ?? null;

/** Runs work whose result is kept even if the client of the current call disconnects. */
export const detachedFromCaller = <T>(work: () => T): T => calls.run(null, work);

/** Aborts the signal of a call when its client disconnects before the answer is complete. */
export function trackCallers(app: Pick<FastifyInstance, 'addHook'>): void {
  app.addHook('onRequest', (_request, reply, done) => {
    const left = new AbortController();
    reply.raw.on('close', () => {
      if (!reply.raw.writableFinished) left.abort();
    });
    calls.run(left.signal, done);
  });
}
