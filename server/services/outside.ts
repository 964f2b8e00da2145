import { lightListSchema } from '@jossel/core/formats';
import { colourOfReadings } from '@jossel/core/light';
import type { PublishedSheet } from '@jossel/core/finish';
import { figureOfReadings } from '@jossel/core/units';
import { z } from 'zod';
import { config } from '../config';
import { faultOfAddress } from '../outside/addresses';
import { ask, jpegIn, readAnswer, type Service } from '../outside/ask';
import { notFound, Problem } from '../problem';
import { getSetting, putSetting } from '../store';
import type { Context } from './context';
import { receiveLightSet } from './light-sets';
import { receiveSample, showSample } from './samples';

/** Suppliers, capture bench and meters: outside services, reached over HTTP at the addresses in the settings. */

const address = z
  .string()
  .max(500)
  .superRefine((text, issue) => {
    const fault = faultOfAddress(text, config.outsideHosts);
    if (fault) issue.addIssue({ code: 'custom', message: fault });
  });
export const addressesSchema = z.object({ supplier: address, captureBench: address, meters: address });
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

/** A service at the address in the settings. @throws Problem when that may not be called any more */
async function service(context: Context, whom: keyof Addresses): Promise<Service> {
  const where = (await addresses(context))[whom];
  const fault = faultOfAddress(where, config.outsideHosts);
  if (fault) throw new Problem(409, 'Address not allowed', `${NAMES[whom]}: ${fault}`);
  return { name: NAMES[whom], address: where };
}

/** A picture under every lamp takes its time. */
const LIGHT_SET_MS = 240000;

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
  const supplier = await service(context, 'supplier');
  const bytes = await ask(supplier, '/supplier/products');
  return readAnswer(z.object({ items: z.array(productSchema).max(10000) }), supplier, bytes);
}

/** Path of a product; an id of dots alone would lead out of it. */
function productPath(id: string): string {
  if (/^\.+$/.test(id)) throw notFound('product', id);
  return `/supplier/products/${encodeURIComponent(id)}`;
}

export async function productThumbnail(context: Context, id: string) {
  const supplier = await service(context, 'supplier');
  return jpegIn(supplier, await ask(supplier, `${productPath(id)}/thumbnail.jpg`));
}

/** Fetches a product's swatch and data sheet; the sheet's figures are published ones. */
export async function receiveProduct(context: Context, id: string) {
  const supplier = await service(context, 'supplier');
  const path = productPath(id);
  const product = readAnswer(productSchema, supplier, await ask(supplier, path));
  const bytes = await ask(supplier, `${path}/swatch.jpg`);
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
  const bench = await service(context, 'captureBench');
  return readAnswer(
    z.object({ items: z.array(z.object({ id: z.string(), name: z.string(), category: z.string() })) }),
    bench,
    await ask(bench, '/capture/samples'),
  );
}

/** Takes a picture on the capture bench. */
export async function takePicture(
  context: Context,
  settings: { sampleId: string } & Record<string, unknown>,
) {
  const { items } = await benchSamples(context);
  const bench = await service(context, 'captureBench');
  const bytes = await ask(bench, '/capture/pictures', settings);
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
  const bench = await service(context, 'captureBench');
  const taken = await ask(bench, '/capture/light-sets', settings, LIGHT_SET_MS);
  const { key, coveredMm, lights } = readAnswer(takenSetSchema, bench, taken);
  const files: { name: string; bytes: Buffer }[] = [];
  for (const { file } of lights) {
    const path = `/capture/light-sets/${encodeURIComponent(key)}/${encodeURIComponent(file)}`;
    files.push({ name: file, bytes: await ask(bench, path) });
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
  const meter = await service(context, 'meters');
  for (const [i, { x, y }] of placesMm.entries()) {
    const body = { sampleId: sample.benchSampleId, xMm: x, yMm: y, seed: i + 1 };
    const reading = readAnswer<Reading>(READING[kind], meter, await ask(meter, `/meters/${kind}`, body));
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
