import sharp from 'sharp';
import { linearToSrgb, linearToSrgbBytes } from '@jossel/core/colour';
import type { ColourPicture } from '@jossel/core/raster';

/** A camera's JPEG: sRGB, clipped, with the focal length where cameras write it. */
export async function cameraJpeg(picture: ColourPicture, focalMm?: number, quality = 92): Promise<Buffer> {
  const { widthPx, heightPx } = picture;
  const image = sharp(linearToSrgbBytes(picture), { raw: { width: widthPx, height: heightPx, channels: 3 } });
  if (focalMm) image.withExif({ IFD2: { FocalLengthIn35mmFilm: String(Math.round(focalMm)) } });
  return image.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
}

/** A camera's picture without loss: sRGB in 16 bit, clipped, with the focal length. */
export async function cameraPng(
  { widthPx, heightPx, r, g, b }: ColourPicture,
  focalMm: number,
): Promise<Buffer> {
  const data = new Uint16Array(3 * r.length);
  const code = (v: number) => Math.round(65535 * Math.min(1, Math.max(0, linearToSrgb(Math.max(0, v)))));
  for (let i = 0; i < r.length; i++) {
    data[3 * i] = code(r[i]!);
    data[3 * i + 1] = code(g[i]!);
    data[3 * i + 2] = code(b[i]!);
  }
  return sharp(data, { raw: { width: widthPx, height: heightPx, channels: 3 } })
    .toColourspace('rgb16')
    .withExif({ IFD2: { FocalLengthIn35mmFilm: String(Math.round(focalMm)) } })
    .png({ compressionLevel: 3 })
    .toBuffer();
}
