import sharp from 'sharp';
import { linearToSrgbBytes } from '@jossel/core/colour';
import type { ColourPicture } from '@jossel/core/raster';

/** A camera's JPEG: sRGB, clipped, with the focal length where cameras write it. */
export async function cameraJpeg(picture: ColourPicture, focalMm?: number, quality = 92): Promise<Buffer> {
  const { widthPx, heightPx } = picture;
  const image = sharp(linearToSrgbBytes(picture), { raw: { width: widthPx, height: heightPx, channels: 3 } });
  if (focalMm) image.withExif({ IFD2: { FocalLengthIn35mmFilm: String(Math.round(focalMm)) } });
  return image.jpeg({ quality, chromaSubsampling: '4:4:4' }).toBuffer();
}
