import { seededRandom } from '@jossel/core/raster';
import type { FoundStructure } from '@jossel/core/size';
import { boards, bricks, cloth, sheet, stone, tiles, wall, type Weave } from './physical/kinds';
import type { PhysicalSample } from './physical/surface';

/** Made-up samples of which it is known what repeats in them: for tests and for the bench. */
export interface KnownStructure {
  name: string;
  make: (seed: number) => { sample: PhysicalSample; right: (found: FoundStructure) => boolean };
}

/** Whether a period is one of some lengths, within 1 %. */
const near = (period: number | undefined, lengthMm: number, ...pitchesMm: number[]) =>
  period !== undefined && pitchesMm.some((p) => Math.abs((period * lengthMm) / p - 1) < 0.01);

const none = (name: string, make: (seed: number) => PhysicalSample): KnownStructure => ({
  name,
  make: (seed) => ({ sample: make(seed), right: (f) => f.across === null && f.up === null }),
});

const DRAFT_REPEATS = {
  plain: [2, 2],
  hopsack: [4, 4],
  twill22: [4, 4],
  satin5: [5, 5],
  herringbone: [8, 4],
} as const satisfies Record<Weave, readonly [number, number]>;

export const KNOWN_STRUCTURES: readonly KnownStructure[] = [
  {
    name: 'boards',
    make: (seed) => {
      const random = seededRandom(seed);
      const [n, board] = [4 + random.whole(7), random.between(60, 200)];
      const height = n * (board + 3) + random.between(0, board);
      const sample = boards(seed, [height * 1.3, height], board, '#b39671', '#6b4f36', {
        jointMm: 3,
        ringPorous: seed % 2 === 0,
      });
      // Butt joints lie anywhere: along the boards there is no period.
      return {
        sample,
        right: (f) => f.across === null && near(f.up?.period, sample.heightMm, board + 3),
      };
    },
  },
  {
    name: 'tiles',
    make: (seed) => {
      const random = seededRandom(seed);
      const [tw, th] = [random.between(90, 220), random.between(60, 200)];
      const sample = tiles(seed, [3 + random.whole(4), 4 + random.whole(4)], [tw, th], '#2f6b62', {
        shift: seed % 2 ? 0.5 : 0,
      });
      return {
        sample,
        right: (f) =>
          near(f.across?.period, sample.widthMm, tw + 3) && near(f.up?.period, sample.heightMm, th + 3),
      };
    },
  },
  {
    name: 'bricks',
    make: (seed) => {
      const sample = bricks(seed, [4 + (seed % 3), 8 + (seed % 5)], '#a4553a', '#5a3530', '#b9b1a2');
      return {
        sample,
        right: (f) =>
          near(f.across?.period, sample.widthMm, 225) &&
          near(f.up?.period, sample.heightMm, 75) &&
          Math.abs(f.stagger! - 0.5) < 0.06,
      };
    },
  },
  {
    name: 'cloth',
    make: (seed) => {
      const random = seededRandom(seed);
      const draft = (Object.keys(DRAFT_REPEATS) as Weave[])[seed % 5]!;
      const [width, perCm] = [random.between(30, 55), random.between(6, 12)];
      const sample = cloth(
        seed,
        [width, width * 0.8],
        draft,
        [perCm, perCm],
        ['#b9b1a2', '#8f887b'],
        ['#3d4f63', '#7a8794'],
      );
      // One yarn, or any number up to the repeat of the draft; yarns are fitted to a whole number of repeats.
      const yarns = (mm: number, repeat: number) => {
        const yarn = mm / Math.max(repeat, Math.round((mm * perCm) / 10 / repeat) * repeat);
        return Array.from({ length: repeat }, (_, k) => (k + 1) * yarn);
      };
      const [across, up] = DRAFT_REPEATS[draft];
      return {
        sample,
        right: (f) =>
          near(f.across?.period, sample.widthMm, ...yarns(sample.widthMm, across)) &&
          near(f.up?.period, sample.heightMm, ...yarns(sample.heightMm, up)),
      };
    },
  },
  none('plaster', (seed) => wall(seed, [900, 700], '#d2c6b4')),
  none('limestone', (seed) => stone(seed, [700, 500], '#d9cdb8', '#a8977c')),
  none('rolled metal', (seed) => sheet(seed, [700, 500], '#c3c6c7', '#7c848a')),
];
