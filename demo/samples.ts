import { boards, brushedSheet, cloth, pane, sheet, stone, tiles, wall } from '../standins/physical/kinds';
import type { PhysicalSample } from '../standins/physical/surface';
import type { Camera } from './photograph';

/** One sample picture of the demo studio: what was in front of the camera, and how it was taken. */
export interface DemoSample {
  file: string;
  quality: number;
  sample: PhysicalSample;
  pxPerMm: number;
  camera: Camera;
}

const camera = (c: Partial<Camera>): Camera => ({
  lampDeg: 35,
  lampFromDeg: 120,
  ambient: 0.55,
  fallOff: 0.05,
  exposure: 1,
  noise: 0.004,
  seed: 1,
  ...c,
});

export const DEMO_SAMPLES: readonly DemoSample[] = [
  {
    file: 'smoked-ash-boards.jpg',
    quality: 88,
    sample: boards(41, [1600, 1184], 145, '#b39671', '#6b4f36', { jointMm: 3, knotsPerM2: 1.1 }),
    pxPerMm: 1.3,
    camera: camera({ exposure: 1.15, seed: 11 }),
  },
  {
    file: 'beech-strip.jpg',
    quality: 87,
    sample: boards(97, [1200, 900], 88, '#d9b891', '#b98f66', { ringPorous: false, knotsPerM2: 0.2 }),
    pxPerMm: 1.5,
    camera: camera({ exposure: 0.95, seed: 12 }),
  },
  {
    file: 'glazed-tile-lagoon.jpg',
    quality: 90,
    sample: tiles(12, [3, 4], [205, 101], '#2f6b62', { shift: 0.5 }),
    pxPerMm: 2.4,
    camera: camera({ exposure: 1.2, seed: 13, modelling: 0.8 }),
  },
  {
    file: 'herringbone-cloth-harbour.jpg',
    quality: 88,
    sample: cloth(5, [100, 80], 'herringbone', [10.4, 9], ['#b9b1a2', '#d0c9bb'], ['#3d4f63', '#7a8794']),
    pxPerMm: 15,
    camera: camera({ ambient: 0.75, exposure: 1.35, seed: 14, modelling: 0.6 }),
  },
  {
    file: 'trowelled-plaster-shell.jpg',
    quality: 88,
    sample: wall(23, [1200, 900], '#d2c6b4'),
    pxPerMm: 1.5,
    camera: camera({ lampDeg: 66, ambient: 0.4, exposure: 1, seed: 15, modelling: 2 }),
  },
  {
    file: 'shell-limestone-honed.jpg',
    quality: 88,
    sample: stone(8, [900, 600], '#d9cdb8', '#a8977c'),
    pxPerMm: 2,
    camera: camera({ exposure: 0.95, seed: 16 }),
  },
  {
    file: 'rolled-zinc-grey.jpg',
    quality: 88,
    sample: sheet(31, [1000, 700], '#c3c6c7', '#7c848a'),
    pxPerMm: 1.8,
    camera: camera({ exposure: 0.95, seed: 17, modelling: 3 }),
  },
  {
    file: 'brushed-steel-long.jpg',
    quality: 88,
    sample: brushedSheet(61, [240, 160], '#b9bbbc', 240),
    pxPerMm: 8,
    camera: camera({ exposure: 1, seed: 18, modelling: 4 }),
  },
  {
    file: 'sheet-glass-on-white.jpg',
    quality: 88,
    sample: pane(71, [600, 400], '#dfe6e1', 60),
    pxPerMm: 2,
    camera: camera({ ambient: 0.9, exposure: 1, seed: 19, modelling: 0 }),
  },
  {
    file: 'open-weave-flax.jpg',
    quality: 86,
    sample: cloth(81, [60, 48], 'plain', [14, 13], ['#cfc6b4', '#e0d8c8'], ['#d9d1c0', '#bfb5a1'], {
      pulled: 0.5,
      cover: 0.66,
    }),
    pxPerMm: 24,
    camera: camera({ ambient: 0.8, exposure: 1.1, seed: 20, modelling: 0.5 }),
  },
];
