import { readColourReference, readSpectralTable } from '@jossel/core/formats';
import { metamersAmong, readUnder } from '@jossel/core/spectrum';
import {
  addSample,
  changeSample,
  finishesOfSamples,
  getBlob,
  getSample,
  getSamples,
  listSamples,
  ORIGIN_FIELDS,
  putBlob,
  setSampleRemoved,
  streamBlob,
  withRetry,
  type CameFrom,
  type CaptureRecord,
  type SampleRow,
} from '../store';
import { faultOfSet, type Preparation, type ReportPicture } from '@jossel/core/sample';
import type { PublishedSheet } from '@jossel/core/finish';
import { isRefusal } from '@jossel/core/surface';
import { LIMITS } from '../config';
import { notFound, Problem } from '../problem';
import { previewPicture } from '../render/decode';
import { writePng } from '../render/png';
import type { SampleBytes } from '../render/sources';
import type { Context } from './context';

export type Origin = Partial<Record<(typeof ORIGIN_FIELDS)[number], string>>;

/** A sample as the interface sees it. */
export const describeSample = (row: SampleRow) => ({
  id: row.id,
  fileName: row.file_name,
  mediaType: row.media_type,
  widthPx: row.width_px,
  heightPx: row.height_px,
  bitDepth: row.bit_depth,
  profile: row.profile,
  pxPerMm: row.px_per_mm,
  lrv: row.lrv,
  meanLab: row.mean_lab,
  sha256: row.sha256,
  report: row.report,
  receivedAt: row.received_at,
  removedAt: row.removed_at,
  focalPx: row.focal_px,
  cameFrom: row.came_from,
  sheet: row.sheet,
  benchSampleId: row.capture?.benchSampleId ?? null,
  origin: {
    supplier: row.supplier,
    line: row.line,
    code: row.code,
    batch: row.batch,
    permission: row.permission,
    note: row.note,
  },
});

/** Takes in a picture: looked at by content, reported on, kept byte for byte. */
export async function receiveSample(
  { database, pool }: Context,
  fileName: string,
  bytes: Buffer,
  origin: Origin,
  more: { cameFrom?: CameFrom; sheet?: PublishedSheet; capture?: CaptureRecord } = {},
) {
  if (bytes.byteLength === 0) throw new Problem(422, 'Not a picture', `The file "${fileName}" is empty.`);
  let seen;
  try {
    seen = await pool.inspect(bytes);
  } catch (error) {
    if ((error as Error).name === 'NotAPicture')
      throw new Problem(422, 'Not a usable picture', `${fileName}: ${(error as Error).message}`);
    throw error;
  }
  // Either both are kept or neither: what failed leaves no bytes.
  const row = await withRetry(
    () =>
      database.transaction(async (trx) =>
        addSample(trx, {
          sha256: await putBlob(trx, bytes, seen.mediaType),
          file_name: fileName,
          media_type: seen.mediaType,
          width_px: seen.widthPx,
          height_px: seen.heightPx,
          bit_depth: seen.bitDepth,
          profile: seen.profile,
          px_per_mm: seen.pxPerMm ?? null,
          lrv: seen.lrv,
          mean_lab: seen.meanLab,
          report: seen.report,
          focal_px: seen.focalPx ?? null,
          came_from: more.cameFrom ?? 'file',
          sheet: more.sheet ?? {},
          capture: more.capture ?? null,
          supplier: '',
          line: '',
          code: '',
          batch: '',
          permission: '',
          note: '',
          ...origin,
        }),
      ),
    UPLOAD_PATIENCE_MS,
  );
  return describeSample(row);
}

/** A file that was looked at waits so long for a database that is away. */
const UPLOAD_PATIENCE_MS = 90_000;

export const tooLargeFile = () =>
  new Problem(
    413,
    'File too large',
    `A file may have at most ${LIMITS.uploadBytes / 1024 / 1024} MiB. Save the picture with compression, or cut it up.`,
  );

export const showSample = async (context: Context, id: string) => describeSample(await rowOf(context, id));

export async function pageOfSamples(
  { database }: Context,
  page: { limit: number; offset: number; removed?: boolean | undefined },
) {
  const { items, total } = await listSamples(database, page);
  const uses = await finishesOfSamples(
    database,
    items.map((s) => s.id),
  );
  return {
    items: items.map((row) => ({
      ...describeSample(row),
      usedIn: uses.filter((u) => u.sample_id === row.id).map(({ id, name }) => ({ id, name })),
    })),
    total,
  };
}

/** Puts a sample into the bin. One that a finish on the rack uses is not removed. */
export async function removeSample(context: Context, id: string) {
  const { database } = context;
  const row = await rowOf(context, id);
  const uses = await finishesOfSamples(database, [id]);
  if (uses.length > 0)
    throw new Problem(
      409,
      'In use',
      `${row.file_name} is used in ${uses.map(({ name }) => name).join(', ')}. Put that into the bin first, or give it another picture.`,
    );
  await setSampleRemoved(database, id, true);
}

export async function restoreSample({ database }: Context, id: string) {
  const row = await setSampleRemoved(database, id, false);
  if (!row) throw notFound('sample', id);
  return describeSample(row);
}

export async function correctOrigin({ database }: Context, id: string, origin: Origin) {
  const row =
    Object.keys(origin).length > 0 ? await changeSample(database, id, origin) : await getSample(database, id);
  if (!row) throw notFound('sample', id);
  return describeSample(row);
}

