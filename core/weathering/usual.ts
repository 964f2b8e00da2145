import { figure } from '../units';
import type { LayerPlace, WeatheringLayer } from './settings';

/** Layers as they usually are: a place to start from. */

type WithoutId<L> = L extends WeatheringLayer ? Omit<L, 'id' | 'name' | 'seed'> : never;
export interface UsualLayer {
  /** As the trade calls it. */
  name: string;
  group: 'Coating' | 'Wear and cracks' | 'Dust and soil' | 'Growth and deposits' | 'Water';
  layer: WithoutId<WeatheringLayer>;
}

const at = (place: LayerPlace['at'], reachMm: number, more: Partial<LayerPlace> = {}): LayerPlace => ({
  at: place,
  reachMm,
  ...more,
});
const lab = (l: number, a: number, b: number) => ({
  lab: [l, a, b] as [number, number, number],
  basis: 'assumed' as const,
});
const mm = (value: number) => figure(value, 'mm', 'assumed');
const um = (value: number) => figure(value, 'µm', 'assumed');
const gu = (value: number) => figure(value, 'GU', 'assumed');

/** A deposit. */
const deposit = (
  place: LayerPlace,
  coverPercent: number,
  scaleMm: number,
  soft: number,
  [colour, second]: readonly [ReturnType<typeof lab>, ReturnType<typeof lab>],
  texture: 'film' | 'grains' | 'cushions' | 'rosettes',
  thick: number,
  hidesPercent: number,
  gloss: number,
): UsualLayer['layer'] => ({
  kind: 'deposit',
  place,
  coverPercent,
  scaleMm,
  soft,
  colour,
  second,
  texture,
  thickMm: mm(thick),
  hidesPercent,
  glossGu: gu(gloss),
});

const coating = (
  coat: 'opaque' | 'translucent' | 'clear',
  colour: ReturnType<typeof lab>,
  film: number,
  gloss: number,
): UsualLayer['layer'] => ({
  kind: 'coating',
  place: at('everywhere', 6),
  coverPercent: 100,
  scaleMm: 200,
  soft: 0.2,
  coat,
  colour,
  filmUm: um(film),
  glossGu: gu(gloss),
  blistering: 0,
  cracking: 0,
  flaking: 0,
  chalking: 0,
  flakesFirst: ['arrises', 'below-joints', 'ends'],
});

