import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import yazl from 'yazl';
import { mapsOf, neededSamples, type Recipe } from '@jossel/core/finish';
import { describeFinish, fileName, folderNames, layoutFiles, type Manifest } from '@jossel/core/formats';
import type { RenderedFile } from '../render/thread';
import * as store from '../store';
import { contentsOf } from '../services/contents';
import type { Context } from '../services/context';
import { planFittingMaps } from '../services/estimates';
import { recipeOf } from '../services/recipes';
import { refuseWithoutPermission } from '../services/permission';
import { sampleBytes } from '../services/samples';
import { PROFILES, titleOf, type HandoverRequest, type HandoverResult } from '../services/tasks';
import type { Run } from './run';

const sha256Of = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** What a finish, or one of its colourways, is called in a package. */
const nameOf = (finish: string, way: { name: string } | null): string =>
  way ? `${finish}, ${way.name}` : finish;

/** The line hatch of a finish that is laid of pieces, and the pieces as data. */
const filesOfLayout = ({ layout }: Recipe): RenderedFile[] =>
  layout
    ? layoutFiles(layout).map(({ map, fileName, text }) => ({ map, fileName, bytes: Buffer.from(text) }))
    : [];

/** Computes all finishes of a handover and packs them. The package is kept whole or not at all. */
export async function runHandover(context: Context, run: Run): Promise<HandoverResult> {
  const path = join(tmpdir(), `jossel-${run.task.id}-${run.task.attempt}.zip`);
  const ended = new AbortController();
  try {
    return await packInto(path, ended.signal, context, run);
  } finally {
    ended.abort();
    await rm(path, { force: true });
  }
}

/** @param ended closes the file, whatever became of it */
async function packInto(
  path: string,
  ended: AbortSignal,
  context: Context,
  run: Run,
): Promise<HandoverResult> {
  const request = run.task.request as HandoverRequest;
  const { items, profile } = request;
  const started = performance.now();
  let estimatedSeconds = 0;
  const zip = new yazl.ZipFile();
  // Files go to the disk as they are made; the package is never in memory as a whole.
  const written = pipeline(zip.outputStream, createWriteStream(path), { signal: ended });
  written.catch(() => undefined);
  const manifest: Manifest = { schema: 'jossel.manifest/2', finishes: [] };
  const folders = folderNames(
    items.map(({ name, way, revision }) => ({ name: nameOf(name, way), revision })),
  );
  for (const [i, item] of items.entries()) {
    const { row, letter, recipe, issued } = await store.withRetry(() =>
      recipeOf(context, item.finishId, item.revision),
    );
    // It may have been withdrawn since the package was ordered.
    await store.withRetry(() => refuseWithoutPermission(context, row.name, recipe));
    const { px, repeatMm, seconds } = await planFittingMaps(
      context,
      {
        name: row.name,
        recipe,
        issued,
        size: { longSidePx: PROFILES[profile].longSidePx },
      },
      run.stopped,
    );
    estimatedSeconds += seconds;
    const samples = await store.withRetry(() => sampleBytes(context, neededSamples(recipe)));
    const [sample] = await store.withRetry(() => store.getSamples(context.database, neededSamples(recipe)));
    const way = item.way ?? null;
    const name = nameOf(row.name, way);
    const folder = folders[i]!;
    const origin = {
      supplier: sample?.supplier ?? '',
      line: sample?.line ?? '',
      code: sample?.code ?? '',
      batch: sample?.batch ?? '',
      permission: sample?.permission ?? 'generated in this studio',
    };
    const {
      report,
      files: maps,
      heightMm,
    } = await context.pool.render(
      {
        recipe,
        issued,
        samples,
        widthPx: px.width,
        maps: mapsOf(recipe),
        way: way?.id ?? null,
        category: row.category,
        floatHeight: true,
        splitMm: item.splitMm ?? null,
        glb: {
          name: `${name} ${letter}`,
          extras: {
            revision: letter,
            repeatMm,
            glossGu: recipe.response.glossGu.value,
          },
        },
      },
      {
        stopped: run.stopped,
        onProgress: (p, step) => run.report(((i + p) / items.length) * 0.95, `${name}: ${step}`),
      },
    );
    const files: RenderedFile[] = [...maps, ...filesOfLayout(recipe)];
    manifest.finishes.push({
      ...describeFinish(
        {
          name: row.name,
          category: row.category,
          revision: letter,
          colourway: way?.name ?? null,
          folder,
          origin,
        },
        recipe,
        report,
        recipe.generated ? undefined : samples[0],
        item.splitMm && heightMm ? { splitMm: item.splitMm, meshMm: heightMm } : null,
      ),
      files: files.map((f) => ({
        path: `${folder}/${f.fileName}`,
        map: f.map,
        ...(f.widthPx
          ? { widthPx: f.widthPx, heightPx: f.heightPx, bitDepth: f.bitDepth, colourSpace: f.colourSpace }
          : {}),
        ...(f.unit ? { unit: f.unit } : {}),
        bytes: f.bytes.byteLength,
        sha256: sha256Of(f.bytes),
      })),
    });
    // PNG, OpenEXR and glb are compressed already.
    for (const f of files)
      zip.addBuffer(
        Buffer.from(f.bytes.buffer, f.bytes.byteOffset, f.bytes.byteLength),
        `${folder}/${f.fileName}`,
        { compress: false },
      );
  }
  zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 2)), 'manifest.json');
  zip.end();
  run.report(0.96, 'Packing');
  await written;
  const { sha256, bytes } = await store.withRetry(() =>
    store.putFile(context.database, path, 'application/zip'),
  );
  const name = items.length === 1 ? manifest.finishes[0]!.folder : fileName(titleOf(request));
  return {
    sha256,
    bytes,
    fileName: `${name}-${profile}.zip`,
    manifest,
    contents: contentsOf(manifest),
    took: { seconds: (performance.now() - started) / 1000, estimatedSeconds },
  };
}
