import { MAP_NAMES } from '@jossel/core/finish';
import { z } from 'zod';
import * as tasks from '../services/tasks';
import { sendBlob } from '../http/send-blob';
import { ok, type App } from './app';

const id = z.object({ id: z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.') });
const revision = z
  .string()
  .regex(/^[A-Z]{1,3}$/, 'A revision is a letter: A, B, C …')
  .optional();

const way = z
  .string()
  .min(1)
  .max(40)
  .optional()
  .describe('A colourway by its id; default: the finish itself');

const splitMm = z
  .number()
  .min(0.01, 'A wavelength is at least 0.01 mm.')
  .max(1e5, 'A wavelength is at most 100 m.')
  .optional()
  .describe(
    'Wavelength at which the relief is shared, mm: the height holds longer waves, for a mesh, and the normals shorter ones. Left out: each holds all of it',
  );

const packageWanted = z.object({
  items: z
    .array(z.object({ finishId: id.shape.id, revision, way, splitMm }))
    .min(1, 'Choose at least one finish.')
    .max(200, 'At most 200 finishes at once.')
    .optional(),
  projectId: id.shape.id
    .optional()
    .describe('All that lies on the surfaces of this project, in place of items'),
  colourways: z.boolean().optional().describe('Each finish with all its colourways'),
  splitMm: splitMm.describe('The same for all finishes that have none of their own'),
  profile: z.enum(tasks.PROFILE_IDS),
});

/** Renders and handovers: work in the background that can be watched and stopped. */
export function taskRoutes(app: App): void {
  app.post(
    '/api/renders',
    {
      schema: {
        summary: 'Compute maps of a finish',
        body: z.object({
          finishId: id.shape.id,
          revision,
          widthPx: z
            .number()
            .int('Pixels are whole.')
            .min(16, 'At least 16 px.')
            .max(8192, 'At most 8192 px.')
            .describe('Width of one repeat in pixels'),
          maps: z.array(z.enum(MAP_NAMES)).min(1).optional(),
          way,
        }),
        response: ok(202),
      },
    },
    async ({ body }, reply) => reply.status(202).send(await tasks.orderRender(app.context, body)),
  );
  app.get(
    '/api/renders/:id',
    { schema: { summary: 'How far a render is, and its maps', params: id, response: ok() } },
    async ({ params }) => tasks.showRender(app.context, params.id),
  );
  app.delete(
    '/api/renders/:id',
    { schema: { summary: 'Stop a render', params: id, response: ok() } },
    async ({ params }) => tasks.stop(app.context, 'render', params.id),
  );
  app.get(
    '/api/renders/:id/maps/:name.png',
    { schema: { summary: 'One map as PNG', params: id.extend({ name: z.enum(MAP_NAMES) }) } },
    async ({ params }, reply) =>
      sendBlob(
        reply.header('content-type', 'image/png'),
        await tasks.renderedMap(app.context, params.id, params.name),
      ),
  );

  app.post(
    '/api/handovers',
    {
      schema: {
        summary: 'Order a package of issued finishes',
        body: packageWanted,
        response: ok(202),
      },
    },
    async ({ body }, reply) => reply.status(202).send(await tasks.orderHandover(app.context, body)),
  );
  app.post(
    '/api/handovers/estimate',
    {
      schema: {
        summary: 'How long a package would take here, and how much memory',
        body: packageWanted,
        response: ok(),
      },
    },
    async ({ body }) => tasks.estimateHandover(app.context, body),
  );
  app.get(
    '/api/handovers',
    { schema: { summary: 'The last hundred handovers', response: ok() } },
    async () => ({
      items: await tasks.allHandovers(app.context),
      profiles: Object.entries(tasks.PROFILES).map(([key, p]) => ({ id: key, ...p })),
    }),
  );
  app.get(
    '/api/handovers/:id',
    { schema: { summary: 'How far a handover is', params: id, response: ok() } },
    async ({ params }) => tasks.showHandover(app.context, params.id),
  );
  app.delete(
    '/api/handovers/:id',
    { schema: { summary: 'Stop a handover', params: id, response: ok() } },
    async ({ params }) => tasks.stop(app.context, 'handover', params.id),
  );
  app.get(
    '/api/handovers/:id/file',
    { schema: { summary: 'The package', params: id } },
    async ({ params }, reply) => {
      const { fileName, file } = await tasks.handoverFile(app.context, params.id);
      return sendBlob(
        reply
          .header('content-type', 'application/zip')
          .header('content-disposition', `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`),
        file,
      );
    },
  );
}
