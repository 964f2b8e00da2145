import type { MessagePort } from 'node:worker_threads';
import { deflateSync } from 'node:zlib';
import {
  colourReports,
  encodeMap,
  issueFinish,
  renderFinish,
  renderMaps,
  type EncodedMap,
  type IssuedFinish,
  type MapName,
  type Measured,
  type Recipe,
  type RenderReport,
} from '@jossel/core/finish';
import { writePanelGlb } from '@jossel/core/formats';
import { physicalOf } from '@jossel/core/response';
import { StageCache, Stopped } from '@jossel/core/surface';
import { writePng } from './png';
import { optionsOf, type IssuedAs } from './issued';
import { serialiseErrors } from './serialise-errors';
import type { HeightField } from '@jossel/core/relief';
import { writeExr } from './exr';
import { CACHE_BYTES, levelOf, sourcesFrom, type SampleBytes } from './sources';

/** What runs in a computing thread. Each export is one kind of work, called through the pool. */

export const level = (order: Parameters<typeof readLevel>[0]) => serialiseErrors(() => readLevel(order));
export const render = (order: RenderOrder) => serialiseErrors(() => renderFiles(order));
export const swatch = (order: SwatchOrder) => serialiseErrors(() => drawSwatch(order));
export const issue = (order: IssueOrder) => serialiseErrors(() => solveToIssue(order));
export { finishColour, glare, palette, sampleColour } from './colour';
export { advice, picked, pieces, repetition } from './repetition';
export { measure } from './measure';
export { reliefDetail } from './relief-detail';
export { card, joints, recognise, reportPicture, straightenRows, structure } from './look';

const cache = new StageCache(CACHE_BYTES);

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
  /** What a revision was made by; null: it is a draft. */
  issued?: IssuedAs | null;
  samples: SampleBytes[];
  widthPx: number;
  maps: MapName[];
  /** A colourway; null or left out: the finish itself. */
  way?: string | null;
  category?: string;
  /** Also write a glTF panel under this name. */
  glb?: { name: string; extras: Record<string, unknown> };
  /** Also write the height in mm as floats. */
  floatHeight?: boolean;
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
  /** Of values that are kept as they are. */
  unit?: string;
}

/** Renders maps of a finish to files. */
async function renderFiles(order: RenderOrder): Promise<{ report: RenderReport; files: RenderedFile[] }> {
  const flag = order.stop ? new Int32Array(order.stop) : null;
  const signal = {
    get aborted() {
      return flag !== null && Atomics.load(flag, 0) !== 0;
    },
  };
  const say = (progress: number, step: string) => order.port?.postMessage({ progress, step });
  const finish = await renderFinish(order.recipe, sourcesFrom(order.samples), {
    ...optionsOf(order.issued),
    widthPx: order.widthPx,
    maps: order.maps,
    way: order.way ?? null,
    ...(order.category ? { category: order.category } : {}),
    signal,
    cache,
    onProgress: (share, step) => say(share * 0.6, step),
  });
  const encoded = order.maps.map((name) => encodeMap(finish, name));
  let written = 0;
  // Compression runs in libuv's threads: maps are written side by side.
  const files = await Promise.all(
    encoded.map(async (map) => {
      const bytes = await writePng(map);
      say(0.6 + (0.3 * ++written) / encoded.length, `Writing the ${map.name} map`);
      return fileOf(map, bytes);
    }),
  );
  if (order.floatHeight && finish.maps.height) files.push(floatHeightOf(finish.maps.height));
  if (order.glb) {
    say(0.92, 'Writing the glTF panel');
    const bytes = await panelOf(order, order.glb, finish.report, encoded, files);
    files.push({ map: 'panel', fileName: 'panel.glb', bytes });
  }
  if (signal.aborted) throw new Stopped();
  return { report: finish.report, files };
}

const fileOf = (
  { name, widthPx, heightPx, bitDepth, colourSpace }: EncodedMap,
  bytes: Uint8Array,
): RenderedFile => ({
  map: name,
  fileName: `${name}.png`,
  bytes,
  widthPx,
  heightPx,
  bitDepth,
  colourSpace,
});

