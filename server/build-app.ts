import { existsSync } from 'node:fs';
import multipart from '@fastify/multipart';
import staticFiles from '@fastify/static';
import swagger from '@fastify/swagger';
import fastify, { type FastifyError, type FastifyInstance } from 'fastify';
import {
  jsonSchemaTransform,
  serializerCompiler,
  validatorCompiler,
  type ZodTypeProvider,
} from 'fastify-type-provider-zod';
import { z } from 'zod';
import { config, LIMITS } from './config';
import { trackCallers } from './http/call';
import { sendProblem, toProblem } from './http/faults';
import { guard } from './http/guards';
import { allowedHosts } from './http/hosts';
import { readJson, refuseUnstorable } from './http/json-body';
import { serveMetrics } from './http/metrics';
import { refuseSlowBodies } from './http/slow-bodies';
import { Problem } from './problem';
import { ok, type App } from './routes/app';
import { finishRoutes } from './routes/finishes';
import { layoutRoutes } from './routes/layouts';
import { outsideRoutes } from './routes/outside';
import { projectRoutes } from './routes/projects';
import { lightSetRoutes } from './routes/light-sets';
import { sampleRoutes } from './routes/samples';
import { taskRoutes } from './routes/tasks';
import type { Context } from './services/context';
import { KEPT_DAYS, sizesOf } from './store';

/** Puts the HTTP interface together. */
export async function buildApp(
  context: Context,
  options: { log: (message: string) => void; ready: () => Promise<boolean> },
): Promise<App> {
  const app = fastify({
    bodyLimit: 8 * 1024 * 1024,
    forceCloseConnections: true,
    // For the whole of a request, the largest upload over a slow line included.
    requestTimeout: 300_000,
    http: { headersTimeout: 15_000, connectionsCheckingInterval: 5_000 },
    routerOptions: { maxParamLength: 300 },
  }).withTypeProvider<ZodTypeProvider>();
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  app.decorate('context', context);
  await guard(app, allowedHosts(config.host, config.hosts));
  refuseSlowBodies(app);
  trackCallers(app);
  app.removeContentTypeParser('application/json');
  app.addContentTypeParser(
    'application/json',
    { parseAs: 'buffer' },
    async (_request: unknown, body: Buffer) => readJson(body),
  );
  app.addHook('preValidation', async ({ query, params }) => {
    refuseUnstorable(query);
    refuseUnstorable(params);
  });
  await app.register(multipart, { limits: { fileSize: LIMITS.uploadBytes } });
  await app.register(swagger, {
    openapi: {
      openapi: '3.1.0',
      info: {
        title: 'Jossel',
        version: config.version,
        description: 'Finishes of true size, reflectance, gloss and relief.',
      },
    },
    transform: jsonSchemaTransform,
  });

  app.setErrorHandler((error: FastifyError | Problem, request, reply) =>
    sendProblem(reply, toProblem(error, request, options.log)),
  );

  serveMetrics(app as unknown as FastifyInstance, context);
  const healthQuery = z.object({ full: z.string().optional().describe('Also size and age of everything') });
  app.get(
    '/api/health',
    { schema: { summary: 'Whether it can be worked with', querystring: healthQuery, response: ok() } },
    async ({ query }, reply) => {
      if (!(await options.ready()))
        throw new Problem(
          503,
          'Not ready',
          'The database or the workers are not ready yet. Try again in a moment.',
        );
      const health = { status: 'ok', version: config.version };
      if (query.full === undefined) return reply.send(health);
      const { rss } = process.memoryUsage();
      return reply.send({
        ...health,
        startedAt: new Date(Date.now() - 1000 * process.uptime()),
        memoryBytes: rss,
        waitingForThreads: context.pool.waiting(),
        stored: await sizesOf(context.database),
        keptDays: KEPT_DAYS,
      });
    },
  );
  sampleRoutes(app);
  lightSetRoutes(app);
  finishRoutes(app);
  layoutRoutes(app);
  outsideRoutes(app);
  taskRoutes(app);
  projectRoutes(app);
  app.get('/api/openapi.json', { schema: { hide: true } }, async () => app.swagger());

  if (existsSync(config.webFolder)) {
    await app.register(staticFiles, {
      root: config.webFolder,
      setHeaders: (reply, path) =>
        void reply.header(
          'cache-control',
          path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    });
  }
  app.setNotFoundHandler((request, reply) => {
    // Any other page address is the interface's own. A reply that is returned is waited for by each handler it has passed through.
    if (request.method === 'GET' && !request.url.startsWith('/api/') && existsSync(config.webFolder))
      return void reply.sendFile('index.html');
    const where = `${request.method} ${request.url.split('?')[0]}`;
    return sendProblem(
      reply,
      new Problem(
        404,
        'Not found',
        `There is nothing at ${where}. What there is stands in /api/openapi.json.`,
      ),
    );
  });
  return app;
}
