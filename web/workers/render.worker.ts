import { expose, transfer } from 'comlink';
import {
  encodeMap,
  renderFinish,
  StageCache,
  type Recipe,
  type RenderReport,
  type Sources,
} from '@jossel/core/finish';
import type { ColourPicture } from '@jossel/core/raster';

/** Computes finishes for the page. The newest request wins: an older one stops at its next stage. */

export interface SampleInfo {
  id: string;
  sha256: string;
  widthPx: number;
  heightPx: number;
}

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
  /** Share of pixels by luminance, in 64 equal steps of its square root from 0 to 1. */
  histogram: number[];
  /** Counts up with every picture of this worker. */
  serial: number;
}

const cache = new StageCache(400 * 1024 * 1024);
let latest = 0;

const sourcesOf = (samples: SampleInfo[]): Sources => ({
  info: async (id) => samples.find((s) => s.id === id)!,
  async level(id, level) {
    const { sha256 } = samples.find((s) => s.id === id)!;
    const key = `level ${sha256} ${level}`;
    const known = cache.get<ColourPicture>(key);
    if (known) return known;
    const response = await fetch(`/api/samples/${id}/levels/${level}`);
    if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
    const widthPx = Number(response.headers.get('x-width-px'));
    const heightPx = Number(response.headers.get('x-height-px'));
    const planes = new Float32Array(await response.arrayBuffer());
    const n = widthPx * heightPx;
    const picture = {
      widthPx,
      heightPx,
      r: planes.subarray(0, n),
      g: planes.subarray(n, 2 * n),
      b: planes.subarray(2 * n),
    };
    cache.set(key, picture);
    return picture;
  },
});

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
    withOcclusion: boolean,
  ): Promise<Drawn | null> {
    const mine = ++latest;
    try {
      const finish = await renderFinish(recipe, sourcesOf(samples), {
        widthPx,
        maps: ['colour', 'height', 'normal', ...(withOcclusion ? (['occlusion'] as const) : [])],
        cache,
        signal: {
          get aborted() {
            return mine !== latest;
          },
        },
        pause: () =>
          new Promise((resolve) => {
            const { port1, port2 } = new MessageChannel();
            port1.onmessage = () => {
              port1.close();
              resolve();
            };
            port2.postMessage(0);
          }),
      });
      const colour = rgba(encodeMap(finish, 'colour').data, 3);
      const normal = rgba(encodeMap(finish, 'normal').data, 3);
      const occlusion = withOcclusion ? rgba(encodeMap(finish, 'occlusion').data, 1) : null;
      const heightMm = finish.height!.data.slice();
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
        histogram,
        serial: mine,
      };
      return transfer(drawn, [
        colour.buffer,
        normal.buffer,
        heightMm.buffer,
        ...(occlusion ? [occlusion.buffer] : []),
      ]);
    } catch (error) {
      if ((error as Error).name === 'Stopped') return null;
      throw error;
    }
  },
};

export type RenderWorker = typeof worker;
expose(worker);