/** The height in mm above the level that stays in place, as OpenEXR. */
function floatHeightOf({ widthPx, heightPx, ...height }: HeightField): RenderedFile {
  return {
    map: 'height',
    fileName: 'height.exr',
    bytes: writeExr(
      { widthPx, heightPx, data: height.data },
      'Height in millimetres; 0 is the level that stays in place.',
    ),
    widthPx,
    heightPx,
    bitDepth: 32,
    colourSpace: 'data',
    unit: 'mm',
  };
}

/** Colour with the opacity as its fourth channel. */
function withOpacity(colour: EncodedMap, opacity: EncodedMap): Promise<Uint8Array> {
  const data = new Uint8Array(4 * opacity.data.length);
  for (let i = 0; i < opacity.data.length; i++) {
    for (let c = 0; c < 3; c++) data[4 * i + c] = colour.data[3 * i + c]!;
    data[4 * i + 3] = opacity.data[i]!;
  }
  return writePng({ ...colour, channels: 4, data });
}

/** A glTF panel of the repeat; occlusion, roughness and metalness are packed into one texture. */
async function panelOf(
  { recipe }: RenderOrder,
  { name, extras }: NonNullable<RenderOrder['glb']>,
  report: RenderReport,
  encoded: readonly EncodedMap[],
  files: readonly RenderedFile[],
): Promise<Uint8Array> {
  const map = (wanted: MapName) => encoded.find((m) => m.name === wanted)!;
  const png = (wanted: MapName) => files.find((f) => f.fileName === `${wanted}.png`)!.bytes;
  const { widthPx, heightPx } = map('occlusion');
  const data = new Uint8Array(3 * widthPx * heightPx);
  for (const [k, channel] of (['occlusion', 'roughness', 'metalness'] as const).entries()) {
    const from = map(channel).data;
    for (let i = 0; i < from.length; i++) data[3 * i + k] = from[i]!;
  }
  return writePanelGlb({
    name,
    repeatMm: report.repeatMm,
    physical: physicalOf(recipe.response, report),
    colourPng: recipe.response.openness ? await withOpacity(map('colour'), map('opacity')) : png('colour'),
    normalPng: png('normal'),
    packedPng: await writePng({
      name: 'occlusion',
      widthPx,
      heightPx,
      channels: 3,
      bitDepth: 8,
      colourSpace: 'data',
      data,
    }),
    extras,
  });
}

export interface SwatchOrder {
  recipe: Recipe;
  issued?: IssuedAs | null;
  samples: SampleBytes[];
  widthPx: number;
  map: MapName;
  way: string | null;
}
/** A small picture of a repeat. */
export interface Swatch {
  png: Uint8Array;
  /** What the repeat measures; null: the map does not show its colour. */
  measured: Measured | null;
}
async function drawSwatch({ recipe, issued, samples, map, ...order }: SwatchOrder): Promise<Swatch> {
  const reports = map === 'colour' ? colourReports(recipe) : [];
  const finish = await renderMaps(
    recipe,
    sourcesFrom(samples),
    { ...optionsOf(issued), ...order, maps: [map], cache },
    reports,
  );
  const { lrv, meanLab } = finish.report;
  return {
    png: await writePng(encodeMap(finish, map)),
    measured: lrv !== undefined && meanLab ? { lrv, lab: meanLab } : null,
  };
}

export interface IssueOrder {
  recipe: Recipe;
  samples: SampleBytes[];
  /** Width of the repeat at which its colour is measured. */
  widthPx: number;
}

async function solveToIssue({ recipe, samples, widthPx }: IssueOrder): Promise<IssuedFinish> {
  const { solved, ...issued } = await issueFinish(recipe, sourcesFrom(samples), widthPx, { cache });
  return { ...issued, solved: solved && new Uint8Array(deflateSync(solved)) };
}
