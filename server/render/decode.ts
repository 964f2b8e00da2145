import sharp, { type Metadata, type Sharp } from 'sharp';
import exifReader from 'exif-reader';
import { decodePixels, readMatrixProfile, SRGB_PROFILE } from '@jossel/core/colour';
import { halve, makeColourPicture, mapChannels, type ColourPicture } from '@jossel/core/raster';

/** Said when bytes are not a picture that can be worked with; the message says what would be. */
export class NotAPicture extends Error {
  override readonly name = 'NotAPicture';
}

const KINDS: Record<string, string> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  tiff: 'image/tiff',
  webp: 'image/webp',
};
/** Of a longer one no row could be decoded within bounds. */
const MOST_SIDE_PX = 40_000;
const ACCEPTED = 'PNG, JPEG, TIFF and WebP pictures are taken, in 8 or 16 bit.';

export interface PictureFacts {
  mediaType: string;
  /** Pixels after the stored orientation is applied. */
  widthPx: number;
  heightPx: number;
  bitDepth: 8 | 16;
  profile: string;
  /** From the file's resolution tag, when it was set on purpose. */
  pxPerMm?: number;
  /** Focal length in pixels, from the equivalent on 24 × 36 mm that cameras write. */
  focalPx?: number;
}

const open = (bytes: Uint8Array, limitPixels: number, ignoreIcc: boolean) =>
  sharp(bytes, { limitInputPixels: limitPixels, failOn: 'warning', ignoreIcc });

/**
 * Reads what a picture is, by its content, without decoding its pixels.
 * @throws NotAPicture with a sentence
 */
export async function inspectPicture(bytes: Uint8Array, limitPixels: number): Promise<PictureFacts> {
  let meta: Metadata;
  try {
    meta = await open(bytes, limitPixels, true).metadata();
  } catch (error) {
    throw (
      tooLarge(error, limitPixels) ??
      new NotAPicture(`This file is not a picture, whatever its name says. ${ACCEPTED}`)
    );
  }
  const mediaType = KINDS[meta.format ?? ''];
  if (!mediaType) throw new NotAPicture(`This is a file of the kind "${meta.format}". ${ACCEPTED}`);
  if ((meta.pages ?? 1) > 1)
    throw new NotAPicture(
      `This file holds ${meta.pages} pictures (an animation or several pages). Save the one you want as a file of its own.`,
    );
  if (meta.space === 'cmyk' || meta.channels === undefined)
    throw new NotAPicture(
      'This picture is in CMYK, the colours of a printing press. Save it as RGB with its colour profile and bring it in again.',
    );
  const { width, height } = meta.autoOrient;
  if (width * height > limitPixels) throw new NotAPicture(pixelSentence(width, height, limitPixels));
  if (Math.max(width, height) > MOST_SIDE_PX)
    throw new NotAPicture(
      `This picture is ${Math.max(width, height)} px long; at most ${MOST_SIDE_PX} px are taken. Scale it down or cut it up first.`,
    );
  if (width < 16 || height < 16)
    throw new NotAPicture(
      `This picture has only ${width} × ${height} pixels. A sample needs at least 16 × 16, and is of use from about 500 × 500.`,
    );
  // 72 dots per inch is what programs write when nobody chose a resolution.
  const density =
    meta.density && meta.density !== 72 && meta.density !== 96 ? meta.density / 25.4 : undefined;
  const profile = meta.icc
    ? (readMatrixProfile(meta.icc)?.description ?? 'profile with tables, converted to sRGB')
    : SRGB_PROFILE.description;
  return {
    mediaType,
    widthPx: width,
    heightPx: height,
    bitDepth: meta.depth === 'ushort' ? 16 : 8,
    profile,
    ...(density ? { pxPerMm: density } : {}),
    ...focalOf(meta),
  };
}

/** Diagonal of the format that focal lengths are given for, mm. */
const FORMAT_DIAGONAL_MM = Math.hypot(24, 36);

function focalOf(meta: Metadata): { focalPx?: number } {
  if (!meta.exif) return {};
  try {
    const mm = Number(exifReader(meta.exif).Photo?.FocalLengthIn35mmFilm);
    const { width, height } = meta.autoOrient;
    return mm > 5 && mm < 2000 ? { focalPx: (mm / FORMAT_DIAGONAL_MM) * Math.hypot(width, height) } : {};
  } catch {
    // Camera notes are often damaged; the picture is good all the same.
    return {};
  }
}

const pixelSentence = (width: number, height: number, limit: number) =>
  `This picture has ${width} × ${height} pixels, more than the ${limit / 1e6} million that are taken. Scale it down or cut it up first.`;

function tooLarge(error: unknown, limitPixels: number): NotAPicture | null {
  return /exceeds pixel limit/i.test(String(error))
    ? new NotAPicture(
        `This picture has more than the ${limitPixels / 1e6} million pixels that are taken. Scale it down or cut it up first.`,
      )
    : null;
}

