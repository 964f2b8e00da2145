import type { ColourPicture } from '@jossel/core/raster';
import { boards, bricks, cloth, plank, sheet, stone, tiles, wall } from './physical/kinds';
import type { PhysicalSample } from './physical/surface';

/** Made-up samples of all kinds, for figures over many of them. */
export interface ManyFinish {
  name: string;
  /** Pitch of courses, tiles or yarns that lie in a regular lattice; null on both axes: there is none. */
  pitchMm: { across: number | null; up: number | null };
  picture: (longSidePx: number) => Promise<{ picture: ColourPicture; widthMm: number; heightMm: number }>;
}

/** Samples close by themselves when they are made; what is cut off makes them like samples in a photograph. */
const CUT_OFF = 0.062;

const NONE = { across: null, up: null };

function cutOff(name: string, pitchMm: ManyFinish['pitchMm'], sample: PhysicalSample): ManyFinish {
  const kept = 1 - CUT_OFF;
  return {
    name,
    pitchMm,
    async picture(longSidePx) {
      const pxPerMm = longSidePx / (kept * Math.max(sample.widthMm, sample.heightMm));
      const { colour } = await sample.make(pxPerMm);
      const [w, h] = [Math.round(colour.widthPx * kept), Math.round(colour.heightPx * kept)];
      const cut = (data: Float32Array) => {
        const out = new Float32Array(w * h);
        for (let y = 0; y < h; y++) out.set(data.subarray(y * colour.widthPx, y * colour.widthPx + w), y * w);
        return out;
      };
      return {
        picture: { widthPx: w, heightPx: h, r: cut(colour.r), g: cut(colour.g), b: cut(colour.b) },
        // Of whole pixels, so that the size is exact.
        widthMm: (sample.widthMm * w) / colour.widthPx,
        heightMm: (sample.heightMm * h) / colour.heightPx,
      };
    },
  };
}

const SEEDS = [11, 12, 13, 14] as const;
const WOODS = ['#b39671', '#c8ad86', '#8a6b4e', '#a58a63'] as const;
const CLAYS = ['#a4553a', '#b8694a', '#8c4a38', '#c58b66'] as const;
const GLAZES = ['#2f6b62', '#7c8fa3', '#d8d2c4', '#46503f'] as const;
const PLASTERS = ['#d2c6b4', '#c7c9c4', '#a9a08f', '#e0dccf'] as const;
const STONES = ['#d9cdb8', '#c3b69d', '#cfcbc2', '#b9ad98'] as const;
const METALS = ['#c3c6c7', '#b7bdbf', '#a8907a', '#c9c2b4'] as const;
const DRAFTS = ['plain', 'twill22', 'herringbone', 'hopsack'] as const;

const wallOfBricks = (seed: number, k: number, strayMm: number) =>
  bricks(seed, [4 + k, 10 + k], CLAYS[k]!, '#5a3530', '#b9b1a2', { strayMm });
const wovenCloth = (seed: number, k: number, pulled: number) =>
  cloth(seed, [50, 40], DRAFTS[k]!, [8, 8], ['#b9b1a2', '#8f887b'], ['#3d4f63', '#7a8794'], { pulled });
const BRICK = { across: 225, up: 75 };
const YARN = { across: 1.25, up: 1.25 };

export const MANY_FINISHES: readonly ManyFinish[] = SEEDS.flatMap((seed, k) => {
  const [board, tile] = [90 + 20 * k, 120 + 30 * k];
  return [
    cutOff(
      `boards ${seed}`,
      { across: null, up: board },
      boards(seed, [1500, 6 * board], board - 2, WOODS[k]!, '#5d452f', { knotsPerM2: 1 + k }),
    ),
    cutOff(`plank ${seed}`, NONE, plank(seed, [900 - 120 * k, 240 + 40 * k], WOODS[k]!, '#6b4f36')),
    cutOff(`bricks ${seed}`, BRICK, wallOfBricks(seed, k, 2)),
    cutOff(
      `tiles ${seed}`,
      { across: tile + 3, up: 103 },
      tiles(seed, [4 + k, 5], [tile, 100], GLAZES[k]!, { shift: k % 2 ? 0.5 : 0 }),
    ),
    cutOff(`cloth ${seed}`, YARN, wovenCloth(seed, k, 1)),
    cutOff(`plaster ${seed}`, NONE, wall(seed, [900, 700], PLASTERS[k]!)),
    cutOff(`limestone ${seed}`, NONE, stone(seed, [700, 500], STONES[k]!, '#a8977c')),
    cutOff(`metal ${seed}`, NONE, sheet(seed, [700, 500], METALS[k]!, '#7c848a')),
  ];
});

/**
 * The bricks and cloths among them laid true: no brick strays and no cloth is pulled, so that the lattice they lie in is
 * the one they show.
 */
export const LAID_TRUE: readonly ManyFinish[] = SEEDS.flatMap((seed, k) => [
  cutOff(`true bricks ${seed}`, BRICK, wallOfBricks(seed, k, 0)),
  cutOff(`true cloth ${seed}`, YARN, wovenCloth(seed, k, 0)),
]);

/** What repeats are tried on: what is known to be hard. */
export const HARD_FINISHES: readonly ManyFinish[] = [
  cutOff(
    'boards with knots',
    { across: null, up: 130 },
    boards(31, [1600, 780], 128, WOODS[1], '#5d452f', { knotsPerM2: 3 }),
  ),
  cutOff('bricks in uneven rows', BRICK, bricks(32, [5, 12], CLAYS[1], '#5a3530', '#b9b1a2', { strayMm: 4 })),
  cutOff('irregular plaster', NONE, wall(33, [900, 700], PLASTERS[0])),
  cutOff('a twill', YARN, wovenCloth(34, 1, 1)),
  cutOff(
    'stone with a bright vein',
    NONE,
    stone(35, [700, 500], '#8d8478', '#6f675d', { colour: '#e6e0d4', widthMm: 7 }),
  ),
  cutOff('an oblong scan', NONE, plank(36, [600, 180], WOODS[0], '#6b4f36')),
];
