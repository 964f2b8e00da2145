import sharp from 'sharp';
import { halve, mapChannels } from '@jossel/core/raster';
import { grain } from '../test/pictures';
import { decodePicture, decodePictureHalved, inspectPicture } from './decode';

const LIMIT = 1e8;

test.each([
  [640, 515],
  [333, 512],
  [97, 700],
])(
  'a picture of %i × %i px halved while it is decoded is the one halved afterwards',
  async (width, height) => {
    const png = await sharp(grain(width, height), { raw: { width, height, channels: 3 } })
      .png()
      .toBuffer();
    const whole = mapChannels(await decodePicture(png, LIMIT), halve);
    const halved = await decodePictureHalved(png, LIMIT);
    expect([halved.widthPx, halved.heightPx]).toEqual([whole.widthPx, whole.heightPx]);
    for (const c of ['r', 'g', 'b'] as const)
      expect(Buffer.from(halved[c].buffer).equals(Buffer.from(whole[c].buffer))).toBe(true);
  },
);

test('a picture that is longer than may be is refused by its length', async () => {
  const long = await sharp({ create: { width: 41000, height: 16, channels: 3, background: '#808080' } })
    .png()
    .toBuffer();
  await expect(inspectPicture(long, LIMIT)).rejects.toThrow(/41000 px long; at most 40000/);
});
