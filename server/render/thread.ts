import type { MessagePort } from 'node:worker_threads';
import { deflateSync } from 'node:zlib';
import { workerData } from 'piscina';
import {
  colourReports,
  DRAFT_BUDGET,
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
  type Solved,
} from '@jossel/core/finish';
import { StageCache, Stopped } from '@jossel/core/surface';
import { openHelpers } from './helpers';
import type { ThreadData } from './lane';
import { Panel, type PanelOrder } from './panel';
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
export { estimate } from './estimate';
export { finishColour, glare, palette, sampleColour } from './colour';
export { advice, picked, pieces, relaidPieces, repetition } from './repetition';
export { measure } from './measure';
export { reliefDetail } from './relief-detail';
export { card, joints, recognise, reportPicture, straightenRows, structure } from './look';

const { helpers } = (workerData as ThreadData | null) ?? { helpers: 0 };
if (helpers > 0) openHelpers(new URL('./helper.js', import.meta.url), helpers);

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
  /** Also write a glTF panel. */
  glb?: PanelOrder;
  /** Also write the height in mm as floats. */
  floatHeight?: boolean;
  /** Share the relief between mesh and normals at this wavelength, mm; null or left out: height and normals hold all of it. */
  splitMm?: number | null;
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

export interface Rendered {
  report: RenderReport;
  files: RenderedFile[];
  /** Heights of black and white of the height map; null: it is not among the files. */
  heightMm: { min: number; max: number } | null;
}

/** Renders maps of a finish to files. */
async function renderFiles(order: RenderOrder): Promise<Rendered> {
  const flag = order.stop ? new Int32Array(order.stop) : null;
  const signal = {
    get aborted() {
      return flag !== null && Atomics.load(flag, 0) !== 0;
    },
  };
  const say = (progress: number, step: string) => order.port?.postMessage({ progress, step });
  const writing: Promise<RenderedFile>[] = [];
  let floatHeight: Promise<RenderedFile> | null = null;
  const pictures = sourcesFrom(order.samples);
  const options = {
    ...optionsOf(order.issued),
    widthPx: order.widthPx,
    way: order.way ?? null,
    ...(order.category ? { category: order.category } : {}),
    signal,
    cache,
  };
  const panel = order.glb && new Panel(order.recipe.response);
  let heightMm: Rendered['heightMm'] = null;
  const { report } = await renderFinish<MapName, never>(order.recipe, pictures, {
    ...options,
    maps: order.maps,
    returned: [],
    splitMm: order.splitMm ?? null,
    onProgress: (share, step) => say(share * 0.8, step),
    // Compression runs in libuv's threads, while this one computes the next map.
    onMap: (name, map, { width: widthPx, height: heightPx }) => {
      const one = encodeMap({ widthPx, heightPx, maps: { [name]: map } as never }, name);
      panel?.take(one);
      writing.push(awaitedLater(writePng(one).then((bytes) => fileOf(one, bytes))));
      if (name !== 'height') return;
      const height = map as HeightField;
      heightMm = { min: height.minMm, max: height.maxMm };
      if (order.floatHeight) floatHeight = awaitedLater(floatHeightOf(height));
    },
  });
  let written = 0;
  const files = await Promise.all(
    writing.map(async (file) => {
      const done = await file;
      say(0.8 + (0.1 * ++written) / writing.length, `Writing ${done.fileName}`);
      return done;
    }),
  );
  if (floatHeight) files.push(await floatHeight);
  if (order.glb && panel) {
    say(0.92, 'Writing the glTF panel');
    // The panel is flat: its normals hold the whole relief.
    const png = (of: MapName) => files.find(({ fileName }) => fileName === `${of}.png`)!.bytes;
    const normals = order.splitMm
      ? await writePng(
          encodeMap(await renderMaps(order.recipe, pictures, { ...options, maps: ['normal'] }), 'normal'),
        )
      : png('normal');
    const bytes = await panel.glb(order.glb, report, png('colour'), normals);
    files.push({ map: 'panel', fileName: 'panel.glb', bytes });
  }
  if (signal.aborted) throw new Stopped();
  return { report, files, heightMm };
}

/** Whoever waits for it later is told of a fault; it must not end the thread before. */
function awaitedLater<T>(work: Promise<T>): Promise<T> {
  work.catch(() => undefined);
  return work;
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
async function floatHeightOf({ widthPx, heightPx, data }: HeightField): Promise<RenderedFile> {
  return {
    map: 'height',
    fileName: 'height.exr',
    bytes: await writeExr(
      { widthPx, heightPx, data },
      'Height in millimetres; 0 is the level that stays in place.',
    ),
    widthPx,
    heightPx,
    bitDepth: 32,
    colourSpace: 'data',
    unit: 'mm',
  };
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
  /** What had to be solved for it; null: nothing, it was kept before, or it is of an issued revision. */
  solved: SolvedRepeat | null;
}
async function drawSwatch({ recipe, issued, samples, map, ...order }: SwatchOrder): Promise<Swatch> {
  const reports = map === 'colour' ? colourReports(recipe) : [];
  const finish = await renderMaps(
    recipe,
    sourcesFrom(samples),
    // What is issued was drawn already.
    { ...optionsOf(issued), ...order, maps: [map], cache, ...(issued ? {} : { budget: DRAFT_BUDGET }) },
    reports,
  );
  const { lrv, meanLab } = finish.report;
  return {
    solved: issued ? null : await newlySolved(finish.solved),
    png: await writePng(encodeMap(finish, map)),
    measured: lrv !== undefined && meanLab ? { lrv, lab: meanLab } : null,
  };
}

/** A repeat that was solved for a draft. */
export interface SolvedRepeat {
  key: string;
  deflated: Uint8Array;
}

/** Keys of what this thread has handed out already. */
const handedOut = new Set<string>();

/** What was solved, unless this thread handed it out before. */
async function newlySolved(solved: Solved | null): Promise<SolvedRepeat | null> {
  if (!solved || handedOut.has(solved.key)) return null;
  const deflated = new Uint8Array(deflateSync(await solved.bytes()));
  handedOut.add(solved.key);
  return { key: solved.key, deflated };
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
