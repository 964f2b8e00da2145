import type { Pictures, StageCache } from '@jossel/core/surface';
import type { ColourPicture } from '@jossel/core/raster';

/** What a worker needs to know of a sample. */
export interface SampleInfo {
  id: string;
  sha256: string;
  widthPx: number;
  heightPx: number;
  focalPx: number | null;
}

/** The samples of a finish, fetched from the server at the halving that is wanted, and kept. */
export function sourcesOf(samples: readonly SampleInfo[], cache: StageCache): Pictures {
  const find = (id: string) => {
    const sample = samples.find((s) => s.id === id);
    if (!sample)
      throw new Error('A picture of this finish is not here any more. Bring it in again under Receiving.');
    return sample;
  };
  async function fetched(id: string, level: number, as: 'colour' | 'data'): Promise<ColourPicture> {
    const key = `level ${find(id).sha256} ${level} ${as}`;
    const known = cache.get<ColourPicture>(key);
    if (known) return known;
    const response = await fetch(`/api/samples/${id}/levels/${level}?as=${as}`);
    if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
    const widthPx = Number(response.headers.get('x-width-px'));
    const heightPx = Number(response.headers.get('x-height-px'));
    const planes = new Float32Array(await response.arrayBuffer());
    const n = widthPx * heightPx;
    const picture = {
      widthPx,
      heightPx,
      r: planes.subarray(0, n),
      g: planes.subarray(n, 2 * n),
      b: planes.subarray(2 * n),
    };
    cache.set(key, picture);
    return picture;
  }
  return {
    info: async (id) => find(id),
    level: (id, level) => fetched(id, level, 'colour'),
    data: (id, level) => fetched(id, level, 'data'),
  };
}
