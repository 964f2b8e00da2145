import {
  addSample,
  changeSample,
  getBlob,
  getSample,
  getSamples,
  listSamples,
  ORIGIN_FIELDS,
  putBlob,
  type SampleRow,
} from '../store';
import { LIMITS } from '../config';
import { notFound, Problem } from '../problem';
import { previewPicture } from '../render/decode';
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
  const sha256 = await putBlob(database, bytes, seen.mediaType);
  const row = await addSample(database, {
    sha256,
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
    supplier: '',
    line: '',
    code: '',
    batch: '',
    permission: '',
    note: '',
    ...origin,
  });
  return describeSample(row);
}

export const tooLargeFile = () =>
  new Problem(
    413,
    'File too large',
    `A file may have at most ${LIMITS.uploadBytes / 1024 / 1024} MiB. Save the picture with compression, or cut it up.`,
  );

export async function showSample({ database }: Context, id: string) {
  const row = await getSample(database, id);
  if (!row) throw notFound('sample', id);
  return describeSample(row);
}

export const allSamples = async ({ database }: Context) => (await listSamples(database)).map(describeSample);

export async function correctOrigin({ database }: Context, id: string, origin: Origin) {
  const row =
    Object.keys(origin).length > 0 ? await changeSample(database, id, origin) : await getSample(database, id);
  if (!row) throw notFound('sample', id);
  return describeSample(row);
}

export async function originalFile({ database }: Context, id: string) {
  const row = await getSample(database, id);
  if (!row) throw notFound('sample', id);
  const blob = await getBlob(database, row.sha256);
  if (!blob) throw new Problem(500, 'File missing', `The file of sample ${id} is missing from the database.`);
  return { bytes: blob.bytes, mediaType: row.media_type, fileName: row.file_name, sha256: row.sha256 };
}

/** The sample as a picture any browser shows. */
export const samplePreview = async (context: Context, id: string) =>
  previewPicture((await originalFile(context, id)).bytes, LIMITS.pixels);

/** Samples with their bytes, for a computing thread. */
export async function sampleBytes({ database }: Context, ids: string[]): Promise<SampleBytes[]> {
  const rows = await getSamples(database, ids);
  return Promise.all(
    rows.map(async (row) => ({
      id: row.id,
      sha256: row.sha256,
      widthPx: row.width_px,
      heightPx: row.height_px,
      bytes: (await getBlob(database, row.sha256))!.bytes,
    })),
  );
}

export async function sampleLevel(context: Context, id: string, level: number) {
  const [sample] = await sampleBytes(context, [id]);
  if (!sample) throw notFound('sample', id);
  return context.pool.level(sample, level);
}
