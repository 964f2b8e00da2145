import { existsSync } from 'node:fs';
import multipart from '@fastify/multipart';
import staticFiles from '@fastify/static';
import swagger from '@fastify/swagger';
import fastify, { type FastifyError } from 'fastify';
import {
  hasZodFastifySchemaValidationErrors,
  jsonSchemaTransform,
  serializerCompiler,
  validatorCompiler,
  type ZodTypeProvider,
} from 'fastify-type-provider-zod';
import { z } from 'zod';
import { config, LIMITS } from './config';
import { Problem } from './problem';
import { type App } from './routes/app';
import { finishRoutes } from './routes/finishes';
import { layoutRoutes } from './routes/layouts';
import { outsideRoutes } from './routes/outside';
import { projectRoutes } from './routes/projects';
import { lightSetRoutes } from './routes/light-sets';
import { sampleRoutes } from './routes/samples';
import { taskRoutes } from './routes/tasks';
import type { Context } from './services/context';
import { isConnectionError } from './store';

/** Puts the HTTP interface together. */
export async function buildApp(
  context: Context,
  options: { log: (message: string) => void; ready: () => Promise<boolean> },
): Promise<App> {
  const app = fastify({
    bodyLimit: 8 * 1024 * 1024,
    forceCloseConnections: true,
  }).withTypeProvider<ZodTypeProvider>();
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  app.decorate('context', context);
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

  app.setErrorHandler((error: FastifyError | Problem, request, reply) => {
    const problem = toProblem(error);
    if (problem.status >= 500) options.log(`${request.method} ${request.url}: ${error.stack}`);
    return reply
      .status(problem.status)
      .header('content-type', 'application/problem+json')
      .serializer((body: unknown) => JSON.stringify(body))
      .send({
        type: 'about:blank',
        title: problem.title,
        status: problem.status,
        detail: problem.detail,
        ...problem.extra,
      });
  });

  app.get('/api/health', async (_request, reply) => {
    if (!(await options.ready()))
      throw new Problem(
        503,
        'Not ready',
        'The database or the workers are not ready yet. Try again in a moment.',
      );
    return reply.send({ status: 'ok', version: config.version });
  });
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
    // Any other page address is the interface's own.
    if (request.method === 'GET' && !request.url.startsWith('/api/') && existsSync(config.webFolder))
      return reply.sendFile('index.html');
    return reply
      .status(404)
      .header('content-type', 'application/problem+json')
      .send(
        JSON.stringify({
          type: 'about:blank',
          title: 'Not found',
          status: 404,
          detail: `There is nothing at ${request.method} ${request.url}. What there is stands in /api/openapi.json.`,
        }),
      );
  });
  return app;
}

function toProblem(error: FastifyError | Problem | z.ZodError): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof z.ZodError) {
    return new Problem(400, 'Not valid', error.issues.map((i) => i.message).join(' '), {
      errors: error.issues.map((i) => ({ path: i.path.join('.'), message: i.message })),
    });
  }
  if (hasZodFastifySchemaValidationErrors(error)) {
    const errors = error.validation.map((v) => ({
      path: v.instancePath.slice(1).replaceAll('/', '.'),
      message: v.message ?? 'is not valid',
    }));
    return new Problem(
      400,
      'Not valid',
      errors.map((e) => (e.path ? `${e.path}: ${e.message}` : e.message)).join(' '),
      { errors },
    );
  }
  if (isConnectionError(error))
    return new Problem(
      503,
      'Database away',
      'The database does not answer. What you made is still in this window; it is saved as soon as the database is back.',
    );
  const status = 'statusCode' in error && error.statusCode ? error.statusCode : 500;
  if (status === 413)
    return new Problem(413, 'Too large', `The request is larger than is taken. ${error.message}`);
  if (status < 500) return new Problem(status, 'Not valid', error.message);
  return new Problem(500, 'Fault in Jossel', `Something went wrong inside Jossel: ${error.message}`);
}
