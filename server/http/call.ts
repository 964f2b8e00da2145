import { AsyncLocalStorage } from 'node:async_hooks';
import type { FastifyInstance } from 'fastify';

/** The call that something is computed for: when whoever asked leaves, it need not be finished. */

const calls = new AsyncLocalStorage<AbortSignal | null>();

/** Aborted when the client of the call that is being answered has left; null: it is nobody's call. */
export const clientLeft = (): AbortSignal | null => calls.getStore() ?? null;

/** Does what has its worth whether or not anybody waits for it. */
export const forAnybody = <T>(work: () => T): T => calls.run(null, work);

/** Lets all that is computed for a call know when its client leaves. */
export function followClients(app: Pick<FastifyInstance, 'addHook'>): void {
  app.addHook('onRequest', (_request, reply, done) => {
    const left = new AbortController();
    reply.raw.on('close', () => {
      if (!reply.raw.writableFinished) left.abort();
    });
    calls.run(left.signal, done);
  });
}
