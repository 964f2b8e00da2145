import sharp from 'sharp';
import { linearToSrgb8 } from '@jossel/core/colour';
import type { ColourPicture } from '@jossel/core/raster';

/** A camera's JPEG: sRGB, clipped, with the focal length where cameras write it. */
export async function cameraJpeg(picture: ColourPicture, focalMm?: number, quality = 92): Promise<Buffer> {
  const { widthPx, heightPx, r, g, b } = picture;
  const pixels = new Uint8Array(3 * r.length);
  for (let i = 0; i < r.length; i++) {
    pixels[3 * i] = linearToSrgb8(r[i]!);
    pixels[3 * i + 1] = linearToSrgb8(g[i]!);
    pixels[3 * i + 2] = linearToSrgb8(b[i]!);
  }
  const image = sharp(pixels, { raw: { width: widthPx, height: heightPx, channels: 3 } });
  if (focalMm) image.withExif({ IFD2: { FocalLengthIn35mmFilm: String(Math.round(focalMm)) } });
  return image.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
}
