import sharp from 'sharp';
import { shrunk } from './render/png';

test('a picture made smaller keeps its lightness: black and white in turn are middle reflectance, not middle code', async () => {
  const side = 512;
  const pixels = Buffer.alloc(side * side * 3);
  for (let i = 0; i < side * side; i++)
    pixels.fill(((i % side) + Math.floor(i / side)) % 2 ? 255 : 0, 3 * i, 3 * i + 3);
  const png = await sharp(pixels, { raw: { width: side, height: side, channels: 3 } })
    .png()
    .toBuffer();
  const { data, info } = await sharp(await shrunk(png, 64))
    .raw()
    .toBuffer({ resolveWithObject: true });
  expect([info.width, info.height]).toEqual([64, 64]);
  const middle = data[(32 * 64 + 32) * info.channels]!;
  // sRGB code of half the light (IEC 61966-2-1): 188.
  expect(Math.abs(middle - 188)).toBeLessThanOrEqual(2);
});
