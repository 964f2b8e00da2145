import { lead } from '@jossel/core/finish';
import { ruledByLrv } from '@jossel/core/light';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { origin, overall, closing, type DemoFinish } from '../finish';

/** Cloth and metal of the demo studio. */
export const CLOTH_AND_METAL: readonly DemoFinish[] = [
  {
    name: 'Herringbone cloth, harbour',
    category: 'textile',
    file: 'herringbone-cloth-harbour.jpg',
    origin: origin('Wextrel Weaving', 'Tideline', 'WW-HB-HA', '77'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(100, 0.5), 'follows');
      r.colour = ruledByLrv(r.colour, figure(19, 'LRV', 'measured', 0.8));
      r.repeat = { ...r.repeat, ...closing(['cut', 8], ['cut', 8]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.9, 'mm', 'measured', 0.1),
        broad: 0,
        middle: 1,
        fine: 0.5,
        broadFromMm: 8,
        fineBelowMm: 0.8,
      });
      r.response.glossGu = figure(1.2, 'GU', 'assumed');
    },
    revisions: [],
  },
  {
    name: 'Rolled zinc, weathered',
    category: 'metal',
    file: 'rolled-zinc-grey.jpg',
    origin: origin('Zinnerolt Metals', 'Roofline', 'ZM-ZN-GR', 'coil 218'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(1000, 1), 'follows');
      r.colour = ruledByLrv(r.colour, figure(32, 'LRV', 'measured', 1.5));
      r.repeat = { ...r.repeat, ...closing(['blend', 180], ['blend', 120]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.02, 'mm', 'assumed'),
        broad: 0.1,
        middle: 1,
        fine: 1,
      });
      r.response = {
        glossGu: figure(38, 'GU', 'measured', 4, 'Along the rolling direction'),
        base: { kind: 'metal' },
      };
    },
    revisions: [{ note: 'Counter front' }],
    state: 'withdrawn',
  },
  {
    name: 'Brushed steel, long grain',
    category: 'metal',
    file: 'brushed-steel-long.jpg',
    origin: origin('Zinnerolt Metals', 'Parlour sheet', 'ZM-BS-240', 'coil 402'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(240, 0.3), 'follows');
      r.repeat = { ...r.repeat, ...closing(['blend', 60], ['blend', 30]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.004, 'mm', 'assumed'),
        broad: 0,
        middle: 1,
        fine: 1,
      });
      r.response = {
        base: { kind: 'metal', of: { from: 'index', n: 2.9, k: 3.1 } },
        glossGu: figure(260, 'GU', 'measured', 12, 'Along the scratches'),
        brushed: {
          acrossGu: figure(120, 'GU', 'measured', 8, 'Across the scratches'),
          alongDeg: 0,
        },
      };
    },
    revisions: [],
  },
  {
    name: 'Open weave, flax',
    category: 'textile',
    file: 'open-weave-flax.jpg',
    origin: origin('Wextrel Weaving', 'Halyard sheers', 'WW-OW-FX', '31'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(60, 0.3), 'follows');
      r.repeat = { ...r.repeat, ...closing(['cut', 4], ['cut', 4]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.5, 'mm', 'measured', 0.1),
        broad: 0,
        middle: 1,
        fine: 0.5,
        broadFromMm: 4,
        fineBelowMm: 0.4,
      });
      r.response = {
        ...r.response,
        glossGu: figure(1.5, 'GU', 'assumed'),
        sheen: { strength: 0.25, roughness: 0.6, hue: 'own' },
        openness: {
          openPercent: figure(12, '%', 'measured', 1, 'Counted under the glass, 10 × 10 mm'),
          between: 'dark',
          diffusePercent: figure(18, '%', 'published'),
        },
      };
    },
    revisions: [],
  },
];
