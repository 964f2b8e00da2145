import { straightenSchema } from '@jossel/core/sample';
import { z } from 'zod';
import { Problem } from '../problem';
import * as lightSets from '../services/light-sets';
import { ok, type App } from './app';
import { originSchema } from './samples';
import { readForm } from '../http/multipart';

const MOST_PICTURES = 24;
const id = z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.');

/** Pictures of one sample under several lights. */
export function lightSetRoutes(app: App): void {
  app.post(
    '/api/light-sets',
    {
      schema: {
        summary:
          'Import a light set (multipart: origin fields as of a sample, a field lights with the list as JSON or CSV, and a file per picture)',
        consumes: ['multipart/form-data'],
        response: ok(201),
      },
    },
    async (request, reply) => {
      const form = await readForm(
        request,
        MOST_PICTURES + 1,
        'Send the pictures as multipart/form-data, each in a field named "file", with a field "lights".',
      );
      const origin = originSchema.parse(form.fields);
      // The list itself may come as a file.
      const list = form.files.find(({ field }) => field === 'lights')?.bytes.toString('utf8');
      const lights = list ?? form.fields['lights'];
      const files = form.files.filter(({ field }) => field !== 'lights');
      if (files.length === 0 || !lights)
        throw new Problem(
          400,
          files.length === 0 ? 'Pictures missing' : 'Lights missing',
          'Send every picture in a field named "file", and the list of lights in a field named "lights".',
        );
      return reply.status(201).send(await lightSets.receiveLightSet(app.context, files, lights, origin));
    },
  );

  app.get(
    '/api/light-sets/:id',
    {
      schema: {
        summary: 'The lights of a set, and what was measured from it',
        params: z.object({ id }),
        response: ok(),
      },
    },
    async ({ params }) => lightSets.showLightSet(app.context, params.id),
  );

  app.post(
    '/api/light-sets/:id/measure',
    {
      schema: {
        summary: 'Measure relief and colour from a light set at a size',
        params: z.object({ id }),
        body: z.object({
          overallMm: z
            .object({
              width: z.number().positive('A width must be above 0 mm.').max(100000),
              height: z.number().positive().max(100000).optional(),
            })
            .describe('Size of the whole picture, or of the frame that is straightened'),
          straighten: straightenSchema
            .nullable()
            .default(null)
            .describe('How all pictures are straightened first; null: they are measured as they are'),
        }),
        response: ok(),
      },
    },
    async ({ params, body }) =>
      lightSets.measureLightSet(app.context, params.id, body.overallMm, body.straighten),
  );
}
