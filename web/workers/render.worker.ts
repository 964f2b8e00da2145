import { expose, transfer } from 'comlink';
import { linearToLab, linearToSrgbBytes, type Triple } from '@jossel/core/colour';
import {
  adviceForRepeat,
  checkColourways,
  colourReports,
  DRAFT_BUDGET,
  encodeMap,
  sizeOfFinishMm,
  lead,
  leadGeometry,
  MAPS,
  renderFinish,
  relayBrokenPieces,
  renderMaps,
  repeatToJudge,
  repetitionOf,
  type MapName,
  type Recipe,
  type RelaidPieces,
  type RenderReport,
  type RepeatToJudge,
  type Repetition,
  type TriedAdvice,
  type TriedMethod,
} from '@jossel/core/finish';
import type { NormalField } from '@jossel/core/relief';
import { lookCalibrated, type PictureSource } from '@jossel/core/sources';
import { StageCache, type Check } from '@jossel/core/surface';
import { halve, luminanceOf, mapChannels, type ColourPicture } from '@jossel/core/raster';
import { carryRefusals } from './carry-refusals';
import { openHelpers } from './helpers';
import { yieldToEventLoop } from './yield-to-event-loop';
import { solvedBefore } from './solved-before';
import { sourcesOf, type SampleInfo } from './sources';

/** Computes finishes for the page. The newest request wins: an older one stops at its next stage. */

/** A computed finish as the page shows it. Pictures are RGBA, 8 bit. */
export interface Drawn {
  widthPx: number;
  heightPx: number;
  report: RenderReport;
  /** The maps that were computed. A first draft leaves some out; they follow when nothing changes any more. */
  maps: readonly MapName[];
  colour: Uint8ClampedArray<ArrayBuffer>;
  normal: Uint8ClampedArray<ArrayBuffer>;
  /** Null where it was not asked for. */
  occlusion: Uint8ClampedArray<ArrayBuffer> | null;
  /** Height in mm. */
  heightMm: Float32Array<ArrayBuffer>;
  /** What was asked for and is not the same everywhere. */
  uneven: Partial<Record<'roughness' | 'metalness' | 'opacity', Uint8ClampedArray<ArrayBuffer>>>;
  /** Share of pixels by luminance, in 64 equal steps of its square root from 0 to 1. */
  histogram: number[];
  /** a* and b* of pixels spread over the repeat. */
  scatter: [number, number][];
  /** Counts up with every picture of this worker. */
  serial: number;
}

/** A method that was tried, with the repeat it makes as RGBA, 8 bit. */
export interface ShownMethod extends TriedMethod {
  shown: { widthPx: number; heightPx: number; rgba: Uint8ClampedArray<ArrayBuffer> };
}
/** Longest side of that. */
const SHOWN_PX = 320;

const cache = new StageCache(400 * 1024 * 1024);
/** What all computing of finishes shares. */
const shared = { cache, solvedBefore, pause: yieldToEventLoop, budget: DRAFT_BUDGET };
openHelpers();

let latest = 0;
let latestAdvice = 0;
let latestRelaying = 0;

function rgba(data: Uint8Array | Uint16Array, channels: number): Uint8ClampedArray<ArrayBuffer> {
  const n = data.length / channels;
  const out = new Uint8ClampedArray(4 * n);
  for (let i = 0; i < n; i++) {
    const k = i * channels;
    out[4 * i] = data[k]!;
    out[4 * i + 1] = data[channels === 3 ? k + 1 : k]!;
    out[4 * i + 2] = data[channels === 3 ? k + 2 : k]!;
    out[4 * i + 3] = 255;
  }
  return out;
}

/** Maps that may be one value everywhere. */
const EVEN_MAPS = ['roughness', 'metalness', 'opacity'] as const;

/** Normals as the page shows them. They do not change with the colour, so the last ones are kept. */
function encodedNormals(field: NormalField): Uint8ClampedArray<ArrayBuffer> {
  if (lastNormals?.field !== field)
    lastNormals = { field, pixels: rgba(MAPS.normal.encode(field, field.x.length), 3) };
  return lastNormals.pixels.slice();
}
let lastNormals: { field: NormalField; pixels: Uint8ClampedArray<ArrayBuffer> } | null = null;

const HISTOGRAM_STEPS = 64;

/** What the page shows of a colour map. Neither relief nor gloss changes it, so the last one is kept. */
function shownColour(map: ColourPicture): Pick<Drawn, 'colour' | 'histogram' | 'scatter'> {
  if (lastColour?.map !== map)
    lastColour = {
      map,
      pixels: linearToSrgbBytes(map, 4),
      histogram: histogramOf(map),
      scatter: scatterOf(map),
    };
  const { pixels, histogram, scatter } = lastColour;
  return { colour: pixels.slice(), histogram, scatter };
}
let lastColour: {
  map: ColourPicture;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  histogram: number[];
  scatter: [number, number][];
} | null = null;