async function rowOf({ database }: Context, id: string): Promise<SampleRow> {
  const row = await getSample(database, id);
  if (!row) throw notFound('sample', id);
  return row;
}

const missing = (id: string) =>
  new Problem(500, 'File missing', `The file of sample ${id} is missing from the database.`);

/** The original, byte for byte. */
export async function originalFile(context: Context, id: string) {
  const row = await rowOf(context, id);
  const file = await streamBlob(context.database, row.sha256);
  if (!file) throw missing(id);
  return { file, mediaType: row.media_type, fileName: row.file_name, sha256: row.sha256 };
}

/** The sample as a picture any browser shows. */
export async function samplePreview(context: Context, id: string) {
  const row = await rowOf(context, id);
  const blob = await getBlob(context.database, row.sha256);
  if (!blob) throw missing(id);
  return previewPicture(blob.bytes, LIMITS.pixels);
}

/** Samples with their bytes, for a computing thread. */
export async function sampleBytes({ database }: Context, ids: string[]): Promise<SampleBytes[]> {
  const rows = await getSamples(database, ids);
  return Promise.all(
    rows.map(async (row) => ({
      id: row.id,
      sha256: row.sha256,
      widthPx: row.width_px,
      heightPx: row.height_px,
      focalPx: row.focal_px,
      bytes: (await getBlob(database, row.sha256))!.bytes,
    })),
  );
}

async function oneSample(context: Context, id: string): Promise<SampleBytes> {
  const [sample] = await sampleBytes(context, [id]);
  if (!sample) throw notFound('sample', id);
  return sample;
}

/** Pixels of a level that are sent at most; more would be gigabytes of floats. */
const MOST_LEVEL_PIXELS = 64_000_000;

export async function sampleLevel(context: Context, id: string, level: number, asData: boolean) {
  const sample = await oneSample(context, id);
  const least = Math.max(0, Math.ceil(Math.log2((sample.widthPx * sample.heightPx) / MOST_LEVEL_PIXELS) / 2));
  if (level < least)
    throw new Problem(
      413,
      'Too large',
      `At that level the picture has more than ${MOST_LEVEL_PIXELS / 1e6} million pixels. Ask for level ${least} or one that is halved more often.`,
    );
  return context.pool.level(sample, level, asData);
}

/** A picture that shows what the report says: clipped areas, evenness, or sharpness from place to place. */
export const reportPicture = async (context: Context, id: string, shows: ReportPicture) =>
  context.pool.reportPicture(await oneSample(context, id), shows);

/** A refusal of geometry: something the caller sent that cannot be. */
async function sayingFaults<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (isRefusal(error)) throw new Problem(422, 'Cannot be straightened', error.message);
    throw error;
  }
}

export const sampleStructure = async (context: Context, id: string, settings: Preparation) =>
  sayingFaults(context.pool.structure(await oneSample(context, id), settings));

/** Reference values of a target, as read from a file. */
export function colourReference(text: string, name: string) {
  try {
    return readColourReference(text, name);
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'Not a list of colours', error.message);
    throw error;
  }
}

/** Spectral readings of a file under each light, and pairs that match under one light alone. */
export function spectralReadings(text: string, fileName: string) {
  try {
    const { name, notes, readings } = readSpectralTable(text, fileName);
    const under = readings.map((r) => readUnder(r.name, r.spectrum));
    return { name, notes, readings: under, metamers: metamersAmong(under) };
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'Not a table of spectra', error.message);
    throw error;
  }
}

export const samplePalette = async (context: Context, id: string, count: number) =>
  context.pool.palette(await oneSample(context, id), count);

export const sampleColour = async (context: Context, id: string) =>
  context.pool.sampleColour(await oneSample(context, id));

export const sampleGlare = async (context: Context, id: string, settings: Preparation) =>
  sayingFaults(context.pool.glare(await oneSample(context, id), settings));

export const sampleCard = async (context: Context, id: string) =>
  context.pool.card(await oneSample(context, id), true);

/** The frame, or an area picked out of it, as PNG, and how long the straightening took. */
export async function straightenedSample(
  context: Context,
  id: string,
  settings: Preparation,
  { area, widthPx }: { area?: string | undefined; widthPx?: number | undefined },
) {
  const { data, ms, ...size } = await sayingFaults(
    context.pool.straighten(await oneSample(context, id), settings, area ?? null, widthPx),
  );
  return {
    ms,
    png: await writePng({ name: 'colour', ...size, channels: 3, bitDepth: 8, colourSpace: 'srgb', data }),
  };
}

/** Proposes what each of several files shows, and which way the green of a normal map runs. */
export async function recogniseSet(context: Context, ids: string[]) {
  const rows = await getSamples(context.database, ids);
  for (const id of ids) if (!rows.some((r) => r.id === id)) throw notFound('sample', id);
  const inOrder = ids.map((id) => rows.find((r) => r.id === id)!);
  const fault = faultOfSet(
    inOrder.map((r) => ({ fileName: r.file_name, widthPx: r.width_px, heightPx: r.height_px })),
  );
  if (fault) throw new Problem(422, 'Not one set', fault);
  const bytes = await sampleBytes(context, ids);
  return context.pool.recognise(
    inOrder.map((r) => ({ fileName: r.file_name, sample: bytes.find((b) => b.id === r.id)! })),
  );
}
