import { expose, transfer } from 'comlink';
import { linearToSrgbBytes } from '@jossel/core/colour';
import { generatedRecipe, renderMaps } from '@jossel/core/finish';
import { initialGenerated } from '@jossel/core/generate';
import { shadedByRelief } from '@jossel/core/relief';
import { NO_PICTURES, StageCache } from '@jossel/core/surface';
import { yieldToEventLoop } from './yield-to-event-loop';

/** Draws what finishes can be generated as, for the sheet that one is chosen from. */

export interface KindPicture {
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

const cache = new StageCache(64 * 1024 * 1024);

const worker = {
  /** A part of a kind as it is at first, lit from the upper left; its repeat is as large as that part. */
  async draw(kind: string, px: { width: number; height: number }, pxPerMm: number): Promise<KindPicture> {
    const { repeatMm } = initialGenerated(kind);
    const recipe = generatedRecipe(kind, {
      repeatMm: {
        width: Math.max(px.width / pxPerMm, Math.min(repeatMm.width, LEAST_MM)),
        height: Math.max(px.height / pxPerMm, Math.min(repeatMm.height, LEAST_MM)),
      },
    });
    const widthPx = Math.max(8, Math.round(recipe.generated!.repeatMm.width * pxPerMm));
    const { maps } = await renderMaps(recipe, NO_PICTURES, {
      widthPx,
      maps: ['colour', 'normal', 'opacity'],
      cache,
      pause: yieldToEventLoop,
    });
    const { colour, normal, opacity } = maps;
    const lit = shadedByRelief(colour, normal);
    const bytes = linearToSrgbBytes(lit, 4);
    const rgba = new Uint8ClampedArray(4 * px.width * px.height);
    for (let y = 0; y < px.height; y++)
      for (let x = 0; x < px.width; x++) {
        const from = (y % colour.heightPx) * colour.widthPx + (x % colour.widthPx);
        const open = typeof opacity === 'number' ? 1 : opacity.data[from]!;
        for (let c = 0; c < 3; c++)
          rgba[4 * (y * px.width + x) + c] = bytes[4 * from + c]! * open + BEHIND * (1 - open);
        rgba[4 * (y * px.width + x) + 3] = 255;
      }
    return transfer({ widthPx: px.width, heightPx: px.height, rgba }, [rgba.buffer]);
  },
};

/** Repeats no smaller than this look as they do when they are large. */
const LEAST_MM = 30;
/** What is seen through openings. */
const BEHIND = 40;

export type GenerateWorker = typeof worker;
expose(worker);
