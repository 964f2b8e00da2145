import { choice, colour, later, size, type ValuesOf } from '../../setting';

/** What can be set of timber. */

export const settings = {
  cut: choice(
    'Cut',
    { crown: 'crown cut', rift: 'rift cut', quarter: 'quarter cut', end: 'end grain' },
    'how the leaf lies in the log',
  ),
  leafMm: size(
    'Leaf width',
    'mm',
    [140, 15, 2000],
    'of one board or veneer leaf; of end grain the side of a block',
  ),
  leaves: choice(
    'Leaves',
    { random: 'each of its own log', slip: 'slip-matched', book: 'book-matched' },
    'how leaves follow each other',
  ),
  ringsPerCm: size('Annual rings', '1/cm', [4, 0.5, 25], 'rings along a radius'),
  early: colour('Early wood', [75, 6, 21], 'the pale part of a ring'),
  late: colour('Late wood', [60, 9, 25], 'the dark part of a ring'),
  pores: choice(
    'Pores',
    { ring: 'ring-porous', diffuse: 'diffuse-porous', none: 'none (softwood)' },
    'where vessels lie',
  ),
  poreMm: size('Length of pores', 'mm', [5, 0.5, 30], 'of the longest vessel lines along the grain'),
  raysPercent: size('Ray flecks', '%', [20, 0, 100], 'how strongly rays show on the quarter'),
  knotsPerM2: size('Knots', '1/m²', [0.6, 0, 60], 'knots in a square metre'),
  clusterPercent: later(
    size('Knots in clusters', '%', [0, 0, 100], 'share of the knots that are a group of small ones'),
  ),
  sapPercent: later(size('Sapwood', '%', [0, 0, 100], 'share of the leaves that have sapwood at an edge')),
  sap: later(colour('Colour of the sapwood', [82, 3, 20], 'of its early wood')),
  spread: size('Spread of L*', '1', [2.5, 0, 15], 'how much leaves differ in lightness, standard deviation'),
  brushedMm: size('Brushed depth', 'mm', [0, 0, 1.5], 'how deep soft early wood is brushed out'),
} as const;
export type Values = ValuesOf<typeof settings>;

/** Whole leaves on a length. */
export const countOf = (mm: number, leafMm: number) => Math.max(1, Math.round(mm / leafMm));
