import type { Recipe } from '@jossel/core/finish';
import type { Quad } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import type { RigSettings } from '../standins/light-rig/rig';
import { closing, origin, type DemoFinish } from './finish';

/** A finish of the demo studio whose relief and colour are measured from pictures under several lights. */
export interface DemoLightSet extends Pick<DemoFinish, 'name' | 'category' | 'origin'> {
  /** Begins the names of its pictures; the list of lights is this name with `.json`. */
  files: string;
  /** What lies under the lights of the rig, and how they are set. */
  rig: { sampleId: string } & Partial<RigSettings>;
  /** The frame as it was marked in the pictures, just inside the edges of the sample. */
  frame: Quad;
  overallMm: { width: number; height: number };
  shape: (recipe: Recipe) => void;
}

export const DEMO_LIGHT_SETS: readonly DemoLightSet[] = [
  {
    name: 'Buff clinker, relief measured',
    category: 'brick',
    files: 'clinker-under-lights',
    origin: origin(
      'Grellvask Clinkerworks',
      'Saltmarsh',
      'GC-24-BF',
      'kiln 7',
      'Panel of 24 bricks, cut in the middle of its joints',
    ),
    rig: { sampleId: 'clinker-panel', widthPx: 900, rollDeg: 1.5, tiltDeg: 3, overfill: -0.035, seed: 4 },
    frame: [
      [0.0116, 0.0376],
      [0.9662, 0.0095],
      [0.9968, 0.9703],
      [0.0258, 0.9989],
    ],
    overallMm: { width: 673.6, height: 598.6 },
    shape: (r) => {
      r.repeat = { ...r.repeat, ...closing(['cut', 2], ['cut', 2]) };
      r.response.glossGu = figure(3, 'GU', 'measured', 1, 'Mean of three readings on faces');
    },
  },
];
