import { fractalNoise, halve, makeColourPicture, mapChannels, type ColourPicture } from '../../raster';
import { boardFloor, brickwork, rgb } from '../../test-pictures';

/** The pictures that stored recipes are rendered from: small, made by arithmetic alone, the same on every machine. */

function grain(widthPx: number, heightPx: number, seed: number, [r, g, b]: readonly number[]): ColourPicture {
  const p = makeColourPicture(widthPx, heightPx);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [(i % widthPx) / 311, Math.floor(i / widthPx) / 311];
    const v = 0.3 + 0.08 * fractalNoise(x, y, 31, 31, 3, 0.6, seed) + 0.03 * (i / p.r.length);
    p.r[i] = v * r!;
    p.g[i] = v * g!;
    p.b[i] = v * b!;
  }
  return p;
}

function tiles(widthPx: number, heightPx: number): ColourPicture {
  const p = grain(widthPx, heightPx, 8, [0.4, 0.9, 1.2]);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [i % widthPx, Math.floor(i / widthPx)];
    // Joints between pixels: their edges are mixed, as a camera sees them.
    const joint = Math.max(coverage(x, 50.3, 4.4), coverage(y, 50.3, 4.4));
    for (const c of ['r', 'g', 'b'] as const) p[c][i] = p[c][i]! * (1 - joint) + 0.55 * joint;
  }
  return p;
}

/** Share of a pixel that a joint covers, where joints of a width begin at whole multiples of a pitch. */
function coverage(px: number, pitch: number, width: number): number {
  const at = px - Math.floor(px / pitch) * pitch;
  return Math.max(0, Math.min(at + 1, width) - at) + Math.max(0, at + 1 - pitch);
}

function vignetted(picture: ColourPicture): ColourPicture {
  const { widthPx: w, heightPx: h } = picture;
  return mapChannels(picture, (plane) => ({
    ...plane,
    data: plane.data.map((v, i) => {
      const [x, y] = [(i % w) / w - 0.4, Math.floor(i / w) / h - 0.55];
      return v * (1 - 0.5 * (x * x + y * y));
    }),
  }));
}

const MADE: Readonly<Record<string, () => ColourPicture>> = {
  wall: () => grain(300, 200, 4, [1.1, 1, 0.8]),
  'wall, another day': () => grain(300, 200, 17, [0.7, 0.6, 0.4]),
  'lit from a side': () => vignetted(grain(320, 240, 5, [1, 1, 1])),
  tiles: () => tiles(303, 202),
  bricks: () =>
    brickwork({
      widthMm: 900,
      heightMm: 600,
      pxPerMm: 0.45,
      seed: 3,
      brickWidthMm: 215,
      brickHeightMm: 65,
      jointMm: 10,
      shift: 0.5,
      strayMm: 0,
      clay: rgb('#9a5540'),
      burnt: rgb('#5d3a33'),
      mortar: rgb('#b8b0a2'),
    }).colour,
  boards: () =>
    boardFloor({
      widthMm: 1060,
      heightMm: 600,
      pxPerMm: 0.4,
      seed: 21,
      boardMm: 97,
      jointMm: 3,
      shortestMm: 380,
      longestMm: 800,
      early: rgb('#b39671'),
      late: rgb('#5d452f'),
      ringPorous: true,
      knotsPerM2: 4,
    }).colour,
  'height map': () => grain(300, 200, 31, [1, 1, 1]),
  'normal map': () => {
    const p = grain(300, 200, 41, [1, 1, 1]);
    for (let i = 0; i < p.r.length; i++) {
      p.r[i] = 0.5 + 0.9 * (p.r[i]! - 0.3);
      p.g[i] = 0.5 - 0.6 * (p.g[i]! - 0.3);
      p.b[i] = 0.97;
    }
    return p;
  },
  'roughness map': () => grain(300, 200, 51, [1.4, 1.4, 1.4]),
};

/** What the core asks of pictures; `data` reads the same values as they are. */
export function goldenSources() {
  const halvings = new Map<string, ColourPicture[]>();
  const level = async (id: string, n: number): Promise<ColourPicture> => {
    const make = MADE[id];
    if (!make) throw new Error(`There is no picture "${id}" for stored recipes.`);
    const levels = halvings.get(id) ?? [make()];
    halvings.set(id, levels);
    while (levels.length <= n) levels.push(mapChannels(levels[levels.length - 1]!, halve));
    return levels[n]!;
  };
  return {
    info: async (id: string) => {
      const { widthPx, heightPx } = await level(id, 0);
      return { widthPx, heightPx, sha256: id, focalPx: null };
    },
    level,
    data: level,
  };
}
