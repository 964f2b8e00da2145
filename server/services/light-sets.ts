import { readLightList } from '@jossel/core/formats';
import { faultOfLights } from '@jossel/core/photometric';
import { makeFrame, type PictureShape, type StraightenSettings } from '@jossel/core/straighten';
import { hashOf, isRefusal } from '@jossel/core/surface';
import { LIMITS } from '../config';
import { notFound, Problem } from '../problem';
import { inspectPicture } from '../render/decode';
import * as store from '../store';
import type { Context } from './context';
import { describeSample, receiveSample, sampleBytes, type Origin } from './samples';

/** Light sets: pictures of one sample under several lights, from which its relief is measured. */

/** Takes in the pictures of a light set with the list of its lights. */
export async function receiveLightSet(
  context: Context,
  files: readonly { name: string; bytes: Buffer }[],
  list: string,
  origin: Origin,
  cameFrom: store.CameFrom = 'file',
) {
  const lights = readList(list);
  const unnamed = files.find(({ name }) => !lights.some((l) => l.file === name));
  if (unnamed)
    throw new Problem(
      422,
      'Light set not complete',
      `The list of lights does not name the picture "${unnamed.name}". Every picture needs its light.`,
    );
  const missing = lights.find(({ file }) => !files.some((f) => f.name === file));
  if (missing)
    throw new Problem(
      422,
      'Light set not complete',
      `The list names "${missing.file}", but no such picture was sent.`,
    );
  const fault = faultOfLights(lights.map(({ light }) => light));
  if (fault) throw new Problem(422, 'Lights not usable', fault);
  await refuseOtherSizes(files);
  const samples: Awaited<ReturnType<typeof receiveSample>>[] = [];
  for (const { file } of lights) {
    const { bytes } = files.find((f) => f.name === file)!;
    samples.push(await receiveSample(context, file, bytes, origin, { cameFrom }));
  }
  const row = await store.addLightSet(
    context.database,
    lights.map(({ light }, k) => ({ sampleId: samples[k]!.id, fileName: samples[k]!.fileName, light })),
  );
  return { id: row.id, sampleIds: samples.map((s) => s.id), lights: row.lights };
}

/** Looked at before any picture is kept. @throws Problem when the pictures are not of one size, or one is no picture */
async function refuseOtherSizes(files: readonly { name: string; bytes: Buffer }[]): Promise<void> {
  let first: { name: string; widthPx: number; heightPx: number } | undefined;
  for (const { name, bytes } of files) {
    const { widthPx, heightPx } = await inspectPicture(bytes, LIMITS.pixels).catch((error: Error) => {
      throw error.name === 'NotAPicture'
        ? new Problem(422, 'Not a usable picture', `${name}: ${error.message}`)
        : error;
    });
    first ??= { name, widthPx, heightPx };
    if (widthPx !== first.widthPx || heightPx !== first.heightPx)
      throw new Problem(
        422,
        'Pictures of several sizes',
        `"${name}" has ${widthPx} × ${heightPx} pixels, "${first.name}" ${first.widthPx} × ${first.heightPx}. All pictures of a set are taken by one camera that does not move.`,
      );
  }
}

function readList(list: string) {
  try {
    return readLightList(list);
  } catch (error) {
    if (isRefusal(error)) throw new Problem(422, 'List of lights not readable', error.message);
    throw error;
  }
}

async function lightSet({ database }: Context, id: string): Promise<store.LightSetRow> {
  const row = await store.getLightSet(database, id);
  if (!row) throw notFound('light set', id);
  return row;
}

/** A light set with its lights, and what was measured from it. */
export async function showLightSet(context: Context, id: string) {
  const { lights, measured, received_at: receivedAt } = await lightSet(context, id);
  return { id, lights, measured, receivedAt };
}

/** A light set as wide and as high as a size says: its proportions are those of the pictures. */
const SIZE_AGREES = 0.02;

/**
 * Measures relief and colour from a light set, or tells what was measured before at the same size.
 * @param overallMm size of the whole picture, or of the frame; the height follows from its proportions
 * @param straighten how all pictures are straightened first; null: they are measured as they are
 */
export async function measureLightSet(
  context: Context,
  id: string,
  overallMm: { width: number; height?: number | undefined },
  straighten: StraightenSettings | null = null,
): Promise<store.Measurement> {
  const { lights, measured } = await lightSet(context, id);
  const samples = await sampleBytes(
    context,
    lights.map((l) => l.sampleId),
  );
  const size = straighten
    ? sizeOfFrame(samples[0]!, straighten, overallMm)
    : sizeOfWhole(samples[0]!, overallMm);
  if (
    measured &&
    Math.abs(measured.overallMm.width / size.width - 1) < 1e-6 &&
    Math.abs(measured.overallMm.height / size.height - 1) < 1e-6 &&
    hashOf(measured.straightened ?? null) === hashOf(straighten)
  )
    return measured;
  const found = await measuredBy(context, {
    pictures: lights.map(({ light }, k) => ({ sample: samples[k]!, light })),
    overallMm: size,
    straighten,
  });
  const keep = async (what: string, png: Uint8Array) =>
    (
      await receiveSample(
        context,
        `${what}.png`,
        Buffer.from(png),
        await originOf(context, lights[0]!.sampleId),
        { cameFrom: 'light set' },
      )
    ).id;
  const measurement: store.Measurement = {
    overallMm: size,
    straightened: straighten,
    colourId: await keep('measured-colour', found.colourPng),
    heightId: await keep('measured-height', found.heightPng),
    confidenceId: await keep('confidence', found.confidencePng),
    rangeMm: found.rangeMm,
    toleranceMm: found.toleranceMm,
    lrv: found.lrv,
    lights: found.lights,
    doubts: found.doubts,
  };
  await store.keepMeasurement(context.database, id, measurement);
  return measurement;
}

type GivenSize = { width: number; height?: number | undefined };

function sizeOfWhole({ widthPx, heightPx }: PictureShape, overallMm: GivenSize) {
  const size = { width: overallMm.width, height: (overallMm.width * heightPx) / widthPx };
  if (overallMm.height && Math.abs(overallMm.height / size.height - 1) > SIZE_AGREES)
    throw new Problem(
      422,
      'Size not possible',
      `A picture of ${widthPx} × ${heightPx} pixels that is ${overallMm.width} mm wide is ${size.height.toFixed(0)} mm high, not ${overallMm.height}. Straighten it, or give its width only.`,
    );
  return size;
}

/** A frame may have any proportions; where its height is not given, it follows from the perspective. */
function sizeOfFrame(picture: PictureShape, straighten: StraightenSettings, { width, height }: GivenSize) {
  try {
    return { width, height: height ?? width / makeFrame(picture, straighten).aspect.ratio };
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, 'Frame not possible', error.message);
    throw error;
  }
}

async function measuredBy(context: Context, order: Parameters<Context['pool']['measure']>[0]) {
  try {
    return await context.pool.measure(order);
  } catch (error) {
    if (isRefusal(error)) throw new Problem(422, 'Not measurable', error.message);
    throw error;
  }
}

async function originOf({ database }: Context, sampleId: string): Promise<Origin> {
  const row = await store.getSample(database, sampleId);
  return row ? describeSample(row).origin : {};
}
