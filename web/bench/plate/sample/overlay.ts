import type { Plane } from '@jossel/core/raster';
import type { ShownPart } from '../../../workers/sample.worker';

/** Thin marks over a picture: an area keeps its own look, and is still seen. */

function canvasOf(
  w: number,
  h: number,
): { canvas: HTMLCanvasElement; picture: ImageData; done: () => HTMLCanvasElement } {
  const canvas = document.createElement('canvas');
  canvas.width = w;
  canvas.height = h;
  const picture = new ImageData(w, h);
  return {
    canvas,
    picture,
    done: () => {
      canvas.getContext('2d')!.putImageData(picture, 0, 0);
      return canvas;
    },
  };
}

const RED = [166, 40, 28] as const;
const put = ({ data }: ImageData, i: number, [r, g, b]: readonly [number, number, number], alpha: number) => {
  data[4 * i] = r;
  data[4 * i + 1] = g;
  data[4 * i + 2] = b;
  data[4 * i + 3] = alpha;
};

/** An area as hatching (keep-outs) or dots (continuity lines), with its outline. */
export function paintTint(
  { widthPx: w, heightPx: h, data }: Plane,
  manner: 'hatch' | 'dots',
): HTMLCanvasElement {
  const { picture, done } = canvasOf(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (data[i]! < 0.5) continue;
      const edge =
        x === 0 ||
        y === 0 ||
        x === w - 1 ||
        y === h - 1 ||
        data[i - 1]! < 0.5 ||
        data[i + 1]! < 0.5 ||
        data[i - w]! < 0.5 ||
        data[i + w]! < 0.5;
      if (edge) put(picture, i, RED, 255);
      else if (manner === 'hatch' ? (x + y) % 8 < 2 : x % 6 < 2 && y % 6 < 2) put(picture, i, RED, 200);
      else put(picture, i, [255, 255, 255], 70);
    }
  return done();
}

/** A part by colour: all else is greyed down, its edge is outlined. */
export function paintPart({ widthPx: w, heightPx: h, weight }: ShownPart): HTMLCanvasElement {
  const { picture, done } = canvasOf(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      const inside = weight[i]! >= 128;
      const edge =
        inside &&
        ((x > 0 && weight[i - 1]! < 128) ||
          (x < w - 1 && weight[i + 1]! < 128) ||
          (y > 0 && weight[i - w]! < 128) ||
          (y < h - 1 && weight[i + w]! < 128));
      if (edge) put(picture, i, RED, 255);
      else put(picture, i, [236, 236, 236], 0.72 * (255 - weight[i]!));
    }
  return done();
}
