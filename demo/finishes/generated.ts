import { generatedRecipe, type Category, type Recipe } from '@jossel/core/finish';
import { initialItem, familyOf, type ListSetting } from '@jossel/core/generate';
import { initialLayout } from '@jossel/core/layout';
import { figure } from '@jossel/core/units';
import { usualLayer } from '@jossel/core/weathering';

/** Finishes of the demo studio that no picture shows: they are generated from what their makers specify. */
export interface GeneratedDemo {
  name: string;
  category: Category;
  recipe: () => Recipe;
  /** Notes of issued revisions. */
  revisions: readonly string[];
}

const lab = (l: number, a: number, b: number) => ({
  lab: [l, a, b] as [number, number, number],
  basis: 'measured' as const,
});
const published = <U extends 'mm' | '%' | 'tex' | '1/cm' | '1/m²'>(value: number, unit: U) =>
  figure(value, unit, 'published');

/** One of a list setting, with colours and published figures. */
const item = (kind: string, list: string, values: Record<string, unknown>) => ({
  ...initialItem(familyOf(kind).settings[list] as ListSetting),
  ...values,
});

const terrazzo = () =>
  generatedRecipe('terrazzo', {
    repeatMm: { width: 600, height: 600 },
    seed: 4,
    binder: lab(78, 0, 6),
    stones: [
      item('terrazzo', 'stones', {
        lab: lab(86, 0, 3),
        second: lab(72, 0, 2),
        figure: 'veined',
        leastMm: published(8, 'mm'),
        mostMm: published(25, 'mm'),
        sharePercent: published(30, '%'),
      }),
      item('terrazzo', 'stones', {
        lab: lab(44, -6, 4),
        second: lab(58, -5, 6),
        figure: 'banded',
        leastMm: published(4, 'mm'),
        mostMm: published(12, 'mm'),
        sharePercent: published(14, '%'),
      }),
      item('terrazzo', 'stones', {
        lab: lab(66, 10, 24),
        second: lab(54, 14, 26),
        figure: 'spotted',
        leastMm: published(3, 'mm'),
        mostMm: published(7, 'mm'),
        sharePercent: published(9, '%'),
      }),
    ],
  });

const twill = () =>
  generatedRecipe('cloth', {
    weave: 'herringbone',
    ends: figure(24, '1', 'published'),
    warpPerCm: published(14, '1/cm'),
    weftPerCm: published(13, '1/cm'),
    warpTex: published(180, 'tex'),
    weftTex: published(190, 'tex'),
    fibre: 'wool',
    repeatMm: { width: 70, height: 60 },
    yarns: [
      item('cloth', 'yarns', { lab: lab(70, 2, 14), second: lab(58, 3, 15) }),
      item('cloth', 'yarns', { lab: lab(34, 4, 10), second: lab(26, 3, 7) }),
    ],
  });

function blockFloor(): Recipe {
  const recipe = generatedRecipe('timber', {
    cut: 'end',
    leafMm: published(80, 'mm'),
    ringsPerCm: published(5, '1/cm'),
    early: lab(70, 9, 25),
    late: lab(48, 16, 28),
    pores: 'none',
    repeatMm: { width: 960, height: 960 },
  });
  const layout = initialLayout('stack');
  return {
    ...recipe,
    layout: {
      ...layout,
      piece: { lengthMm: published(79, 'mm'), widthMm: published(79, 'mm') },
      joint: {
        ...layout.joint,
        alongMm: published(1, 'mm'),
        acrossMm: published(1, 'mm'),
        depthMm: published(1, 'mm'),
        lab: [24, 4, 8],
      },
      repeatMm: { width: 960, height: 960 },
      faces: { ...layout.faces, from: 'areas', halfTurn: true },
    },
  };
}

const concrete = () =>
  generatedRecipe('concrete', {
    lab: lab(70, 0, 4),
    boardMm: published(120, 'mm'),
    grainMm: figure(0.8, 'mm', 'measured', 0.2),
    repeatMm: { width: 1800, height: 1200 },
  });

function wall(): Recipe {
  const recipe = generatedRecipe('clay', { clay: lab(46, 25, 25), repeatMm: { width: 1200, height: 900 } });
  const layout = initialLayout('english');
  const layer = (name: string, id: string, change: object) => ({ ...usualLayer(name, id), ...change });
  return {
    ...recipe,
    layout: {
      ...layout,
      joint: {
        ...layout.joint,
        depthMm: figure(5, 'mm', 'measured', 0.5),
        profile: 'recessed',
        lab: [70, 1, 8],
      },
      arris: { ...layout.arris, form: 'round', sizeMm: figure(3, 'mm', 'assumed'), uneven: 0.5 },
      repeatMm: { width: 1350, height: 1200 },
    },
    weathering: [
      layer('Opaque paint', 'limewash', {
        name: 'Limewash',
        colour: lab(90, 0, 4),
        filmUm: figure(300, 'µm', 'assumed'),
        glossGu: figure(2, 'GU', 'assumed'),
        flaking: 3,
        chalking: 2,
      }),
      layer('Worn arrises', 'arrises', { coverPercent: 8, scaleMm: 60, lighterBy: -14 }),
      layer('Dust in hollows', 'dust', { name: 'Dust in the joints', coverPercent: 22 }),
      layer('Algae', 'algae', {
        name: 'Green foot',
        place: { at: 'foot', reachMm: 14, fromMm: 0, toMm: 420 },
        coverPercent: 60,
        scaleMm: 90,
      }),
      layer('Damp from below', 'damp', { name: 'Damp foot' }),
    ],
  };
}

const rusted = (): Recipe => {
  const recipe = generatedRecipe('sheet-metal', {
    surface: 'rusted',
    lab: lab(40, 2, 4),
    cover: lab(38, 22, 28),
    coverPercent: figure(85, '%', 'measured'),
    depthMm: figure(0.5, 'mm', 'measured', 0.1),
    repeatMm: { width: 900, height: 900 },
  });
  return { ...recipe, response: { ...recipe.response, glossGu: figure(4, 'GU', 'measured', 1) } };
};

export const GENERATED: readonly GeneratedDemo[] = [
  {
    name: 'Terrazzo, three stones',
    category: 'stone',
    recipe: terrazzo,
    revisions: ['Sample slab approved'],
  },
  {
    name: 'Herringbone twill, flax and peat',
    category: 'textile',
    recipe: twill,
    revisions: ['For bench seats'],
  },
  { name: 'End-grain blocks, larch', category: 'timber', recipe: blockFloor, revisions: [] },
  { name: 'Board-marked concrete', category: 'concrete', recipe: concrete, revisions: [] },
  { name: 'Limewashed wall, weathered', category: 'brick', recipe: wall, revisions: [] },
  { name: 'Rusted sheet', category: 'metal', recipe: rusted, revisions: [] },
];