function histogramOf({ r, g, b }: ColourPicture): number[] {
  const counts = new Float64Array(HISTOGRAM_STEPS);
  for (let i = 0; i < r.length; i++) {
    const y = luminanceOf(r[i]!, g[i]!, b[i]!);
    const step = Math.floor(Math.sqrt(Math.max(0, y)) * HISTOGRAM_STEPS);
    counts[Math.min(HISTOGRAM_STEPS - 1, Math.max(0, step))]!++;
  }
  return Array.from(counts, (count) => count / r.length);
}

/** Pixels of the repeat's longer side when it is looked at for what gives it away. */
const LOOKED_AT_PX = 640;

const SCATTERED = 500;

function scatterOf({ r, g, b }: ColourPicture): [number, number][] {
  // Most widths are even: an odd step does not meet the same columns in every row.
  const step = Math.max(1, Math.floor(r.length / SCATTERED) | 1);
  const out: [number, number][] = [];
  for (let i = 0; i < r.length; i += step) {
    const [, a, bb] = linearToLab([r[i]!, g[i]!, b[i]!]);
    out.push([Number(a.toFixed(1)), Number(bb.toFixed(1))]);
  }
  return out;
}

/** A colourway beside the others. */
export interface DrawnWay {
  id: string | null;
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  lrv: number;
  lab: Triple;
  clipped: number;
  /** CIEDE2000 from its target; null: the finish itself. */
  off: number | null;
  /** Why it cannot be had; the picture is then empty. */
  sentence: string;
}

/** The used part of the sample, before and after levelling and balance. */
export interface Beside {
  widthPx: number;
  heightPx: number;
  received: Uint8ClampedArray<ArrayBuffer>;
  calibrated: Uint8ClampedArray<ArrayBuffer>;
}

/** The colour of a repeat that is still being composed. */
export interface EarlyPicture {
  widthPx: number;
  heightPx: number;
  repeatMm: { width: number; height: number };
  rgba: Uint8ClampedArray<ArrayBuffer>;
}
/** What is told while something is drawn. */
export type Told = { share: number; step: string } | { early: EarlyPicture };
let listener: ((token: number, told: Told) => void) | null = null;

