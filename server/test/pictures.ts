import sharp from 'sharp';
import { fractalNoise } from '@jossel/core/raster';

/** Pictures made for tests. */

/** A warm, irregular grain, RGB 8 bit, as raw pixels. */
export function grain(width: number, height: number, seed = 1): Buffer {
  const data = Buffer.alloc(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const v = 120 + 34 * fractalNoise(x / 257, y / 257, 17, 17, 4, 0.65, seed);
      data.set(
        [v * 1.1, v, v * 0.8].map((c) => Math.max(0, Math.min(255, c))),
        3 * (y * width + x),
      );
    }
  return data;
}

export const grainAs = (kind: 'png' | 'jpeg' | 'tiff' | 'webp', width = 320, height = 240): Promise<Buffer> =>
  sharp(grain(width, height), { raw: { width, height, channels: 3 } })
    .toFormat(kind, { quality: 95 })
    .toBuffer();
