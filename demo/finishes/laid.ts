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
  r.repeat = { ...r.repeat, ...closing(['cut', 160], ['cut', 110]) };
  Object.assign(r.relief.contributions[0]!, { depthMm: figure(1.2, 'mm', 'assumed'), broad: 1, middle: 1 });
  r.response.glossGu = figure(4, 'GU', 'measured', 1);
};
const tolverin = (code: string) =>
  origin('Tolverin Stoneworks', 'Quayside', code, 'block 12', 'Faces cut from the honed sample');

/** Boards between the joints of the oak strips, as they were picked: those that are long enough. */
const OAK_BOARDS: PickedArea['corners'][] = [
  [
    [0.0874, 0.1145],
    [0.6514, 0.1687],
    [0.6577, 0.2874],
    [0.082, 0.2426],
  ],
  [
    [0.0819, 0.2455],
    [0.4734, 0.2758],
    [0.4763, 0.4012],
    [0.0763, 0.3779],
  ],
  [
    [0.3276, 0.3962],
    [0.6979, 0.4176],
    [0.7054, 0.5456],
    [0.3274, 0.5314],
  ],
  [
    [0.1079, 0.5272],
    [0.7056, 0.5493],
    [0.7134, 0.6829],
    [0.1027, 0.6732],
  ],
  [
    [0.0638, 0.6767],
    [0.5751, 0.6845],
    [0.5805, 0.8278],
    [0.0574, 0.8313],
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
      'Five boards of the sample board',
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