const worker = {
  /** Who is told of progress: of every drawing by its token. */
  listen(told: (token: number, told: Told) => void): void {
    listener = told;
  },

  async beside(
    recipe: Recipe,
    source: PictureSource,
    area: string | null,
    samples: SampleInfo[],
    sidePx: number,
  ): Promise<Beside> {
    const pictures = sourcesOf(samples, cache);
    const size = source.size ? null : leadGeometry(recipe, await pictures.info(lead(recipe).sampleId)).size;
    const { received, calibrated } = await lookCalibrated(pictures, source, area, sidePx, {
      cache,
      ...(size ? { lead: size } : {}),
    });
    const [before, after] = [linearToSrgbBytes(received, 4), linearToSrgbBytes(calibrated, 4)];
    const { widthPx, heightPx } = received;
    return transfer({ widthPx, heightPx, received: before, calibrated: after }, [
      before.buffer,
      after.buffer,
    ]);
  },

  /** The finish and all its colourways, small. */
  async ways(recipe: Recipe, samples: SampleInfo[], widthPx: number): Promise<DrawnWay[]> {
    const out: DrawnWay[] = [];
    for (const id of [null, ...recipe.colour.ways.map((w) => w.id)]) {
      await yieldToEventLoop();
      try {
        const { maps, report } = await renderMaps(
          recipe,
          sourcesOf(samples, cache),
          { widthPx, maps: ['colour'], way: id, cache, solvedBefore },
          colourReports(recipe),
        );
        const { colour } = maps;
        const { lrv, meanLab, clipped, wayOff } = report as RenderReport;
        out.push({
          id,
          widthPx: colour.widthPx,
          heightPx: colour.heightPx,
          rgba: linearToSrgbBytes(colour, 4),
          lrv,
          lab: meanLab,
          clipped: clipped.high,
          off: wayOff,
          sentence: '',
        });
      } catch (error) {
        const empty = { widthPx: 1, heightPx: 1, rgba: new Uint8ClampedArray(4) };
        out.push({
          id,
          ...empty,
          lrv: 0,
          lab: [0, 0, 0],
          clipped: 0,
          off: null,
          sentence: (error as Error).message,
        });
      }
    }
    return transfer(
      out,
      out.map((w) => w.rgba.buffer),
    );
  },

  /** Colourways that are clipped or cannot be had. */
  checkColourways(recipe: Recipe, samples: SampleInfo[], widthPx: number): Promise<Check[]> {
    return checkColourways(recipe, sourcesOf(samples, cache), widthPx, shared);
  },

  /** The repeat of a finish, for its pieces to be judged; what is drawn meanwhile goes first. */
  repeatToJudge: (recipe: Recipe, samples: SampleInfo[], widthPx: number): Promise<RepeatToJudge> =>
    repeatToJudge(recipe, sourcesOf(samples, cache), widthPx, shared),

  /** What gives the repetition away, and from how far it is seen. */
  async repetition(recipe: Recipe, samples: SampleInfo[], fieldMm: number): Promise<Repetition> {
    const sources = sourcesOf(samples, cache);
    const repeatMm = await sizeOfFinishMm(recipe, sources);
    const widthPx = Math.max(16, Math.round(LOOKED_AT_PX * Math.min(1, repeatMm.width / repeatMm.height)));
    const { report, ...finish } = await renderMaps(
      recipe,
      sources,
      { widthPx, maps: ['colour'], ...shared },
      ['repeat', 'colour', 'layout'],
    );
    return repetitionOf({ ...finish, report: report as RenderReport }, fieldMm);
  },

  /** Which way of making a repeat suits the sample, and why. @returns null when it was stopped, or is asked for again */
  async advice(recipe: Recipe, samples: SampleInfo[]): Promise<TriedAdvice<ShownMethod> | null> {
    const mine = ++latestAdvice;
    const advice = await unlessStopped(() =>
      adviceForRepeat(sourcesOf(samples, cache), recipe, {
        ...shared,
        signal: {
          get aborted() {
            return mine !== latestAdvice;
          },
        },
      }),
    );
    if (!advice) return null;
    const tried = advice.tried.map(({ repeat, ...method }): ShownMethod => {
      let small = repeat;
      while (Math.max(small.widthPx, small.heightPx) > SHOWN_PX) small = mapChannels(small, halve);
      const { widthPx, heightPx } = small;
      return { ...method, shown: { widthPx, heightPx, rgba: linearToSrgbBytes(small, 4) } };
    });
    return { ...advice, tried };
  },

  stopAdvice(): void {
    latestAdvice++;
  },

  /** Broken pieces of the repeat, re-laid. @returns null when it was stopped, or is asked for again */
  relayPieces(recipe: Recipe, samples: SampleInfo[]): Promise<RelaidPieces | null> {
    const mine = ++latestRelaying;
    return unlessStopped(() =>
      relayBrokenPieces(sourcesOf(samples, cache), recipe, {
        ...shared,
        signal: {
          get aborted() {
            return mine !== latestRelaying;
          },
        },
      }),
    );
  },

  stopRelaying(): void {
    latestRelaying++;
  },

  /** @returns null when a newer request came meanwhile */
  async draw(
    recipe: Recipe,
    samples: SampleInfo[],
    widthPx: number,
    maps: MapName[],
    category: string,
    way: string | null,
    token: number,
    /** Of its stages, where they are not the newest ones. */
    versions?: Readonly<Record<string, number>>,
  ): Promise<Drawn | null> {
    const mine = ++latest;
    return unlessStopped(async () => {
      const finish = await renderFinish(recipe, sourcesOf(samples, cache), {
        widthPx,
        maps,
        category,
        way,
        ...shared,
        ...(versions ? { versions } : {}),
        signal: {
          get aborted() {
            return mine !== latest;
          },
        },
        onProgress: (share, step) => listener?.(token, { share, step }),
        onEarly: ({ colour, repeatMm }) =>
          listener?.(token, {
            early: {
              widthPx: colour.widthPx,
              heightPx: colour.heightPx,
              repeatMm,
              rgba: linearToSrgbBytes(colour, 4),
            },
          }),
      });
      const { maps: drawnMaps } = finish;
      const { colour, histogram, scatter } = shownColour(drawnMaps.colour);
      const normal = encodedNormals(drawnMaps.normal);
      const occlusion = maps.includes('occlusion') ? rgba(encodeMap(finish, 'occlusion').data, 1) : null;
      const heightMm = drawnMaps.height.data.slice();
      const uneven: Drawn['uneven'] = {};
      for (const name of EVEN_MAPS)
        if (maps.includes(name) && typeof drawnMaps[name] !== 'number')
          uneven[name] = rgba(encodeMap(finish, name).data, 1);
      const drawn: Drawn = {
        widthPx: finish.widthPx,
        heightPx: finish.heightPx,
        report: finish.report,
        maps,
        colour,
        normal,
        occlusion,
        heightMm,
        uneven,
        histogram,
        scatter,
        serial: mine,
      };
      return transfer(drawn, [
        colour.buffer,
        normal.buffer,
        heightMm.buffer,
        ...(occlusion ? [occlusion.buffer] : []),
        ...Object.values(uneven).map((data) => data.buffer),
      ]);
    });
  },
};

/** What is computed; null when it was stopped. */
async function unlessStopped<T>(compute: () => Promise<T>): Promise<T | null> {
  try {
    return await compute();
  } catch (error) {
    if ((error as Error).name === 'Stopped') return null;
    throw error;
  }
}

export type RenderWorker = typeof worker;
carryRefusals();
expose(worker);
