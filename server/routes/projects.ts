import { z } from 'zod';
import { projectCameraSchema, surfaceCameraSchema } from '@jossel/core/schedule';
import * as projects from '../services/projects';
import { projectPlan } from '../services/relief-plans';
import { longText, nameText } from '../http/text';
import { ok, type App } from './app';

const uuid = z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.');
const id = z.object({ id: uuid });
const name = nameText(200, 'Give it a name.');
const length = z
  .number()
  .gt(0, 'A length is above 0 mm.')
  .max(1e6, 'A length is at most 1 000 000 mm.')
  .describe('mm');
const surface = z.object({
  name,
  widthMm: length,
  heightMm: length,
  directionDeg: z
    .union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)])
    .optional()
    .describe('How far the finish is turned on the surface'),
  camera: surfaceCameraSchema
    .nullable()
    .optional()
    .describe('Where it is for the camera that relief is planned for; null: as the project says'),
  finish: z
    .object({
      id: uuid,
      revision: z
        .string()
        .regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …')
        .optional(),
      way: z.string().min(1).max(40).nullish().describe('A colourway by its id; none: the finish itself'),
    })
    .nullable()
    .optional()
    .describe('Without a revision the newest issued one is taken'),
});

/** Projects, rooms and surfaces. */
export function projectRoutes(app: App): void {
  app.get('/api/projects', { schema: { summary: 'All projects', response: ok() } }, async () => ({
    items: await projects.allProjects(app.context),
  }));
  app.post(
    '/api/projects',
    {
      schema: {
        summary: 'A new project',
        body: z.object({ name, note: longText(5000).default('') }),
        response: ok(201),
      },
    },
    async ({ body }, reply) => reply.status(201).send(await projects.createProject(app.context, body)),
  );
  app.get(
    '/api/projects/:id',
    { schema: { summary: 'A project with rooms, surfaces and mapping figures', params: id, response: ok() } },
    async ({ params }) => projects.showProject(app.context, params.id),
  );
  app.post(
    '/api/projects/:id/rooms',
    { schema: { summary: 'A new room', params: id, body: z.object({ name }), response: ok(201) } },
    async ({ params, body }, reply) =>
      reply.status(201).send(await projects.createRoom(app.context, params.id, body.name)),
  );
  app.post(
    '/api/rooms/:id/surfaces',
    { schema: { summary: 'A new surface', params: id, body: surface, response: ok(201) } },
    async ({ params, body }, reply) =>
      reply.status(201).send(await projects.createSurface(app.context, params.id, body)),
  );
  app.patch(
    '/api/surfaces/:id',
    {
      schema: {
        summary: 'Change a surface, or what lies on it',
        params: id,
        body: surface.partial(),
        response: ok(),
      },
    },
    async ({ params, body }) => projects.changeSurface(app.context, params.id, body),
  );
  app.patch(
    '/api/projects/:id',
    {
      schema: {
        summary: 'Rename a project, change its note, or the camera that relief is planned for',
        params: id,
        body: z.object({
          name: name.optional(),
          note: longText(5000).optional(),
          camera: projectCameraSchema.nullable().optional(),
        }),
        response: ok(),
      },
    },
    async ({ params, body }) => projects.changeProject(app.context, params.id, body),
  );
  app.post(
    '/api/projects/:id/newest-revisions',
    {
      schema: {
        summary: 'Lay the newest revisions where older ones lie, on all surfaces or on those named',
        params: id,
        body: z.object({ surfaceIds: z.array(uuid).max(5000).optional() }).nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => projects.takeNewest(app.context, params.id, body?.surfaceIds),
  );
  app.post(
    '/api/projects/:id/relief-plan',
    {
      schema: {
        summary:
          'What the relief of every surface needs for one camera, near and far, within one budget: zones by distance, each with its mesh or with normals or colour alone',
        params: id,
        body: z
          .object({ camera: projectCameraSchema.optional().describe('Default: that of the project') })
          .nullish(),
        response: ok(),
      },
    },
    async ({ params, body }) => projectPlan(app.context, params.id, body?.camera ?? null),
  );
  app.patch(
    '/api/rooms/:id',
    { schema: { summary: 'Rename a room', params: id, body: z.object({ name }), response: ok() } },
    async ({ params, body }) => projects.renameRoom(app.context, params.id, body.name),
  );
  app.post(
    '/api/rooms/:id/duplicate',
    { schema: { summary: 'A copy of a room with its surfaces', params: id, response: ok(201) } },
    async ({ params }, reply) => reply.status(201).send(await projects.duplicateRoom(app.context, params.id)),
  );
  app.post(
    '/api/surfaces/:id/duplicate',
    { schema: { summary: 'A copy of a surface in the same room', params: id, response: ok(201) } },
    async ({ params }, reply) =>
      reply.status(201).send(await projects.duplicateSurface(app.context, params.id)),
  );
  for (const what of projects.REMOVABLE) {
    app.delete(
      `/api/${what}/:id`,
      { schema: { summary: `Remove one of the ${what}; it can be restored`, params: id } },
      async ({ params }, reply) => {
        await projects.remove(app.context, what, params.id);
        return reply.status(204).send();
      },
    );
    app.post(
      `/api/${what}/:id/restore`,
      { schema: { summary: `Restore one of the ${what} that was removed`, params: id } },
      async ({ params }, reply) => {
        await projects.restore(app.context, what, params.id);
        return reply.status(204).send();
      },
    );
  }
}
