import { lead, type Recipe } from '@jossel/core/finish';
import { unprepared } from '@jossel/core/sample';
import { ruledByLrv } from '@jossel/core/light';
import { NO_SIZE, sizeKnownBy } from '@jossel/core/size';
import { type Point, type Quad } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import { count, origin, closing, type DemoFinish } from '../finish';

/** Floors and boards of the demo studio. */
export const TIMBER: readonly DemoFinish[] = [
  {
    name: 'Smoked ash, wide board',
    category: 'timber',
    file: 'smoked-ash-boards.jpg',
    origin: origin('Velthrask Timber', 'Longhouse', 'VT-2145-SM', '26-114'),
    shape: (r) => {
      lead(r).size = sizeKnownBy('follows', count(8, 145, 3));
      r.colour = ruledByLrv(r.colour, figure(24, 'LRV', 'published', 2, 'Data sheet of Longhouse, 2026'));
      r.repeat = { ...r.repeat, ...closing(['abut', 0], ['abut', 0]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.6, 'mm', 'measured', 0.1, 'Depth gauge across three joints'),
        broad: 0.05,
        middle: 0.6,
        fine: 1,
        // Joints are dark because they are deep.
        colourOut: false,
        steepestDeg: 20,
      });
      r.relief.zero = 'top';
      r.response.glossGu = figure(14, 'GU', 'measured', 1, 'Mean of three readings');
    },
    revisions: [
      {
        note: 'First issue, for the waiting hall',
        after: (r) => {
          r.response.glossGu = figure(12, 'GU', 'measured', 1, 'Read again after oiling');
        },
      },
      { note: 'Gloss read again after oiling' },
    ],
  },
  {
    name: 'Beech strip, natural',
    category: 'timber',
    file: 'beech-strip.jpg',
    origin: origin('Velthrask Timber', 'Longhouse', 'VT-0088-NB', '26-090'),
    shape: (r) => {
      lead(r).size = sizeKnownBy('follows', count(10, 88, 2));
      r.colour = ruledByLrv(r.colour, figure(43, 'LRV', 'published', 2));
      r.repeat = { ...r.repeat, ...closing(['abut', 0], ['abut', 0]) };
      Object.assign(r.relief.contributions[0]!, { broad: 0.05, middle: 0.5, fine: 1 });
      r.relief.zero = 'top';
      r.response.glossGu = figure(18, 'GU', 'published', 3);
    },
    revisions: [],
    state: 'checked',
  },
  {
    name: 'Oak strips from the capture bench',
    category: 'timber',
    file: 'oak-strips-on-the-bench.jpg',
    origin: origin(
      'Velthrask Timber',
      'Longhouse',
      'VT-0070-OK',
      '26-131',
      'Sample board, photographed at an angle',
    ),
    shape: capturedOakStrips,
    revisions: [],
  },
];

/** The oak strips as they were photographed on the capture bench: straightened, picked apart, sized by their card. */
export function capturedOakStrips(r: Recipe): void {
  const frame: Quad = [
    [0.0875, 0.111],
    [0.6833, 0.1686],
    [0.7219, 0.8285],
    [0.0573, 0.8332],
  ];
  const [a, b, c, d] = frame;
  const between = (p: Point, q: Point, t: number): [number, number] => [
    p[0] + (q[0] - p[0]) * t,
    p[1] + (q[1] - p[1]) * t,
  ];
  // Boundaries of the five strips along the two upright edges, as they were dragged.
  const edges = [0, 0.187, 0.381, 0.58, 0.787, 1];
  lead(r).preparation = {
    ...unprepared(),
    frame: frame.map((p) => [...p]) as never,
    areas: edges.slice(0, -1).map((from, i) => ({
      id: `strip-${i + 1}`,
      name: `Strip ${i + 1}`,
      leftOut: i === 0,
      corners: [
        between(a, d, from),
        between(b, c, from),
        between(b, c, edges[i + 1]!),
        between(a, d, edges[i + 1]!),
      ],
    })),
  };
  lead(r).size = {
    ...NO_SIZE,
    ruling: { across: 'card', up: 'card' },
    card: {
      marks: [
        [0.72948, 0.4265],
        [0.8625, 0.42965],
        [0.87382, 0.54004],
        [0.73866, 0.53934],
      ],
    },
    count: {
      across: null,
      up: {
        modules: 5,
        moduleMm: figure(70, 'mm', 'published', 0.2),
        jointMm: 2,
        ends: 'joint',
        before: 0,
        after: 0,
      },
    },
  };
  r.colour = ruledByLrv(r.colour, figure(31, 'LRV', 'measured', 0.8, 'Mean of three readings'));
  r.repeat = { ...r.repeat, ...closing(['blend', 50], ['abut', 0]) };
  Object.assign(r.relief.contributions[0]!, { broad: 0.05, middle: 0.6, fine: 1 });
  r.relief.zero = 'top';
}
