import type { FastifyInstance } from 'fastify';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { Context } from '../services/context';
import { sizesOf } from '../store';

/** Figures for monitoring, in Prometheus' text format at /metrics. */
export function serveMetrics(app: FastifyInstance, { database, pool }: Context): void {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  const duration = new Histogram({
    name: 'jossel_http_seconds',
    help: 'How long calls took to be answered',
    labelNames: ['method', 'route', 'status'],
    buckets: [0.01, 0.03, 0.06, 0.15, 0.5, 2, 10, 60],
    registers: [registry],
  });
  app.addHook('onResponse', async (request, reply) => {
    // Of what matched no route, addresses are not kept: anybody can make them up.
    const route = request.routeOptions.url ?? 'none';
    duration.observe({ method: request.method, route, status: reply.statusCode }, reply.elapsedTime / 1000);
  });

  const gauge = (name: string, help: string, labelNames: string[] = []) =>
    new Gauge({ name, help, labelNames, registers: [registry] });
  const things = gauge('jossel_things', 'How many there are, by kind', ['kind']);
  const bytes = gauge('jossel_stored_bytes', 'Bytes stored, by kind', ['kind']);
  const tasks = gauge('jossel_tasks', 'Tasks by kind and state', ['kind', 'state']);
  const waiting = gauge('jossel_waiting_for_threads', 'Work that waits for a computing thread', ['lane']);
  app.get('/metrics', { schema: { hide: true } }, async (_request, reply) => {
    const sizes = await sizesOf(database);
    things.set({ kind: 'samples' }, sizes.samples.count);
    things.set({ kind: 'finishes' }, sizes.finishes.count);
    things.set({ kind: 'revisions' }, sizes.finishes.revisions);
    things.set({ kind: 'projects' }, sizes.projects);
    things.set({ kind: 'swatches' }, sizes.swatches.count);
    things.set({ kind: 'solved repeats' }, sizes.solvedRepeats.count);
    bytes.set({ kind: 'database' }, sizes.databaseBytes);
    bytes.set({ kind: 'samples' }, sizes.samples.bytes);
    bytes.set({ kind: 'swatches' }, sizes.swatches.bytes);
    bytes.set({ kind: 'solved repeats' }, sizes.solvedRepeats.bytes);
    bytes.set({ kind: 'handovers' }, sizes.handovers.bytes);
    bytes.set({ kind: 'all' }, sizes.blobs.bytes);
    for (const kind of ['renders', 'handovers'] as const)
      for (const state of ['waiting', 'running'] as const) tasks.set({ kind, state }, sizes[kind][state]);
    const lanes = pool.waiting();
    waiting.set({ lane: 'asked' }, lanes.asked);
    waiting.set({ lane: 'jobs' }, lanes.jobs);
    return reply.type(registry.contentType).send(await registry.metrics());
  });
}
