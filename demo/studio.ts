import { ruledByLrv } from '@jossel/core/light';
import { defaultRecipe, type Category, type Recipe } from '@jossel/core/finish';
import { UNTOUCHED_SAMPLE } from '@jossel/core/sample';
import { NO_SIZE, sizeKnownBy } from '@jossel/core/size';
import type { Point, Quad } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';

/** The demo studio: made-up suppliers, finishes and two projects. */

export interface DemoFinish {
  name: string;
  category: Category;
  file: string;
  origin: { supplier: string; line: string; code: string; batch: string; permission: string; note: string };
  shape: (recipe: Recipe) => void;
  /** Issued revisions, each with a note and what is changed in the draft after it. */
  revisions: { note: string; after?: (recipe: Recipe) => void }[];
  state?: 'checked' | 'withdrawn';
}

const origin = (supplier: string, line: string, code: string, batch: string, note = '') => ({
  supplier,
  line,
  code,
  batch,
  permission: 'Sample box for this studio, 3 Nov 2026',
  note,
});
const count = (modules: number, moduleMm: number, jointMm: number) =>
  ({
    count: { modules, moduleMm: figure(moduleMm, 'mm', 'published', 0.3), jointMm, ends: 'joint' },
  }) as const;
const overall = (mm: number, tolerance: number) =>
  ({ overall: figure(mm, 'mm', 'measured', tolerance, 'Steel rule on the sample') }) as const;

