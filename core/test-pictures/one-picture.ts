import { halve, mapChannels, type ColourPicture } from '../raster';
import type { Pictures } from '../surface';

/** A picture of no set as the only one of a finish, whatever it is named. */
export function onePicture(picture: ColourPicture): Pictures {
  const levels = [picture];
  return {
    info: async () => ({ widthPx: picture.widthPx, heightPx: picture.heightPx, sha256: 'sample' }),
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
    data: async () => {
      throw new Error('This sample has no maps.');
    },
  };
}
