import { linearToSrgb } from '@jossel/core/colour';
import type { MapName } from '@jossel/core/finish';
import type { Drawn } from '../../workers/render.worker';

/** A canvas of a given size. */
function canvasOf(width: number, height: number): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  return canvas;
}

/**
 * One map of a drawn finish as a canvas of one repeat. Height runs from black (deepest) to white.
 * @returns null where the map has not been computed yet
 */
export function tileOf(drawn: Drawn, map: MapName, metal: boolean): HTMLCanvasElement | null {
  if (!drawn.maps.includes(map)) return null;
  const { widthPx, heightPx, report } = drawn;
  const canvas = canvasOf(widthPx, heightPx);
  const context = canvas.getContext('2d')!;
  const pixels =
    map === 'colour' || map === 'normal' || map === 'occlusion'
      ? drawn[map]
      : map === 'roughness' || map === 'metalness' || map === 'opacity'
        ? (drawn.uneven[map] ?? null)
        : null;
  if (pixels) {
    context.putImageData(new ImageData(pixels, widthPx, heightPx), 0, 0);
  } else if (map === 'height') {
    const { min, max } = report.heightMm;
    const picture = new ImageData(widthPx, heightPx);
    for (let i = 0; i < drawn.heightMm.length; i++) {
      const v = max > min ? (255 * (drawn.heightMm[i]! - min)) / (max - min) : 128;
      picture.data[4 * i] = picture.data[4 * i + 1] = picture.data[4 * i + 2] = v;
      picture.data[4 * i + 3] = 255;
    }
    context.putImageData(picture, 0, 0);
  } else {
    const v = Math.round(
      255 * (map === 'roughness' ? report.roughness : map === 'metalness' ? (metal ? 1 : 0) : 1),
    );
    context.fillStyle = `rgb(${v},${v},${v})`;
    context.fillRect(0, 0, widthPx, heightPx);
  }
  return canvas;
}

/** Elevation of the raking light. */
export const RAKING_DEG = 15;
/** What a level surface is drawn as under it, linear. */
const LEVEL = 0.2;

/**
 * The relief of a drawn finish as a plain grey surface under a light that rakes across it.
 * @param azimuthDeg where the light comes from: 0° from the right, anticlockwise
 */
export function rakedTile({ widthPx, heightPx, normal }: Drawn, azimuthDeg: number): HTMLCanvasElement {
  const canvas = canvasOf(widthPx, heightPx);
  const [azimuth, elevation] = [(azimuthDeg * Math.PI) / 180, (RAKING_DEG * Math.PI) / 180];
  const across = Math.cos(elevation) / Math.sin(elevation);
  const [lx, ly] = [Math.cos(azimuth) * across, Math.sin(azimuth) * across];
  const picture = new ImageData(widthPx, heightPx);
  for (let i = 0; i < normal.length; i += 4) {
    const [nx, ny, nz] = [normal[i]! / 127.5 - 1, normal[i + 1]! / 127.5 - 1, normal[i + 2]! / 127.5 - 1];
    const v = 255 * linearToSrgb(Math.min(1, LEVEL * Math.max(0, nx * lx + ny * ly + nz)));
    picture.data[i] = picture.data[i + 1] = picture.data[i + 2] = v;
    picture.data[i + 3] = 255;
  }
  canvas.getContext('2d')!.putImageData(picture, 0, 0);
  return canvas;
}

/** RGBA, 8 bit. */
export interface Pixels {
  widthPx: number;
  heightPx: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

/** Pixels of a repeat as they are, for instance of one that is still being composed. */
export function tileOfPixels({ widthPx, heightPx, rgba }: Pixels): HTMLCanvasElement {
  const canvas = canvasOf(widthPx, heightPx);
  canvas.getContext('2d')!.putImageData(new ImageData(rgba, widthPx, heightPx), 0, 0);
  return canvas;
}

/**
 * The tile shrunk by halves until it is at most 1.5 times as large as it is shown, so that nothing flickers when many
 * repeats are drawn small.
 */
export function shrunk(
  tile: HTMLCanvasElement,
  shownWidthPx: number,
  shownHeightPx: number,
): HTMLCanvasElement {
  const halves = halvesOf.get(tile) ?? [];
  halvesOf.set(tile, halves);
  let current = tile;
  for (
    let level = 0;
    current.width > 1.5 * shownWidthPx &&
    current.height > 1.5 * shownHeightPx &&
    Math.min(current.width, current.height) > 2;
    level++
  )
    current = halves[level] ??= halved(current);
  return current;
}

/** A tile at half its size, quarter and so on, made when they are first drawn. */
const halvesOf = new WeakMap<HTMLCanvasElement, HTMLCanvasElement[]>();

function halved(canvas: HTMLCanvasElement): HTMLCanvasElement {
  const half = canvasOf(
    Math.max(1, Math.round(canvas.width / 2)),
    Math.max(1, Math.round(canvas.height / 2)),
  );
  const context = half.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(canvas, 0, 0, half.width, half.height);
  return half;
}
