import fastify from 'fastify';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import Piscina from 'piscina';
import { serializerCompiler, validatorCompiler, type ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { captureSchema, type CaptureSettings } from './capture/capture';
import { BENCH_SAMPLES, benchSample } from './capture/samples';
import { CATALOGUE, productOf, type Product } from './supplier/catalogue';
import { rigSchema } from './light-rig/rig';
import type { takeLightSet } from './thread';
import type { PhotographTruth } from './camera/photograph';

/** Light sets that are kept to be fetched. */
const MOST_SETS = 4;
type LightSet = Awaited<ReturnType<typeof takeLightSet>>;

/** How the supplier is doing: it can be made slow, or made to fail now and then. */
const moodSchema = z.object({
  delayMs: z.number().int().min(0).max(60000).default(0),
  failing: z.boolean().default(false),
});

/**
 * The outside world, made up: a supplier's catalogue, a capture bench and two meters, each spoken to over HTTP as the
 * real thing would be.
 * @param tellTruth also answers what is true of a capture; for tests
 */
export function buildStandins({ tellTruth = false } = {}) {
  const app = fastify().withTypeProvider<ZodTypeProvider>();
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  app.setErrorHandler((error: Error & { statusCode?: number }, _request, reply) =>
    reply.status(error.statusCode ?? 500).send({ message: error.message }),
  );
  const missing = (message: string) => Object.assign(new Error(message), { statusCode: 404 });
  const file = new URL('./thread.js', import.meta.url);
  if (!existsSync(file))
    throw new Error(`The stand-ins are not built: ${file.pathname} is missing. Run npm run build.`);
  // Two threads: a catalogue that is being drawn does not hold up the bench.
  const pool = new Piscina({ filename: file.href, minThreads: 1, maxThreads: 2, idleTimeout: 600000 });
  app.addHook('onClose', () => pool.destroy());
  const run = <T>(name: string, order: unknown) => pool.run(order, { name }) as Promise<T>;
  const pictures = new Map<string, Buffer>();
  const kept = async (key: string, make: () => Promise<Uint8Array>) => {
    const known = pictures.get(key);
    if (known) return known;
    const bytes = Buffer.from(await make());
    pictures.set(key, bytes);
    if (pictures.size > 80) pictures.delete(pictures.keys().next().value!);
    return bytes;
  };

  app.get('/health', async () => ({ status: 'ok' }));

  let mood = moodSchema.parse({});
  app.put('/supplier/mood', { schema: { body: moodSchema } }, async ({ body }) => (mood = body));
  app.get('/supplier/mood', async () => mood);
  app.addHook('onRequest', async (request) => {
    if (!request.url.startsWith('/supplier/') || request.url === '/supplier/mood') return;
    if (mood.delayMs > 0) await new Promise((resolve) => setTimeout(resolve, mood.delayMs));
    if (mood.failing)
      throw Object.assign(new Error('The catalogue is being worked on.'), { statusCode: 503 });
  });
  const describe = ({ id, supplier, line, code, name, category, sheet }: Product) => ({
    id,
    supplier,
    line,
    code,
    name,
    category,
    sheet,
  });
  app.get('/supplier/products', async () => ({ items: CATALOGUE.map(describe) }));
  const known = (id: string) => {
    const product = productOf(id);
    if (!product) throw missing(`There is no product "${id}".`);
    return product;
  };
  const byId = z.object({ id: z.string() });
  app.get('/supplier/products/:id', { schema: { params: byId } }, async ({ params }) =>
    describe(known(params.id)),
  );
  app.get('/supplier/products/:id/thumbnail.jpg', { schema: { params: byId } }, async ({ params }, reply) => {
    const product = known(params.id);
    reply.type('image/jpeg');
    return reply.send(await kept(`thumbnail ${product.id}`, () => run('thumbnail', product.id)));
  });
  app.get('/supplier/products/:id/swatch.jpg', { schema: { params: byId } }, async ({ params }, reply) => {
    const product = known(params.id);
    reply.type('image/jpeg');
    // It says JPEG and is a page: as happens when a link has died.
    if (product.picture === 'not a picture')
      return reply.send(Buffer.from('<!doctype html><title>Moved</title><p>This picture has moved.'));
    const bytes = await kept(`swatch ${product.id}`, () => run('swatch', product.id));
    return reply.send(product.picture === 'cut short' ? bytes.subarray(0, bytes.length >> 1) : bytes);
  });

  app.get('/capture/samples', async () => ({
    items: BENCH_SAMPLES.map(({ id, name, category }) => ({ id, name, category })),
  }));
  const onBench = ({ sampleId }: CaptureSettings) => {
    if (!benchSample(sampleId)) throw missing(`No sample "${sampleId}" lies beside the bench.`);
  };
  app.post('/capture/pictures', { schema: { body: captureSchema } }, async ({ body }, reply) => {
    onBench(body);
    const bytes = await kept(`capture ${JSON.stringify(body)}`, () => run('takePicture', body));
    return reply.type('image/jpeg').send(bytes);
  });
  const sets = new Map<string, LightSet>();
  app.post('/capture/light-sets', { schema: { body: rigSchema } }, async ({ body }) => {
    if (!benchSample(body.sampleId)) throw missing(`No sample "${body.sampleId}" lies beside the bench.`);
    const key = createHash('sha256').update(JSON.stringify(body)).digest('hex').slice(0, 16);
    const set = sets.get(key) ?? (await run<LightSet>('takeLightSet', body));
    sets.delete(key);
    sets.set(key, set);
    if (sets.size > MOST_SETS) sets.delete(sets.keys().next().value!);
    return { key, coveredMm: set.coveredMm, lights: set.lights };
  });
  app.get(
    '/capture/light-sets/:key/:file',
    { schema: { params: z.object({ key: z.string(), file: z.string() }) } },
    async ({ params: { key, file: name } }, reply) => {
      const set = sets.get(key);
      const k = set ? set.lights.findIndex((l) => l.file === name) : -1;
      if (!set || k < 0) throw missing('This picture is not kept any more. Take the set again.');
      return reply.type('image/png').send(Buffer.from(set.pictures[k]!));
    },
  );
  if (tellTruth)
    app.post('/capture/truth', { schema: { body: captureSchema } }, async ({ body }) => {
      onBench(body);
      return run<Omit<PhotographTruth, 'place'>>('truth', body);
    });

  const spot = z.object({
    sampleId: z.string(),
    xMm: z.number(),
    yMm: z.number(),
    seed: z.number().int().default(1),
  });
  const onSample = ({ sampleId, xMm, yMm }: z.infer<typeof spot>) => {
    const sample = benchSample(sampleId);
    if (!sample) throw missing(`No sample "${sampleId}" lies beside the bench.`);
    if (xMm < 0 || yMm < 0 || xMm > sample.widthMm || yMm > sample.heightMm)
      throw Object.assign(new Error('The meter does not stand on the sample.'), { statusCode: 422 });
  };
  app.post('/meters/reflectance', { schema: { body: spot } }, async ({ body }) => {
    onSample(body);
    return run('reflectance', body);
  });
  app.post('/meters/gloss', { schema: { body: spot } }, async ({ body }) => {
    onSample(body);
    return run('gloss', body);
  });
  return app;
}
