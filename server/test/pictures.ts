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

/** A wall in half bond, bricks of 100 × 34 px with joints of 5, that falls to the right; RGB. */
export function slopingWall(width: number, height: number, slopeDeg: number): Buffer {
  const out = Buffer.alloc(3 * width * height);
  const [c, s] = [Math.cos((slopeDeg * Math.PI) / 180), Math.sin((slopeDeg * Math.PI) / 180)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [c * x + s * y + 1000, c * y - s * x + 1000];
      const course = Math.floor(v / 34);
      const along = u + (course % 2) * 50;
      const brick = Math.floor(along / 100) * 31 + course * 17;
      const value = along % 100 < 5 || v % 34 < 5 ? 190 : 80 + (brick % 7) * 6 + ((x * 7 + y * 13) % 5);
      out.fill(value, 3 * (y * width + x), 3 * (y * width + x) + 3);
    }
  return out;
}