/** A picture of more pixels than wanted scaled down to them. */
function scaledTo(mostPixels: number, picture: Sharp, { autoOrient: { width, height } }: Metadata): Sharp {
  const scale = Math.sqrt(mostPixels / (width * height));
  return scale < 1 ? picture.resize({ width: Math.max(16, Math.floor(width * scale)) }) : picture;
}

/** Pixels as stored, orientation applied; 8 bit as bytes, 16 bit as numbers up to 65535. */
async function pixelsOf(bytes: Uint8Array, limitPixels: number, mostPixels = Infinity) {
  try {
    const meta = await open(bytes, limitPixels, true).metadata();
    const profile = meta.icc ? readMatrixProfile(meta.icc) : SRGB_PROFILE;
    const wide = meta.depth === 'ushort';
    const grey = (meta.channels ?? 3) < 3;
    const read = async (ignoreIcc: boolean) => {
      const { data, info } = await scaledTo(
        mostPixels,
        open(bytes, limitPixels, ignoreIcc).autoOrient(),
        meta,
      )
        .toColourspace(wide ? (grey ? 'grey16' : 'rgb16') : grey ? 'b-w' : 'srgb')
        .raw(wide ? { depth: 'ushort' } : {})
        .toBuffer({ resolveWithObject: true });
      return {
        pixels: wide ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data,
        info,
      };
    };
    return { profile, read };
  } catch (error) {
    throw damaged(error, limitPixels);
  }
}

const damaged = (error: unknown, limitPixels: number) =>
  tooLarge(error, limitPixels) ??
  new NotAPicture(
    `The picture is damaged or cut short (${(error as Error).message.trim()}). Copy the file again from where it came from.`,
  );

/**
 * Decodes a picture to linear light with sRGB primaries: orientation applied, profile honoured, 8 or 16 bit.
 * @param mostPixels a larger one is scaled down to them while it is read
 * @throws NotAPicture when the file is damaged
 */
export async function decodePicture(
  bytes: Uint8Array,
  limitPixels: number,
  mostPixels = Infinity,
): Promise<ColourPicture> {
  const { profile, read } = await pixelsOf(bytes, limitPixels, mostPixels);
  try {
    // A profile with tables is converted on the way; one with a matrix is kept, so that nothing is clipped.
    const { pixels, info } = await read(profile !== null);
    return decodePixels(pixels, info.width, info.height, info.channels, profile ?? SRGB_PROFILE);
  } catch (error) {
    throw damaged(error, limitPixels);
  }
}

/** Rows that are decoded at once for a halving; an even number of them. */
const BAND_ROWS = 256;

/**
 * Decodes a picture and halves it, bit for bit as if it had been decoded whole and then halved, without all of it ever being
 * in memory as floats.
 * @throws NotAPicture when the file is damaged
 */
export async function decodePictureHalved(bytes: Uint8Array, limitPixels: number): Promise<ColourPicture> {
  const { profile, read } = await pixelsOf(bytes, limitPixels);
  try {
    const { pixels, info } = await read(profile !== null);
    const { width, height, channels } = info;
    const out = makeColourPicture((width + 1) >> 1, (height + 1) >> 1);
    for (let y = 0; y < height; y += BAND_ROWS) {
      const rows = Math.min(BAND_ROWS, height - y);
      const band = pixels.subarray(y * width * channels, (y + rows) * width * channels);
      const half = mapChannels(decodePixels(band, width, rows, channels, profile ?? SRGB_PROFILE), halve);
      for (const c of ['r', 'g', 'b'] as const) out[c].set(half[c], (y >> 1) * out.widthPx);
    }
    return out;
  } catch (error) {
    throw damaged(error, limitPixels);
  }
}

/**
 * Decodes a data map: the values as stored, 0–1, whatever profile stands in the file.
 * @throws NotAPicture when the file is damaged
 */
export async function decodeData(bytes: Uint8Array, limitPixels: number): Promise<ColourPicture> {
  const { read } = await pixelsOf(bytes, limitPixels);
  try {
    const { pixels, info } = await read(true);
    const picture = makeColourPicture(info.width, info.height);
    const scale = 1 / (pixels instanceof Uint16Array ? 65535 : 255);
    const { channels } = info;
    for (let i = 0; i < picture.r.length; i++) {
      const k = i * channels;
      picture.r[i] = pixels[k]! * scale;
      picture.g[i] = pixels[channels < 3 ? k : k + 1]! * scale;
      picture.b[i] = pixels[channels < 3 ? k : k + 2]! * scale;
    }
    return picture;
  } catch (error) {
    throw damaged(error, limitPixels);
  }
}

/** A JPEG small enough to look at in any browser, whatever kind of file the picture is. */
export const previewPicture = (bytes: Uint8Array, limitPixels: number): Promise<Buffer> =>
  open(bytes, limitPixels, false)
    .autoOrient()
    .resize(800, 800, { fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#919191' })
    .toColourspace('srgb')
    .jpeg({ quality: 85 })
    .toBuffer();
