import type { MessagePort } from 'node:worker_threads';
import { lrvOf, linearToLab } from '@jossel/core/colour';
import {
  encodeMap,
  renderFinish,
  StageCache,
  type MapName,
  type Recipe,
  type RenderReport,
} from '@jossel/core/finish';
import { writePanelGlb } from '@jossel/core/formats';
import { mean } from '@jossel/core/raster';
import { reportOnSample, type SampleReport } from '@jossel/core/sample';
import { LIMITS } from '../config';
import { decodePicture, inspectPicture, type PictureFacts } from './decode';
import { writePng } from './png';
import { told } from './told';
import { levelOf, sourcesFrom, type SampleBytes } from './sources';

/** What runs in a computing thread. Each export is one kind of work, called through the pool. */

export const inspect = (order: Parameters<typeof inspectSample>[0]) => told(() => inspectSample(order));
export const level = (order: Parameters<typeof readLevel>[0]) => told(() => readLevel(order));
export const render = (order: RenderOrder) => told(() => renderMaps(order));
export { finishColour, glare, palette, sampleColour } from './colour';
export { advice, repetition } from './repetition';
export { card, recognise, reportPicture, straightenRows, structure } from './look';

const cache = new StageCache(700 * 1024 * 1024);

export type Inspection = PictureFacts & {
  report: SampleReport;
  lrv: number;
  meanLab: [number, number, number];
};

/** Looks at a new file: is it a picture, what kind, what is it good for. */
async function inspectSample({ bytes }: { bytes: Uint8Array }): Promise<Inspection> {
  const facts = await inspectPicture(bytes, LIMITS.pixels);
  const picture = await decodePicture(bytes, LIMITS.pixels);
  const colour = [mean(picture.r), mean(picture.g), mean(picture.b)] as const;
  return { ...facts, report: reportOnSample(picture), lrv: lrvOf(colour), meanLab: [...linearToLab(colour)] };
}

/** One halving of a sample, as the three planes one behind the other. */
async function readLevel({
  sample,
  level: n,
  asData,
}: {
  sample: SampleBytes;
  level: number;
  asData: boolean;
}): Promise<{ widthPx: number; heightPx: number; planes: Uint8Array }> {
  const { widthPx, heightPx, r, g, b } = await levelOf(sample, n, asData);
  const planes = new Float32Array(3 * r.length);
  planes.set(r, 0);
  planes.set(g, r.length);
  planes.set(b, 2 * r.length);
  return { widthPx, heightPx, planes: new Uint8Array(planes.buffer) };
}

export interface RenderOrder {
  recipe: Recipe;
  samples: SampleBytes[];
  widthPx: number;
  maps: MapName[];
  /** A colourway; null or left out: the finish itself. */
  way?: string | null;
  category?: string;
  /** Also write a glTF panel under this name. */
  glb?: { name: string; extras: Record<string, unknown> };
  /** One shared number: not 0 means stop. */
  stop?: SharedArrayBuffer;
  port?: MessagePort;
}

export interface RenderedFile {
  map: string;
  fileName: string;
  bytes: Uint8Array;
  widthPx?: number;
  heightPx?: number;
  bitDepth?: number;
  colourSpace?: string;
}

/** Renders maps of a finish to files. */
async function renderMaps(order: RenderOrder): Promise<{ report: RenderReport; files: RenderedFile[] }> {
  const flag = order.stop ? new Int32Array(order.stop) : null;
  const signal = {
    get aborted() {
      return flag !== null && Atomics.load(flag, 0) !== 0;
    },
  };
  const say = (progress: number, step: string) => order.port?.postMessage({ progress, step });
  const finish = await renderFinish(order.recipe, sourcesFrom(order.samples), {
    widthPx: order.widthPx,
    maps: order.maps,
    way: order.way ?? null,
    ...(order.category ? { category: order.category } : {}),
    signal,
    cache,
    onProgress: (share, step) => say(share * 0.6, step),
  });
  const files: RenderedFile[] = [];
  const pngs = new Map<MapName, Buffer>();
  const encoded = new Map(order.maps.map((name) => [name, encodeMap(finish, name)] as const));
  // Compression runs in libuv's threads: maps are written side by side.
  let written = 0;
  await Promise.all(
    order.maps.map(async (name) => {
      const png = await writePng(encoded.get(name)!);
      pngs.set(name, png);
      say(0.6 + (0.3 * ++written) / order.maps.length, `Writing the ${name} map`);
    }),
  );
  for (const name of order.maps) {
    const map = encoded.get(name)!;
    files.push({
      map: name,
      fileName: `${name}.png`,
      bytes: pngs.get(name)!,
      widthPx: map.widthPx,
      heightPx: map.heightPx,
      bitDepth: map.bitDepth,
      colourSpace: map.colourSpace,
    });
  }
  if (order.glb) {
    say(0.92, 'Writing the glTF panel');
    const n = finish.widthPx * finish.heightPx;
    const packed = new Uint8Array(3 * n);
    const [occlusion, roughness, metalness] = (['occlusion', 'roughness', 'metalness'] as const).map(
      (name) => encoded.get(name)!.data,
    );
    for (let i = 0; i < n; i++) {
      packed[3 * i] = occlusion![i]!;
      packed[3 * i + 1] = roughness![i]!;
      packed[3 * i + 2] = metalness![i]!;
    }
    const bytes = await writePanelGlb({
      name: order.glb.name,
      repeatMm: finish.report.repeatMm,
      metallic: finish.metalness,
      index: order.recipe.response.index.value,
      colourPng: pngs.get('colour')!,
      normalPng: pngs.get('normal')!,
      packedPng: await writePng({
        name: 'occlusion',
        widthPx: finish.widthPx,
        heightPx: finish.heightPx,
        channels: 3,
        bitDepth: 8,
        colourSpace: 'data',
        data: packed,
      }),
      extras: order.glb.extras,
    });
    files.push({ map: 'panel', fileName: 'panel.glb', bytes });
  }
  if (signal.aborted) throw Object.assign(new Error('Stopped when asked.'), { name: 'Stopped' });
  return { report: finish.report, files };
}
