import type { projectCameraSchema, surfaceCameraSchema } from '@jossel/core/schedule';
import type { z } from 'zod';
import { CLOTH_AND_METAL } from './finishes/cloth-and-metal';
import { GENERATED } from './finishes/generated';
import { GLASS } from './finishes/glass';
import { LAID } from './finishes/laid';
import { MINERAL } from './finishes/mineral';
import { TIMBER } from './finishes/timber';

/** The demo studio: made-up suppliers, finishes and two projects. */
export const DEMO_GENERATED = GENERATED;
export const DEMO_FINISHES = [...TIMBER, ...MINERAL, ...CLOTH_AND_METAL, ...GLASS, ...LAID];

export interface DemoProject {
  name: string;
  note: string;
  /** For planning relief. */
  camera?: z.input<typeof projectCameraSchema>;
  rooms: {
    name: string;
    surfaces: {
      name: string;
      widthMm: number;
      heightMm: number;
      finish?: string;
      revision?: string;
      directionDeg?: 0 | 90;
      /** Where it is for the camera; none: as the project says. */
      camera?: z.input<typeof surfaceCameraSchema>;
    }[];
  }[];
}

export const DEMO_PROJECTS: readonly DemoProject[] = [
  {
    name: 'Ferry terminal, Ombrask Quay',
    note: 'Waiting hall, café and ticket office of a small harbour town',
    camera: { errorPx: 1, budgetMb: 2048, surface: { nearestMm: 4000, cameraDeg: 40 } },
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
      {
        name: 'Forecourt',
        surfaces: [
          {
            name: 'Paving',
            widthMm: 9800,
            heightMm: 7000,
            finish: 'Fan setts, pale stone',
            camera: { nearestMm: 1800, farthestMm: 11000, cameraDeg: 65 },
          },
          {
            name: 'Garden wall',
            widthMm: 11800,
            heightMm: 1400,
            finish: 'Quarry rubble, lime mortar',
            camera: { nearestMm: 9000, cameraDeg: 20 },
          },
          { name: 'Gate lodge floor', widthMm: 3400, heightMm: 2600, finish: 'Herringbone of oak strips' },
        ],
      },
    ],
  },
  {
    name: 'Branch library, Thessimer Row',
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
