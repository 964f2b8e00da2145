import { lead } from '@jossel/core/finish';
import { initialLayout, type LayoutSettings } from '@jossel/core/layout';
import { ruledByLrv } from '@jossel/core/light';
import type { PickedArea } from '@jossel/core/sample';
import { sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { closing, origin, overall, type DemoFinish } from '../finish';
import { capturedOakStrips } from './timber';

/** Finishes of the demo studio that are laid of pieces. */

const mm = (value: number) => figure(value, 'mm', 'published', 1);

function laid(kind: string, change: (layout: LayoutSettings) => void): LayoutSettings {
  const layout = initialLayout(kind);
  change(layout);
  return layout;
}

/** Limestone as it comes from the saw, from which stones are cut. */
const limestone: DemoFinish['shape'] = (r) => {
  lead(r).size = sizeKnownBy(overall(900, 1), 'follows');
  r.colour = ruledByLrv(r.colour, figure(41, 'LRV', 'measured', 1.5));
  r.repeat = { ...r.repeat, ...closing(['blend', 160], ['blend', 110]) };
  Object.assign(r.relief.contributions[0]!, { depthMm: figure(1.2, 'mm', 'assumed'), broad: 1, middle: 1 });
  r.response.glossGu = figure(4, 'GU', 'measured', 1);
};
const tolverin = (code: string) =>
  origin('Tolverin Stoneworks', 'Quayside', code, 'block 12', 'Faces cut from the honed sample');

/** Boards between the joints of the oak strips, as they were picked: those that are long enough. */
const OAK_BOARDS: PickedArea['corners'][] = [
  [
    [0.0875, 0.111],
    [0.3878, 0.14],
    [0.3889, 0.2624],
    [0.0822, 0.2384],
  ],
  [
    [0.082, 0.2427],
    [0.3582, 0.2641],
    [0.3587, 0.3923],
    [0.0764, 0.3758],
  ],
  [
    [0.3608, 0.2643],
    [0.6904, 0.2899],
    [0.6975, 0.4122],
    [0.3613, 0.3925],
  ],
  [
    [0.0762, 0.3802],
    [0.5904, 0.41],
    [0.5958, 0.5394],
    [0.0704, 0.5195],
  ],
  [
    [0.0702, 0.5242],
    [0.3775, 0.5356],
    [0.3784, 0.6753],
    [0.0641, 0.6702],
  ],
  [
    [0.3801, 0.5357],
    [0.7055, 0.5479],
    [0.7133, 0.6808],
    [0.3811, 0.6754],
  ],
  [
    [0.0639, 0.675],
    [0.5054, 0.6819],
    [0.5092, 0.8256],
    [0.0575, 0.8285],
  ],
];

export const LAID: readonly DemoFinish[] = [
  {
    name: 'Fan setts, pale stone',
    category: 'stone',
    file: 'shell-limestone-honed.jpg',
    origin: tolverin('TS-LI-FS'),
    shape: (r) => {
      limestone(r);
      r.layout = laid('setts-fans', (l) => {
        l.piece = { lengthMm: mm(90), widthMm: mm(80) };
        l.joint = {
          ...l.joint,
          alongMm: mm(8),
          acrossMm: mm(8),
          depthMm: mm(7),
          profile: 'recessed',
          lab: [52, 1, 6],
        };
        l.arris = { ...l.arris, form: 'tumbled', sizeMm: mm(6), sides: 'all', uneven: 0.6 };
        l.shade = { ...l.shade, lightness: 4.5, chroma: 1.5, hueDeg: 3 };
        l.tolerance = { lippageMm: 3, tiltMm: 3, turnDeg: 0, sizeMm: 0 };
      });
    },
    revisions: [{ note: 'Forecourt' }],
  },
  {
    name: 'Quarry rubble, lime mortar',
    category: 'stone',
    file: 'shell-limestone-honed.jpg',
    origin: tolverin('TS-LI-RU'),
    shape: (r) => {
      limestone(r);
      r.layout = laid('random-rubble', (l) => {
        l.joint = { ...l.joint, depthMm: mm(11), profile: 'recessed', lab: [68, 1, 8] };
        l.arris = { ...l.arris, form: 'tumbled', sizeMm: mm(8), sides: 'all', uneven: 0.7 };
        l.shade = { ...l.shade, lightness: 4, chroma: 2, hueDeg: 3 };
        l.tolerance = { lippageMm: 5, tiltMm: 4, turnDeg: 0, sizeMm: 0 };
      });
    },
    revisions: [{ note: 'Garden wall' }],
  },
  {
    name: 'Herringbone of oak strips',
    category: 'timber',
    file: 'oak-strips-on-the-bench.jpg',
    origin: origin(
      'Velthrask Timber',
      'Longhouse',
      'VT-0070-HB',
      '26-131',
      'Seven boards of the sample board',
    ),
    shape: (r) => {
      capturedOakStrips(r);
      lead(r).preparation.areas = OAK_BOARDS.map((corners, k) => ({
        id: `board-${k + 1}`,
        name: `Board ${k + 1}`,
        leftOut: false,
        corners,
      }));
      r.layout = laid('herringbone', (l) => {
        l.piece = { lengthMm: mm(207), widthMm: mm(69) };
        l.repeatMm = { width: 828, height: 828 };
        l.faces = { ...l.faces, from: 'areas', mirror: true };
        l.arris = { ...l.arris, form: 'bevel', sizeMm: mm(0.8), sides: 'all', uneven: 0 };
        l.shade = { ...l.shade, lightness: 2, chroma: 1, hueDeg: 1 };
      });
    },
    revisions: [{ note: 'Gate lodge' }],
  },
];
