import { expose, transfer } from 'comlink';
import {
  encodeMap,
  renderFinish,
  StageCache,
  type MapName,
  type Recipe,
  type RenderReport,
} from '@jossel/core/finish';
import { breath } from './breath';
import { sourcesOf, type SampleInfo } from './sources';

/** Computes finishes for the page. The newest request wins: an older one stops at its next stage. */

/** A computed finish as the page shows it. Pictures are RGBA, 8 bit. */
export interface Drawn {
  widthPx: number;
  heightPx: number;
  report: RenderReport;
  colour: Uint8ClampedArray<ArrayBuffer>;
  normal: Uint8ClampedArray<ArrayBuffer>;
  /** Left out of the first draft of a change; it follows when nothing changes any more. */
  occlusion: Uint8ClampedArray<ArrayBuffer> | null;
  /** Height in mm. */
  heightMm: Float32Array<ArrayBuffer>;
  /** What came as a map of the set, and was asked for. */
  ofSet: Partial<Record<'roughness' | 'metalness' | 'opacity', Uint8ClampedArray<ArrayBuffer>>>;
  /** Share of pixels by luminance, in 64 equal steps of its square root from 0 to 1. */
  histogram: number[];
  /** Counts up with every picture of this worker. */
  serial: number;
}

const cache = new StageCache(400 * 1024 * 1024);
let latest = 0;

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

const worker = {
  /** @returns null when a newer request came meanwhile */
  async draw(
    recipe: Recipe,
    samples: SampleInfo[],
    widthPx: number,
    maps: MapName[],
    category: string,
  ): Promise<Drawn | null> {
    const mine = ++latest;
    try {
      const finish = await renderFinish(recipe, sourcesOf(samples, cache), {
        widthPx,
        maps,
        category,
        cache,
        signal: {
          get aborted() {
            return mine !== latest;
          },
        },
        pause: breath,
      });
      const colour = rgba(encodeMap(finish, 'colour').data, 3);
      const normal = rgba(encodeMap(finish, 'normal').data, 3);
      const occlusion = finish.occlusion ? rgba(encodeMap(finish, 'occlusion').data, 1) : null;
      const heightMm = finish.height!.data.slice();
      const ofSet: Drawn['ofSet'] = {};
      for (const name of ['roughness', 'metalness', 'opacity'] as const)
        if (finish.responseMaps[name]) ofSet[name] = rgba(encodeMap(finish, name).data, 1);
      const histogram = new Array<number>(64).fill(0);
      const { r, g, b } = finish.colour;
      for (let i = 0; i < r.length; i++) {
        const y = 0.2126 * r[i]! + 0.7152 * g[i]! + 0.0722 * b[i]!;
        histogram[Math.min(63, Math.max(0, Math.floor(Math.sqrt(Math.max(0, y)) * 64)))]! += 1 / r.length;
      }
      const drawn: Drawn = {
        widthPx: finish.widthPx,
        heightPx: finish.heightPx,
        report: finish.report,
        colour,
        normal,
        occlusion,
        heightMm,
        ofSet,
        histogram,
        serial: mine,
      };
      return transfer(drawn, [
        colour.buffer,
        normal.buffer,
        heightMm.buffer,
        ...(occlusion ? [occlusion.buffer] : []),
        ...Object.values(ofSet).map((data) => data.buffer),
      ]);
    } catch (error) {
      if ((error as Error).name === 'Stopped') return null;
      throw error;
    }
  },
};

export type RenderWorker = typeof worker;
expose(worker);