export const DEMO_FINISHES: readonly DemoFinish[] = [
  {
    name: 'Smoked ash, wide board',
    category: 'timber',
    file: 'smoked-ash-boards.jpg',
    origin: origin('Osterveld Timber', 'Longhouse', 'OT-2145-SM', '26-114'),
    shape: (r) => {
      r.size = sizeKnownBy('follows', count(8, 145, 3));
      r.colour = ruledByLrv(r.colour, figure(24, 'LRV', 'published', 2, 'Data sheet of Longhouse, 2026'));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'abut', overlapMm: 0 },
        up: { closing: 'abut', overlapMm: 0 },
      };
      Object.assign(r.relief, {
        depthMm: figure(0.6, 'mm', 'measured', 0.1, 'Depth gauge across three joints'),
        broad: 0.05,
        middle: 0.6,
        fine: 1,
        zero: 'top',
      });
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
    origin: origin('Osterveld Timber', 'Tern', 'OT-0088-NB', '26-090'),
    shape: (r) => {
      r.size = sizeKnownBy('follows', count(10, 88, 2));
      r.colour = ruledByLrv(r.colour, figure(43, 'LRV', 'published', 2));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'abut', overlapMm: 0 },
        up: { closing: 'abut', overlapMm: 0 },
      };
      Object.assign(r.relief, { broad: 0.05, middle: 0.5, fine: 1, zero: 'top' });
      r.response.glossGu = figure(18, 'GU', 'published', 3);
    },
    revisions: [],
    state: 'checked',
  },
  {
    name: 'Glazed tile, lagoon',
    category: 'ceramic',
    file: 'glazed-tile-lagoon.jpg',
    origin: origin('Quillan Ceramics', 'Foreshore', 'QC-20x10-LG', '4471'),
    shape: (r) => {
      r.size = sizeKnownBy(count(3, 205, 3), count(4, 101, 3));
      r.colour = ruledByLrv(r.colour, figure(13, 'LRV', 'published', 1.5));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'abut', overlapMm: 0 },
        up: { closing: 'abut', overlapMm: 0 },
      };
      // Here the joint is light and yet lies deep.
      Object.assign(r.relief, {
        depthMm: figure(1.4, 'mm', 'measured', 0.2),
        broad: 0,
        middle: 1,
        fine: 0.2,
        invert: true,
        broadFromMm: 120,
        fineBelowMm: 4,
        zero: 'top',
      });
      r.response = {
        glossGu: figure(82, 'GU', 'measured', 3, 'Mean of three tiles'),
        index: figure(1.52, '1', 'assumed'),
        metal: false,
      };
    },
    revisions: [{ note: "For café and children's corner" }],
  },
  {
    name: 'Herringbone cloth, harbour',
    category: 'textile',
    file: 'herringbone-cloth-harbour.jpg',
    origin: origin('Wexcombe Weaving', 'Slipway', 'WW-310-HB', '77'),
    shape: (r) => {
      r.size = sizeKnownBy(overall(100, 0.5), 'follows');
      r.colour = ruledByLrv(r.colour, figure(19, 'LRV', 'measured', 0.8));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'abut', overlapMm: 0 },
        up: { closing: 'abut', overlapMm: 0 },
      };
      Object.assign(r.relief, {
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
    name: 'Trowelled plaster, shell',
    category: 'plaster',
    file: 'trowelled-plaster-shell.jpg',
    origin: origin('Tarnby Stoneworks', 'Chalk Room', 'TS-PL-04', 'board 2'),
    shape: (r) => {
      r.size = sizeKnownBy(overall(1200, 2), 'follows');
      r.colour = ruledByLrv(r.colour, figure(61, 'LRV', 'measured', 1));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'blend', overlapMm: 220 },
        up: { closing: 'blend', overlapMm: 180 },
      };
      Object.assign(r.relief, {
        depthMm: figure(0.7, 'mm', 'measured', 0.1),
        broad: 0.4,
        middle: 1,
        fine: 0.6,
      });
      r.response.glossGu = figure(3, 'GU', 'measured', 0.5);
    },
    revisions: [{ note: 'Sample board 2 approved' }],
  },
  {
    name: 'Trowelled plaster, slate',
    category: 'plaster',
    file: 'trowelled-plaster-shell.jpg',
    origin: origin(
      'Tarnby Stoneworks',
      'Chalk Room',
      'TS-PL-11',
      '',
      'No board of this colour yet; picture of Shell, darkened',
    ),
    shape: (r) => {
      r.size = sizeKnownBy(overall(1200, 2), 'follows');
      r.colour = ruledByLrv(r.colour, figure(22, 'LRV', 'published', 2));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'mirror', overlapMm: 0 },
        up: { closing: 'mirror', overlapMm: 0 },
      };
    },
    revisions: [],
  },
  {
    name: 'Shell limestone, honed',
    category: 'stone',
    file: 'shell-limestone-honed.jpg',
    origin: origin('Tarnby Stoneworks', 'Cliff Bed', 'TS-LS-20-H', 'block 9'),
    shape: (r) => {
      r.size = sizeKnownBy(overall(900, 1), 'follows');
      r.colour = ruledByLrv(r.colour, figure(44, 'LRV', 'measured', 1));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'blend', overlapMm: 160 },
        up: { closing: 'blend', overlapMm: 110 },
      };
      Object.assign(r.relief, { depthMm: figure(0.15, 'mm', 'assumed'), broad: 0, middle: 0.4, fine: 1 });
      r.response.glossGu = figure(14, 'GU', 'measured', 2);
    },
    revisions: [{ note: 'Ticket office counter and floor' }],
  },
  {
    name: 'Rolled zinc, weathered',
    category: 'metal',
    file: 'rolled-zinc-grey.jpg',
    origin: origin('Brannic Metals', 'Headland', 'BM-ZN-07-W', 'coil 218'),
    shape: (r) => {
      r.size = sizeKnownBy(overall(1000, 1), 'follows');
      r.colour = ruledByLrv(r.colour, figure(32, 'LRV', 'measured', 1.5));
      r.repeat = {
        ...r.repeat,
        across: { closing: 'blend', overlapMm: 180 },
        up: { closing: 'blend', overlapMm: 120 },
      };
      Object.assign(r.relief, { depthMm: figure(0.02, 'mm', 'assumed'), broad: 0.1, middle: 1, fine: 1 });
      r.response = {
        glossGu: figure(38, 'GU', 'measured', 4, 'Along the rolling direction'),
        index: figure(1.5, '1', 'assumed'),
        metal: true,
      };
    },
    revisions: [{ note: 'Counter front' }],
    state: 'withdrawn',
  },
  {
    name: 'Oak strips from the capture bench',
    category: 'timber',
    file: 'oak-strips-on-the-bench.jpg',
    origin: origin(
      'Osterveld Timber',
      'Tern',
      'OT-0070-OK',
      '26-131',
      'Sample board, photographed at an angle',
    ),
    shape: (r) => {
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
      r.sample = {
        ...UNTOUCHED_SAMPLE,
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
      r.size = {
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
      r.repeat = {
        ...r.repeat,
        across: { closing: 'blend', overlapMm: 50 },
        up: { closing: 'abut', overlapMm: 0 },
      };
      Object.assign(r.relief, { broad: 0.05, middle: 0.6, fine: 1, zero: 'top' });
    },
    revisions: [],
  },
  {
    name: 'Moss tile, by lamplight',
    category: 'ceramic',
    file: 'moss-tiles-by-lamplight.jpg',
    origin: origin(
      'Quillan Ceramics',
      'Fen',
      'QC-98-04',
      '26-052',
      'Panel of tiles, photographed under a yellow lamp with the target card beside it',
    ),
    shape: (r) => {
      r.sample = {
        ...UNTOUCHED_SAMPLE,
        frame: [
          [0.1479, 0.0925],
          [0.6294, 0.0569],
          [0.6504, 0.961],
          [0.1366, 0.9658],
        ],
        parts: [
          {
            id: 'glaze',
            name: 'Glaze',
            tolerance: 24,
            growMm: -0.5,
            softenMm: 1.2,
            picks: [
              { at: [0.2251, 0.1905], lab: [37.2, -11.8, 28.1], add: true },
              { at: [0.5963, 0.9136], lab: [26.4, -12.7, 22.9], add: true },
              { at: [0.3865, 0.5049], lab: [60, 2, 14.8], add: false },
            ],
          },
        ],
      };
      const tiles = (modules: number) => ({
        modules,
        moduleMm: figure(98, 'mm', 'published', 0.3),
        jointMm: 2,
        ends: 'joint' as const,
        before: 0,
        after: 0,
      });
      r.size = {
        ...NO_SIZE,
        ruling: { across: 'count', up: 'count' },
        count: { across: tiles(3), up: tiles(4) },
        card: {
          marks: [
            [0.67769, 0.422],
            [0.85494, 0.40787],
            [0.86321, 0.54966],
            [0.684, 0.56221],
          ],
        },
      };
      r.colour = {
        ...r.colour,
        levelling: { radiusMm: null, shading: 0, shadingMm: 1 },
        balance: 'card',
        colour: {
          lab: [38.2, -16.5, 25.8],
          basis: 'measured',
          tolerance: 4,
          note: 'Mean of three readings: 33.6 -18.2 25.6; 41.9 -15.1 26.0; 38.6 -16.6 25.9',
        },
        recoloured: 'glaze',
        ways: (
          [
            ['reed', 'Reed', 'QC-98-07', [62, -8, 24]],
            ['peat', 'Peat', 'QC-98-11', [27, 6, 9]],
            ['tarn', 'Tarn', 'QC-98-15', [38, -6, -18]],
            ['heath', 'Heath', 'QC-98-19', [46, 16, -4]],
          ] as const
        ).map(([id, name, code, lab]) => ({
          id,
          name,
          code,
          target: { lab: [...lab], basis: 'published', tolerance: 2, note: 'Colour chart of Quillan, 2026' },
        })),
      };
      r.repeat = {
        ...r.repeat,
        across: { closing: 'blend', overlapMm: 8 },
        up: { closing: 'blend', overlapMm: 8 },
      };
      r.response.glossGu = figure(74, 'GU', 'measured', 3);
    },
    revisions: [{ note: 'First, with its four colourways' }],
  },
];

export const recipeOfDemo = (
  finish: DemoFinish,
  sample: { id: string; widthPx: number; heightPx: number },
): Recipe => {
  const recipe = defaultRecipe([sample.id], finish.category, sample);
  finish.shape(recipe);
  return recipe;
};

export interface DemoProject {
  name: string;
  note: string;
  rooms: {
    name: string;
    surfaces: {
      name: string;
      widthMm: number;
      heightMm: number;
      finish?: string;
      revision?: string;
      directionDeg?: 0 | 90;
    }[];
  }[];
}

export const DEMO_PROJECTS: readonly DemoProject[] = [
  {
    name: 'Ferry terminal, Skerry Quay',
    note: 'Waiting hall, café and ticket office of a small harbour town',
    rooms: [
      {
        name: 'Waiting hall',
        surfaces: [
          { name: 'Floor', widthMm: 14200, heightMm: 8600, finish: 'Smoked ash, wide board', revision: 'A' },
          { name: 'North wall', widthMm: 14200, heightMm: 4200, finish: 'Trowelled plaster, shell' },
          { name: 'South wall', widthMm: 14200, heightMm: 4200, finish: 'Trowelled plaster, shell' },
          { name: 'Bench seats', widthMm: 5400, heightMm: 480 },
        ],
      },
      {
        name: 'Café',
        surfaces: [
          {
            name: 'Floor',
            widthMm: 6200,
            heightMm: 5100,
            finish: 'Smoked ash, wide board',
            directionDeg: 90,
          },
          { name: 'Back wall', widthMm: 6200, heightMm: 1350, finish: 'Glazed tile, lagoon' },
        ],
      },
      {
        name: 'Ticket office',
        surfaces: [
          { name: 'Floor', widthMm: 3800, heightMm: 2900, finish: 'Shell limestone, honed' },
          { name: 'Counter front', widthMm: 3200, heightMm: 1050, finish: 'Rolled zinc, weathered' },
        ],
      },
    ],
  },
  {
    name: 'Branch library, Fell Lane',
    note: "Reading room and children's corner",
    rooms: [
      {
        name: 'Reading room',
        surfaces: [
          { name: 'Floor', widthMm: 9400, heightMm: 7200, finish: 'Smoked ash, wide board' },
          { name: 'Long wall', widthMm: 9400, heightMm: 3100, finish: 'Trowelled plaster, shell' },
        ],
      },
      {
        name: "Children's corner",
        surfaces: [
          { name: 'Wash-basin wall', widthMm: 2600, heightMm: 1450, finish: 'Glazed tile, lagoon' },
          { name: 'Floor', widthMm: 4200, heightMm: 3600 },
        ],
      },
    ],
  },
];
