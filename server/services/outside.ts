import { lightListSchema } from '@jossel/core/formats';
import { colourOfReadings } from '@jossel/core/light';
import type { PublishedSheet } from '@jossel/core/finish';
import { figureOfReadings } from '@jossel/core/units';
import { z } from 'zod';
import { config } from '../config';
import { Problem } from '../problem';
import { getSetting, putSetting } from '../store';
import type { Context } from './context';
import { receiveLightSet } from './light-sets';
import { receiveSample, showSample } from './samples';

/** Suppliers, capture bench and meters: outside services, reached over HTTP at the addresses in the settings. */

export const addressesSchema = z.object({
  supplier: z.url({ protocol: /^https?$/, error: 'Give an address such as http://127.0.0.1:4311.' }),
  captureBench: z.url({ protocol: /^https?$/, error: 'Give an address such as http://127.0.0.1:4311.' }),
  meters: z.url({ protocol: /^https?$/, error: 'Give an address such as http://127.0.0.1:4311.' }),
});
export type Addresses = z.infer<typeof addressesSchema>;

export async function addresses({ database }: Context): Promise<Addresses> {
  const all = config.standinsUrl;
  return {
    supplier: all,
    captureBench: all,
    meters: all,
    ...(await getSetting<Partial<Addresses>>(database, 'addresses')),
  };
}

export async function setAddresses(context: Context, change: Partial<Addresses>): Promise<Addresses> {
  await putSetting(context.database, 'addresses', { ...(await addresses(context)), ...change });
  return addresses(context);
}

const NAMES: Record<keyof Addresses, string> = {
  supplier: 'The supplier',
  captureBench: 'The capture bench',
  meters: 'The meter',
};
const PATIENCE_MS = 45000;
/** A picture under every lamp takes its time. */
const LIGHT_SET_MS = 240000;
const MOST_BYTES = 64 * 1024 * 1024;

