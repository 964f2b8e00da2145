import { lead, type Recipe } from '@jossel/core/finish';
import type { GlassSettings } from '@jossel/core/response';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { closing, origin, overall, type DemoFinish } from '../finish';

const FILE = 'sheet-glass-on-white.jpg';

/** A pane of 6 mm of some transmittance, its relief not read from the picture. */
function pane(recipe: Recipe, percent: number, tint: [number, number], glass: Partial<GlassSettings> = {}) {
  lead(recipe).size = sizeKnownBy(overall(600, 0.5), 'follows');
  recipe.repeat = { ...recipe.repeat, ...closing(['blend', 80], ['blend', 60]) };
  recipe.response = {
    base: {
      kind: 'glass',
      index: figure(1.52, '1', 'published'),
      thicknessMm: figure(6, 'mm', 'measured', 0.1),
      lightPercent: figure(percent, '%', 'published', 1),
      ofThicknessMm: figure(6, 'mm', 'published'),
      tint,
      ...glass,
    },
    glossGu: figure(92, 'GU', 'assumed'),
  };
}

/** Panes of the demo studio. */
export const GLASS: readonly DemoFinish[] = [
  {
    name: 'Grey pane, 6 mm',
    category: 'glass',
    file: FILE,
    origin: origin('Quelsander Glass', 'Overcast', 'QG-GR-6', 'crate 9'),
    shape: (r) => {
      pane(r, 44, [-1.5, -1]);
      r.relief.contributions = [
        {
          kind: 'profile',
          id: 'wave',
          name: 'Roller wave',
          depthMm: figure(0.008, 'mm', 'measured', 0.002),
          shape: 'wave',
          pitchMm: 260,
          along: 'height',
        },
      ];
    },
    revisions: [{ note: 'Ticket office screens' }],
  },
  {
    name: 'Fluted pane, clear',
    category: 'glass',
    file: FILE,
    origin: origin('Quelsander Glass', 'Furrow', 'QG-FL-20', 'crate 12'),
    shape: (r) => {
      pane(r, 88, [-0.6, 0.2]);
      r.relief.contributions = [
        {
          kind: 'profile',
          id: 'flutes',
          name: 'Flutes',
          depthMm: figure(1.6, 'mm', 'measured', 0.1),
          shape: 'flutes',
          pitchMm: 20,
          along: 'height',
        },
      ];
    },
    revisions: [],
  },
];
