import { lead, type Recipe } from '@jossel/core/finish';
import { unprepared } from '@jossel/core/sample';
import { ruledByLrv } from '@jossel/core/light';
import { withAnotherArrangement } from '@jossel/core/repeat';
import { NO_SIZE, sizeKnownBy } from '@jossel/core/size';
import { figure } from '@jossel/core/units';
import { count, origin, overall, closing, type DemoFinish } from '../finish';

/** Joints that are light and yet lie deep. */
function addLightJoints(recipe: Recipe, depthMm: number) {
  recipe.relief.contributions.push({
    kind: 'joints',
    id: 'joints',
    name: 'Joints',
    depthMm: figure(depthMm, 'mm', 'measured', 0.2),
    look: 'lighter',
    widestMm: 8,
    edgeMm: 1.5,
  });
  recipe.relief.zero = 'top';
}

/** Tiles, plaster and stone of the demo studio. */
export const MINERAL: readonly DemoFinish[] = [
  {
    name: 'Glazed tile, lagoon',
    category: 'ceramic',
    file: 'glazed-tile-lagoon.jpg',
    origin: origin('Quellimer Ceramics', 'Foreshore', 'QC-20x10-LG', '4471'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(count(3, 205, 3), count(4, 101, 3));
      r.colour = ruledByLrv(r.colour, figure(13, 'LRV', 'published', 1.5));
      r.repeat = { ...r.repeat, ...closing(['abut', 0], ['abut', 0]) };
      Object.assign(r.relief.contributions[0]!, {
        name: 'Glaze',
        depthMm: figure(0.1, 'mm', 'assumed'),
        broad: 0,
      });
      addLightJoints(r, 1.4);
      r.response = {
        glossGu: figure(82, 'GU', 'measured', 3, 'Mean of three tiles'),
        base: { kind: 'dielectric', index: figure(1.52, '1', 'assumed') },
      };
    },
    revisions: [{ note: "For café and children's corner" }],
  },
  {
    name: 'Trowelled plaster, shell',
    category: 'plaster',
    file: 'trowelled-plaster-shell.jpg',
    origin: origin('Sallimbry Plaster', 'Still', 'SP-ST-SH', 'board 2'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(1200, 2), 'follows');
      r.colour = ruledByLrv(r.colour, figure(61, 'LRV', 'measured', 1));
      r.repeat = { ...r.repeat, ...closing(['blend', 220], ['blend', 180]) };
      Object.assign(r.relief.contributions[0]!, {
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
      'Sallimbry Plaster',
      'Still',
      'SP-ST-SL',
      '',
      'No board of this colour yet; picture of Shell, darkened',
    ),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(1200, 2), 'follows');
      r.colour = ruledByLrv(r.colour, figure(22, 'LRV', 'published', 2));
      r.repeat = { ...r.repeat, ...closing(['mirror', 0], ['mirror', 0]) };
    },
    revisions: [],
  },
  {
    name: 'Shell limestone, honed',
    category: 'stone',
    file: 'shell-limestone-honed.jpg',
    origin: origin('Tolverin Stoneworks', 'Quayside', 'TS-LI-HO', 'block 9'),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(900, 1), 'follows');
      r.colour = ruledByLrv(r.colour, figure(44, 'LRV', 'measured', 1));
      r.repeat = { ...r.repeat, ...closing(['cut', 160], ['cut', 110]) };
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.15, 'mm', 'assumed'),
        broad: 0,
        middle: 0.4,
        fine: 1,
      });
      r.response.glossGu = figure(14, 'GU', 'measured', 2);
    },
    revisions: [{ note: 'Ticket office counter and floor' }],
  },
  {
    name: 'Cliff Bed slab, honed',
    category: 'stone',
    file: 'shell-limestone-honed.jpg',
    origin: origin(
      'Tolverin Stoneworks',
      'Quayside',
      'TS-LI-HO',
      'block 9',
      'Slabs of 1.8 m, composed from the board of the small format',
    ),
    shape: (r) => {
      lead(r).size = sizeKnownBy(overall(900, 1), 'follows');
      r.colour = ruledByLrv(r.colour, figure(44, 'LRV', 'measured', 1));
      r.repeat = withAnotherArrangement({
        ...r.repeat,
        method: 'composed',
        composed: { ...r.repeat.composed, widthMm: 1800, heightMm: 1200 },
      });
      Object.assign(r.relief.contributions[0]!, {
        depthMm: figure(0.15, 'mm', 'assumed'),
        broad: 0,
        middle: 0.4,
        fine: 1,
      });
      r.response.glossGu = figure(14, 'GU', 'measured', 2);
    },
    revisions: [],
  },
  {
    name: 'Moss tile, by lamplight',
    category: 'ceramic',
    file: 'moss-tiles-by-lamplight.jpg',
    origin: origin(
      'Quellimer Ceramics',
      'Fen',
      'QC-98-04',
      '26-052',
      'Panel of tiles, photographed under a yellow lamp with the target card beside it',
    ),
    shape: (r) => {
      lead(r).preparation = {
        ...unprepared(),
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
              { at: [0.2251, 0.1905], lab: [39.1, -11.7, 28.5], add: true },
              { at: [0.5963, 0.9136], lab: [31, -8.3, 23.4], add: true },
              { at: [0.3865, 0.5049], lab: [67, 3.9, 18.5], add: false },
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
      lead(r).size = {
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
      Object.assign(lead(r).light, {
        levelling: { radiusMm: null, shading: 0, shadingMm: 1 },
        balance: 'card',
      });
      r.colour = {
        ...r.colour,
        colour: {
          lab: [47.1, -10, 22],
          basis: 'measured',
          tolerance: 4,
          note: 'Mean of twelve readings over the panel, joints among them',
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
          target: {
            lab: [...lab],
            basis: 'published',
            tolerance: 2,
            note: 'Colour chart of Quellimer, 2026',
          },
        })),
      };
      r.repeat = { ...r.repeat, ...closing(['cut', 8], ['cut', 8]) };
      addLightJoints(r, 1.3);
      r.response.glossGu = figure(81, 'GU', 'measured', 3);
    },
    revisions: [{ note: 'First, with its four colourways' }],
  },
];