export const USUAL_LAYERS: readonly UsualLayer[] = [
  { name: 'Opaque paint', group: 'Coating', layer: coating('opaque', lab(82, -1, 6), 90, 25) },
  { name: 'Translucent stain', group: 'Coating', layer: coating('translucent', lab(62, 12, 30), 40, 15) },
  { name: 'Clear varnish', group: 'Coating', layer: coating('clear', lab(96, 0, 4), 80, 70) },
  {
    name: 'Worn arrises',
    group: 'Wear and cracks',
    layer: {
      kind: 'wear',
      place: at('arrises', 12),
      coverPercent: 12,
      scaleMm: 90,
      soft: 0.6,
      depthMm: mm(0.8),
      lighterBy: 6,
      glossGu: gu(6),
    },
  },
  {
    name: 'Foot traffic',
    group: 'Wear and cracks',
    layer: {
      kind: 'wear',
      place: at('everywhere', 12),
      coverPercent: 35,
      scaleMm: 900,
      soft: 1,
      depthMm: mm(0.05),
      lighterBy: -2,
      glossGu: gu(20),
    },
  },
  ...(
    [
      ['Traffic path, polished', -1, 45, 0.02],
      ['Traffic path, scuffed', 5, 4, 0.15],
    ] as const
  ).map(([name, lighterBy, gloss, depth]): UsualLayer => ({
    name,
    group: 'Wear and cracks',
    layer: {
      kind: 'wear',
      place: at('path', 12, { fromMm: 0, toMm: 700 }),
      coverPercent: 70,
      scaleMm: 300,
      soft: 1,
      depthMm: mm(depth),
      lighterBy,
      glossGu: gu(gloss),
    },
  })),
  ...(
    [
      ['Shrinkage cracks', 'shrinkage', 160, 0.3, 1.5],
      ['Settlement cracks', 'settlement', 1400, 0.8, 6],
      ['Crazing', 'crazing', 12, 0.05, 0.05],
    ] as const
  ).map(([name, pattern, scaleMm, width, depth]): UsualLayer => ({
    name,
    group: 'Wear and cracks',
    layer: {
      kind: 'cracks',
      place: at('everywhere', 10),
      coverPercent: pattern === 'crazing' ? 100 : 60,
      scaleMm,
      soft: 0.5,
      pattern,
      widthMm: mm(width),
      depthMm: mm(depth),
    },
  })),
  {
    name: 'Dust in hollows',
    group: 'Dust and soil',
    layer: deposit(at('hollows', 12), 30, 60, 0.8, [lab(62, 2, 9), lab(54, 2, 8)], 'grains', 0.1, 70, 1),
  },
  {
    name: 'Dust on ledges',
    group: 'Dust and soil',
    layer: deposit(at('ledges', 12), 15, 60, 0.8, [lab(58, 1, 7), lab(50, 1, 6)], 'grains', 0.1, 75, 1),
  },
  {
    name: 'Touched by hands',
    group: 'Dust and soil',
    layer: deposit(
      at('hand', 10, { fromMm: 900, toMm: 1400 }),
      35,
      160,
      1,
      [lab(34, 3, 8), lab(30, 3, 7)],
      'film',
      0.01,
      22,
      14,
    ),
  },
  {
    name: 'Splash zone',
    group: 'Dust and soil',
    layer: deposit(
      at('foot', 10, { fromMm: 0, toMm: 350 }),
      55,
      26,
      0.7,
      [lab(40, 5, 14), lab(34, 5, 12)],
      'grains',
      0.08,
      55,
      1,
    ),
  },
  {
    name: 'Run-off streaks',
    group: 'Dust and soil',
    layer: deposit(at('run-off', 10), 25, 70, 0.9, [lab(30, 1, 5), lab(38, 1, 6)], 'film', 0.01, 40, 2),
  },
  {
    name: 'Algae',
    group: 'Growth and deposits',
    layer: deposit(at('hollows', 15), 30, 120, 0.9, [lab(44, -10, 20), lab(34, -7, 14)], 'film', 0.05, 60, 2),
  },
  {
    name: 'Moss',
    group: 'Growth and deposits',
    layer: deposit(
      at('hollows', 15),
      8,
      45,
      0.3,
      [lab(40, -12, 28), lab(30, -8, 20)],
      'cushions',
      4,
      95,
      0.5,
    ),
  },
  {
    name: 'Lichen',
    group: 'Growth and deposits',
    layer: deposit(at('faces', 15), 30, 45, 0.2, [lab(72, -3, 12), lab(64, 4, 26)], 'rosettes', 0.4, 85, 1),
  },
  {
    name: 'Lime bloom',
    group: 'Growth and deposits',
    layer: deposit(at('run-off', 10), 18, 110, 1, [lab(90, 0, 2), lab(84, 0, 3)], 'film', 0.05, 55, 2),
  },
  {
    name: 'Verdigris',
    group: 'Growth and deposits',
    layer: deposit(at('run-off', 10), 45, 90, 0.6, [lab(62, -22, 4), lab(50, -16, 0)], 'film', 0.06, 85, 2),
  },
  {
    name: 'Rust',
    group: 'Growth and deposits',
    layer: deposit(at('run-off', 10), 25, 60, 0.5, [lab(40, 24, 32), lab(26, 12, 16)], 'grains', 0.15, 85, 1),
  },
  {
    name: 'Wet',
    group: 'Water',
    layer: {
      kind: 'wet',
      place: at('everywhere', 15),
      coverPercent: 100,
      scaleMm: 400,
      soft: 0.6,
      porousPercent: 90,
      filmUm: um(15),
    },
  },
  {
    name: 'Damp from below',
    group: 'Water',
    layer: {
      kind: 'wet',
      place: at('foot', 15, { fromMm: 0, toMm: 600 }),
      coverPercent: 70,
      scaleMm: 300,
      soft: 0.8,
      porousPercent: 90,
      filmUm: um(0),
    },
  },
];

/** A usual layer as it is added. @throws RangeError when there is none of that name */
export function usualLayer(name: string, id: string, seed = 1): WeatheringLayer {
  const usual = USUAL_LAYERS.find((u) => u.name === name);
  if (!usual) throw new RangeError(`There is no usual layer “${name}”.`);
  return {
    ...(JSON.parse(JSON.stringify(usual.layer)) as UsualLayer['layer']),
    id,
    name,
    seed,
  } as WeatheringLayer;
}
