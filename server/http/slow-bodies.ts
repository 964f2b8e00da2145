import type { FastifyInstance, FastifyRequest } from 'fastify';

/** A body that is no upload has this long to come in. */
const BODY_MS = 20_000;

/** Drops calls whose body trickles in: each would hold a connection for as long as its sender likes. */
export function refuseSlowBodies(app: Pick<FastifyInstance, 'addHook'>): void {
  const timers = new WeakMap<FastifyRequest, NodeJS.Timeout>();
  const end = async (request: FastifyRequest) => clearTimeout(timers.get(request));
  app.addHook('onRequest', async (request) => {
    const type = request.headers['content-type'] ?? '';
    if (request.method === 'GET' || type.startsWith('multipart/')) return;
    timers.set(
      request,
      setTimeout(() => request.raw.destroy(), BODY_MS),
    );
  });
  // The body is read before validation.
  app.addHook('preValidation', end);
  app.addHook('onError', end);
  app.addHook('onResponse', end);
  app.addHook('onRequestAbort', end);
}
