import { z } from 'zod';
import * as outside from '../services/outside';
import { ok, type App } from './app';

const productId = z.object({ id: z.string().min(1).max(200) });

/** The supplier's catalogue, the capture bench and the meters. */
export function outsideRoutes(app: App): void {
  app.get(
    '/api/settings/addresses',
    { schema: { summary: 'Where the outside services are', response: ok() } },
    async () => outside.addresses(app.context),
  );
  app.put(
    '/api/settings/addresses',
    {
      schema: {
        summary: 'Name other addresses of outside services',
        body: outside.addressesSchema.partial(),
        response: ok(),
      },
    },
    async ({ body }) => outside.setAddresses(app.context, body as Partial<outside.Addresses>),
  );

  app.get(
    '/api/suppliers/products',
    { schema: { summary: 'The supplier’s catalogue', response: ok() } },
    async () => outside.products(app.context),
  );
  app.get(
    '/api/suppliers/products/:id/thumbnail.jpg',
    { schema: { summary: 'A small picture of a product', params: productId } },
    async ({ params }, reply) =>
      reply
        .header('content-type', 'image/jpeg')
        .header('cache-control', 'private, max-age=600')
        .send(await outside.productThumbnail(app.context, params.id)),
  );
  app.post(
    '/api/suppliers/products/:id/receive',
    {
      schema: {
        summary: 'Import a product’s swatch and data sheet; its figures are marked published',
        params: productId,
        response: ok(201),
      },
    },
    async ({ params }, reply) => reply.status(201).send(await outside.receiveProduct(app.context, params.id)),
  );

  app.get(
    '/api/capture/samples',
    { schema: { summary: 'What lies beside the capture bench', response: ok() } },
    async () => outside.benchSamples(app.context),
  );
  app.post(
    '/api/capture/pictures',
    {
      schema: {
        summary: 'Take a picture on the capture bench; settings as the bench knows them',
        body: z.looseObject({ sampleId: z.string().min(1).max(100) }),
        response: ok(201),
      },
    },
    async ({ body }, reply) => reply.status(201).send(await outside.takePicture(app.context, body)),
  );

  app.post(
    '/api/capture/light-sets',
    {
      schema: {
        summary: 'Take a picture of a sample under every lamp of the light rig; they become a light set',
        body: z.looseObject({ sampleId: z.string().min(1).max(100) }),
        response: ok(201),
      },
    },
    async ({ body }, reply) => reply.status(201).send(await outside.takeLightSet(app.context, body)),
  );

  app.post(
    '/api/meters/:kind',
    {
      schema: {
        summary:
          'Read a meter at places of a captured sample; three readings make a measured figure with tolerance',
        params: z.object({ kind: z.enum(['reflectance', 'gloss']) }),
        body: z.object({
          sampleId: z.uuid(),
          placesMm: z
            .array(z.object({ x: z.number(), y: z.number() }))
            .min(1, 'At least one place.')
            .max(9, 'At most nine places.'),
        }),
        response: ok(),
      },
    },
    async ({ params, body }) => outside.readMeter(app.context, params.kind, body.sampleId, body.placesMm),
  );
}
