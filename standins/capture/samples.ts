import { boards, bricks, cloth, plank, sheet, stone, tiles, wall } from '../physical/kinds';
import type { PhysicalSample } from '../physical/surface';

export interface BenchSample extends PhysicalSample {
  id: string;
  name: string;
  category: string;
  /** Density at which it is made for the camera. */
  pxPerMm: number;
  /** Share of the light that a wide lobe throws back: the haze of its surface. */
  hazeShare?: number;
}

const on = (
  id: string,
  name: string,
  category: string,
  pxPerMm: number,
  sample: PhysicalSample,
): BenchSample => ({
  id,
  name,
  category,
  pxPerMm,
  ...sample,
});

/** What lies ready beside the capture bench. */
export const BENCH_SAMPLES: readonly BenchSample[] = [
  on(
    'tile-moss',
    'Panel of glazed tiles, moss',
    'ceramic',
    4,
    tiles(71, [3, 4], [98, 98], '#5d6b3a', { jointMm: 2 }),
  ),
  on(
    'tile-single',
    'One glazed tile, ink',
    'ceramic',
    6,
    tiles(72, [1, 1], [198, 198], '#24384f', { jointMm: 2 }),
  ),
  on(
    'boards-oak',
    'Sample board, five oak strips',
    'timber',
    3,
    boards(73, [420, 5 * 72], 70, '#c8a274', '#8a623c'),
  ),
  on('plank-larch', 'Plank of larch', 'timber', 3.2, plank(74, [480, 140], '#cf9a63', '#8d5230')),
  on(
    'brick-panel',
    'Panel of hand-struck brick',
    'brick',
    1.8,
    bricks(75, [3, 8], '#a4553a', '#5a3530', '#b9b1a2'),
  ),
  on(
    'cloth-twill',
    'Swatch of twill, heather',
    'textile',
    14,
    cloth(76, [96, 72], 'twill22', [9, 8.5], ['#6f5a70', '#94809a'], ['#b8a9b0', '#d3c6cb']),
  ),
  on('plaster-board', 'Board with trowelled plaster', 'plaster', 2, wall(77, [600, 450], '#cbbfae')),
  on('stone-slab', 'Slab of shell limestone', 'stone', 2.6, stone(78, [400, 300], '#d9cdb8', '#a8977c')),
  on('board-soot', 'Board of soot-black render', 'plaster', 2.2, wall(80, [420, 320], '#3c3a39')),
  on('board-lime', 'Board of white lime plaster', 'plaster', 2.2, wall(81, [420, 320], '#f6f4ef')),
  {
    ...on('zinc-sheet', 'Sheet of rolled zinc', 'metal', 2.4, sheet(79, [400, 300], '#c3c6c7', '#7c848a')),
    hazeShare: 0.2,
  },
  on(
    'clinker-panel',
    'Panel of buff clinker',
    'brick',
    1.8,
    bricks(82, [3, 8], '#b99a6b', '#6d5a44', '#8f8a80', { strayMm: 3 }),
  ),
];

export const benchSample = (id: string): BenchSample | undefined => BENCH_SAMPLES.find((s) => s.id === id);