/** Asks an outside service; what it does not do is said in a sentence. */
async function ask(
  context: Context,
  whom: keyof Addresses,
  path: string,
  body?: unknown,
  patienceMs = PATIENCE_MS,
): Promise<{ bytes: Buffer; type: string }> {
  const url = (await addresses(context))[whom].replace(/\/$/, '') + path;
  let response: Response;
  try {
    response = await fetch(url, {
      method: body === undefined ? 'GET' : 'POST',
      signal: AbortSignal.timeout(patienceMs),
      ...(body === undefined
        ? {}
        : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
    const bytes = Buffer.from(await response.arrayBuffer());
    if (bytes.byteLength > MOST_BYTES)
      throw new Problem(
        502,
        'Answer too large',
        `${NAMES[whom]} sent more than 64 MiB; nothing was taken in.`,
      );
    if (response.ok) return { bytes, type: response.headers.get('content-type') ?? '' };
    const said = messageIn(bytes);
    if (response.status === 404 || response.status === 400 || response.status === 422)
      throw new Problem(
        response.status === 404 ? 404 : 422,
        'Refused outside',
        `${NAMES[whom]} says: ${said}`,
      );
    throw new Problem(
      502,
      'Fault outside',
      `${NAMES[whom]} answers with a fault (${response.status}: ${said}). Try again in a while; nothing was changed here.`,
    );
  } catch (error) {
    if (error instanceof Problem) throw error;
    const slow = (error as Error).name === 'TimeoutError';
    throw new Problem(
      slow ? 504 : 502,
      slow ? 'No answer in time' : 'Not reached',
      slow
        ? `${NAMES[whom]} did not answer within ${patienceMs / 1000} seconds. Try again in a while.`
        : `${NAMES[whom]} cannot be reached at ${url}. Start it, or correct its address under Receiving.`,
    );
  }
}

function messageIn(bytes: Buffer): string {
  try {
    return String((JSON.parse(bytes.toString()) as { message?: string }).message ?? 'no reason given');
  } catch {
    return 'no reason given';
  }
}

/** Reads an answer against a schema; an answer that is not what it says is refused as a whole. */
function read<T>(schema: z.ZodType<T>, whom: keyof Addresses, bytes: Buffer): T {
  try {
    return schema.parse(JSON.parse(bytes.toString()));
  } catch (error) {
    throw new Problem(
      502,
      'Answer not understood',
      `${NAMES[whom]} answered something else than was asked for${error instanceof z.ZodError ? ` (${error.issues[0]?.path.join('.')}: ${error.issues[0]?.message})` : ''}. Nothing was taken in.`,
    );
  }
}

const positive = z.number().positive().max(1e5);
const sheetSchema = z.object({
  widthMm: positive.optional(),
  heightMm: positive.optional(),
  jointMm: z.number().min(0).max(1000).optional(),
  thicknessMm: positive.optional(),
  lrv: z.number().min(0).max(100).optional(),
  lab: z.tuple([z.number(), z.number(), z.number()]).optional(),
  glossGu: z.number().min(0).max(2000).optional(),
  reliefMm: z.number().min(0).max(1000).optional(),
  permission: z.string().max(1000).optional(),
});
const productSchema = z.object({
  id: z.string().min(1).max(200),
  supplier: z.string().max(200),
  line: z.string().max(200),
  code: z.string().max(200),
  name: z.string().max(300),
  category: z.string().max(100),
  sheet: sheetSchema,
});

export async function products(context: Context) {
  const { bytes } = await ask(context, 'supplier', '/supplier/products');
  return read(z.object({ items: z.array(productSchema).max(10000) }), 'supplier', bytes);
}

export const productThumbnail = async (context: Context, id: string) =>
  (await ask(context, 'supplier', `/supplier/products/${encodeURIComponent(id)}/thumbnail.jpg`)).bytes;

/** Fetches a product's swatch and data sheet; the sheet's figures are published ones. */
export async function receiveProduct(context: Context, id: string) {
  const path = `/supplier/products/${encodeURIComponent(id)}`;
  const product = read(productSchema, 'supplier', (await ask(context, 'supplier', path)).bytes);
  const { bytes } = await ask(context, 'supplier', `${path}/swatch.jpg`);
  const { permission = '', ...sheet } = product.sheet;
  return receiveSample(
    context,
    `${product.code.toLowerCase()}.jpg`,
    bytes,
    {
      supplier: product.supplier,
      line: product.line,
      code: product.code,
      permission,
      note: product.name,
    },
    { cameFrom: 'supplier', sheet: sheet as PublishedSheet },
  );
}

export async function benchSamples(context: Context) {
  const { bytes } = await ask(context, 'captureBench', '/capture/samples');
  return read(
    z.object({ items: z.array(z.object({ id: z.string(), name: z.string(), category: z.string() })) }),
    'captureBench',
    bytes,
  );
}

/** Takes a picture on the capture bench. */
export async function takePicture(
  context: Context,
  settings: { sampleId: string } & Record<string, unknown>,
) {
  const { items } = await benchSamples(context);
  const { bytes } = await ask(context, 'captureBench', '/capture/pictures', settings);
  const name = items.find((s) => s.id === settings.sampleId)?.name ?? settings.sampleId;
  return receiveSample(
    context,
    `${settings.sampleId}.jpg`,
    bytes,
    { permission: 'Own picture of a sample in this studio', note: name },
    { cameFrom: 'capture bench', capture: { benchSampleId: settings.sampleId, settings } },
  );
}

const takenSetSchema = z.object({
  key: z.string().min(1).max(100),
  coveredMm: z.object({ width: positive, height: positive }),
  lights: lightListSchema,
});

/** Takes a picture of a sample under every lamp of the light rig; they become a light set. */
export async function takeLightSet(
  context: Context,
  settings: { sampleId: string } & Record<string, unknown>,
) {
  const { bytes } = await ask(context, 'captureBench', '/capture/light-sets', settings, LIGHT_SET_MS);
  const { key, coveredMm, lights } = read(takenSetSchema, 'captureBench', bytes);
  const files: { name: string; bytes: Buffer }[] = [];
  for (const { file } of lights) {
    const picture = await ask(context, 'captureBench', `/capture/light-sets/${key}/${file}`);
    files.push({ name: file, bytes: picture.bytes });
  }
  const origin = {
    permission: 'Own picture of a sample in this studio',
    note: `Light set of ${settings.sampleId}`,
  };
  const set = await receiveLightSet(context, files, JSON.stringify(lights), origin, 'capture bench');
  return { ...set, overallMm: coveredMm };
}

const READING = {
  reflectance: z.object({ lab: z.tuple([z.number(), z.number(), z.number()]), lrv: z.number() }),
  gloss: z.object({ gu: z.number(), gu20: z.number(), gu85: z.number() }),
};

interface Reading {
  lab?: [number, number, number];
  lrv?: number;
  gu?: number;
  gu20?: number;
  gu85?: number;
}
const glossOf = (readings: number[]) => figureOfReadings(readings, 'GU', 0.5);

/** Three readings at places of a captured sample, and the measured figure that they make. */
export async function readMeter(
  context: Context,
  kind: 'reflectance' | 'gloss',
  sampleId: string,
  placesMm: { x: number; y: number }[],
) {
  const sample = await showSample(context, sampleId);
  if (!sample.benchSampleId)
    throw new Problem(
      409,
      'Not on the bench',
      'The meters stand on samples that lie on the capture bench; this one came as a file. Type the readings in instead.',
    );
  const readings: { xMm: number; yMm: number; value: number; lab?: [number, number, number] }[] = [];
  const others: { gu20: number; gu85: number }[] = [];
  for (const [i, { x, y }] of placesMm.entries()) {
    const body = { sampleId: sample.benchSampleId, xMm: x, yMm: y, seed: i + 1 };
    const { bytes } = await ask(context, 'meters', `/meters/${kind}`, body);
    const reading = read<Reading>(READING[kind], 'meters', bytes);
    if (reading.gu !== undefined) others.push({ gu20: reading.gu20!, gu85: reading.gu85! });
    readings.push({
      xMm: x,
      yMm: y,
      value: (reading.lrv ?? reading.gu)!,
      ...(reading.lab ? { lab: reading.lab } : {}),
    });
  }
  const values = readings.map((r) => r.value);
  const labs = readings.flatMap((r) => (r.lab ? [r.lab] : []));
  return {
    readings,
    ...(labs.length > 0 ? { colour: colourOfReadings(labs) } : {}),
    ...(kind === 'gloss'
      ? {
          figure: glossOf(values),
          otherAngles: { 20: glossOf(others.map((o) => o.gu20)), 85: glossOf(others.map((o) => o.gu85)) },
        }
      : { figure: figureOfReadings(values, 'LRV', 0.3) }),
  };
}
