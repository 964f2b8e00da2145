import { preparationSchema, REPORT_PICTURES, unprepared } from '@jossel/core/sample';
import { z } from 'zod';
import { Problem } from '../problem';
import * as samples from '../services/samples';
import { sendBlob } from '../http/send-blob';
import { longText, nameText } from '../http/text';
import { ok, pageQuery, type App } from './app';
import { readForm } from '../http/multipart';

/** Where a picture comes from, as fields of a form. */
export const originSchema = z
  .object({
    supplier: nameText(200).describe('Who makes or sells it'),
    line: nameText(200).describe('Product line'),
    code: nameText(200).describe('Article code'),
    batch: nameText(200).describe('Batch'),
    permission: longText(1000).describe('Permission to use the picture; nothing is handed over without'),
    note: longText(5000).describe('Anything else'),
  })
  .partial();
const idParam = z.object({ id: z.uuid('An id looks like 1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed.') });

/** Samples: pictures as received. */
export function sampleRoutes(app: App): void {
  app.post(
    '/api/samples',
    {
      schema: {
        summary: 'Import a picture (multipart: file, and origin fields before it)',
        consumes: ['multipart/form-data'],
        response: ok(201),
      },
    },
    async (request, reply) => {
      const { fields, files } = await readForm(
        request,
        1,
        'Send the picture as multipart/form-data with a field named "file".',
      );
      const [file] = files;
      if (!file) throw new Problem(400, 'File missing', 'Send the picture in a field named "file".');
      const origin = originSchema.parse(fields);
      return reply.status(201).send(await samples.receiveSample(app.context, file.name, file.bytes, origin));
    },
  );

  app.get(
    '/api/samples',
    {
      schema: {
        summary: 'A page of samples, newest first',
        querystring: pageQuery.extend({ removed: z.stringbool().optional().describe('Those in the bin') }),
        response: ok(),
      },
    },
    async ({ query }) => samples.pageOfSamples(app.context, query),
  );
  app.get(
    '/api/samples/:id',
    { schema: { summary: 'One sample', params: idParam, response: ok() } },
    async ({ params }) => samples.showSample(app.context, params.id),
  );
  app.patch(
    '/api/samples/:id',
    {
      schema: {
        summary: 'Correct where a sample came from',
        params: idParam,
        body: originSchema,
        response: ok(),
      },
    },
    async ({ params, body }) => samples.correctOrigin(app.context, params.id, body),
  );

  app.delete(
    '/api/samples/:id',
    { schema: { summary: 'Put a sample into the bin', params: idParam } },
    async ({ params }, reply) => {
      await samples.removeSample(app.context, params.id);
      return reply.status(204).send();
    },
  );
  app.post(
    '/api/samples/:id/restore',
    { schema: { summary: 'Take a sample out of the bin', params: idParam, response: ok() } },
    async ({ params }) => samples.restoreSample(app.context, params.id),
  );

  app.get(
    '/api/samples/:id/file',
    { schema: { summary: 'The original, byte for byte', params: idParam } },
    async ({ params }, reply) => {
      const { file, mediaType, fileName, sha256 } = await samples.originalFile(app.context, params.id);
      return sendBlob(
        reply
          .header('content-type', mediaType)
          .header('etag', `"${sha256}"`)
          .header('cache-control', 'private, max-age=31536000, immutable')
          .header('content-disposition', `inline; filename*=UTF-8''${encodeURIComponent(fileName)}`),
        file,
      );
    },
  );

  app.get(
    '/api/samples/:id/preview.jpg',
    { schema: { summary: 'A JPEG to look at, at most 800 px', params: idParam } },
    async ({ params }, reply) =>
      reply
        .header('content-type', 'image/jpeg')
        .header('cache-control', 'private, max-age=31536000, immutable')
        .send(await samples.samplePreview(app.context, params.id)),
  );

  const levelParams = z.object({
    id: idParam.shape.id,
    level: z.coerce.number().int().min(0).max(12).describe('How often the picture is halved'),
  });
  app.get(
    '/api/samples/:id/levels/:level',
    {
      schema: {
        summary:
          'Decoded pixels: 32-bit floats, linear light, planes r, g, b; sizes in X-Width-Px and X-Height-Px',
        params: levelParams,
        querystring: z.object({
          as: z
            .enum(['colour', 'data'])
            .default('colour')
            .describe('data: values as stored, not linear light'),
        }),
      },
    },
    async ({ params, query }, reply) => {
      const { widthPx, heightPx, planes } = await samples.sampleLevel(
        app.context,
        params.id,
        params.level,
        query.as === 'data',
      );
      return reply
        .header('content-type', 'application/octet-stream')
        .header('x-width-px', widthPx)
        .header('x-height-px', heightPx)
        .header('cache-control', 'private, max-age=31536000, immutable')
        .send(Buffer.from(planes.buffer, planes.byteOffset, planes.byteLength));
    },
  );

  app.get(
    '/api/samples/:id/report/:shows.png',
    {
      schema: {
        summary: 'What the report says, as a picture: clipped areas, evenness or sharpness',
        params: idParam.extend({ shows: z.enum(REPORT_PICTURES) }),
      },
    },
    async ({ params }, reply) =>
      reply
        .header('content-type', 'image/png')
        .header('cache-control', 'private, max-age=31536000, immutable')
        .send(Buffer.from(await samples.reportPicture(app.context, params.id, params.shows))),
  );
  app.post(
    '/api/samples/:id/structure',
    {
      schema: {
        summary:
          'Find the structure that repeats in the straightened frame: period, count and confidence per axis, shift of courses, the two lattice vectors, and the frame that would straighten it (corners in shares of the picture, slope, convergence)',
        params: idParam,
        body: preparationSchema.nullish().describe('How the sample is straightened; default: as it is'),
        response: ok(),
      },
    },
    async ({ params, body }) => samples.sampleStructure(app.context, params.id, body ?? unprepared()),
  );
  app.post(
    '/api/samples/:id/card',
    {
      schema: {
        summary: 'Find the corner marks of a target card; card: null when there is none',
        params: idParam,
        response: ok(),
      },
    },
    async ({ params }) => ({ card: await samples.sampleCard(app.context, params.id) }),
  );
  app.post(
    '/api/samples/:id/glare',
    {
      schema: {
        summary: 'Find glare in the straightened frame: outlines, and from where a small one can be filled',
        params: idParam,
        body: preparationSchema.nullish().describe('How the sample is straightened; default: as it is'),
        response: ok(),
      },
    },
    async ({ params, body }) => ({
      places: await samples.sampleGlare(app.context, params.id, body ?? unprepared()),
    }),
  );
  app.get(
    '/api/samples/:id/palette',
    {
      schema: {
        summary: 'The colours of a sample with their shares of the area',
        params: idParam,
        querystring: z.object({ count: z.coerce.number().int().min(1).max(24).default(8) }),
        response: ok(),
      },
    },
    async ({ params, query }) => ({
      colours: await samples.samplePalette(app.context, params.id, query.count),
    }),
  );
  app.get(
    '/api/samples/:id/colour',
    {
      schema: {
        summary: 'Mean colour and spread of a sample as received',
        params: idParam,
        response: ok(),
      },
    },
    async ({ params }) => samples.sampleColour(app.context, params.id),
  );
  app.post(
    '/api/colour-references',
    {
      schema: {
        summary: 'Read reference values of a colour target from CGATS.17 text or a table',
        body: z.object({
          fileName: nameText(255, 'Name the file.'),
          text: z.string().min(1).max(1_000_000, 'At most a million characters.'),
        }),
        response: ok(),
      },
    },
    async ({ body }) => samples.colourReference(body.text, body.fileName),
  );
  app.post(
    '/api/spectral-readings',
    {
      schema: {
        summary:
          'Read spectral readings from CGATS.17 text or a table: LRV and CIELAB under D65, A and an LED',
        body: z.object({
          fileName: nameText(255, 'Name the file.'),
          text: z.string().min(1).max(4_000_000, 'At most four million characters.'),
        }),
        response: ok(),
      },
    },
    async ({ body }) => samples.spectralReadings(body.text, body.fileName),
  );
  app.post(
    '/api/samples/:id/straightened.png',
    {
      schema: {
        summary: 'The frame, or an area picked out of it, as a true rectangle',
        params: idParam,
        querystring: z.object({
          widthPx: z.coerce.number().int().min(16).max(16384).optional(),
          area: z.string().max(40).optional().describe('An area picked out of the picture, by its id'),
        }),
        body: preparationSchema,
      },
    },
    async ({ params, query, body }, reply) => {
      const { png, ms } = await samples.straightenedSample(app.context, params.id, body, query);
      return reply
        .header('content-type', 'image/png')
        .header('server-timing', `straighten;dur=${ms.toFixed(0)}`)
        .send(png);
    },
  );
  app.post(
    '/api/sample-sets',
    {
      schema: {
        summary: 'Propose what each of several files of one surface shows, by name and content',
        body: z.object({
          sampleIds: z
            .array(idParam.shape.id)
            .min(1, 'Name at least one sample.')
            .max(20, 'A set has at most 20 maps.'),
        }),
        response: ok(),
      },
    },
    async ({ body }) => ({ maps: await samples.recogniseSet(app.context, body.sampleIds) }),
  );
}
