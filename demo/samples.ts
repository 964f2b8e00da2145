import {
  brushedMetal,
  glazedTile,
  limestone,
  plaster,
  rgb,
  rolledMetal,
  sheetGlass,
  timber,
  weave,
  type GeneratedSurface,
} from '@jossel/core/generate';
import type { Camera } from './photograph';

/** One sample picture of the demo studio: what was in front of the camera, and how it was taken. */
export interface DemoSample {
  file: string;
  quality: number;
  /** Scaled-down drawings of the same finish, for tests. */
  make: (pxPerMm?: number) => GeneratedSurface;
  camera: Camera;
  widthMm: number;
  pxPerMm: number;
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

/** Eight boards of 145 mm with 3 mm joints, from joint middle to joint middle: 1184 mm. */
const ash = (pxPerMm = 1.3) =>
  timber({
    widthMm: 1600,
    heightMm: 1184,
    pxPerMm,
    seed: 41,
    boardMm: 145,
    jointMm: 3,
    shortestMm: 700,
    longestMm: 1500,
    early: rgb('#b39671'),
    late: rgb('#6b4f36'),
    ringPorous: true,
    knotsPerM2: 1.1,
  });
const beech = (pxPerMm = 1.5) =>
  timber({
    widthMm: 1200,
    heightMm: 900,
    pxPerMm,
    seed: 97,
    boardMm: 88,
    jointMm: 2,
    shortestMm: 380,
    longestMm: 900,
    early: rgb('#d9b891'),
    late: rgb('#b98f66'),
    ringPorous: false,
    knotsPerM2: 0.2,
  });
const tile = (pxPerMm = 2.4) =>
  glazedTile({
    widthMm: 624,
    heightMm: 416,
    pxPerMm,
    seed: 12,
    tileWidthMm: 205,
    tileHeightMm: 101,
    jointMm: 3,
    shift: 0.5,
    glaze: rgb('#2f6b62'),
    body: rgb('#c9a888'),
    joint: rgb('#bdb7ab'),
  });
const cloth = (pxPerMm = 15) =>
  weave({
    widthMm: 100,
    heightMm: 80,
    pxPerMm,
    seed: 5,
    draft: 'herringbone',
    warpPerCm: 10.4,
    weftPerCm: 9.5,
    cover: 1.02,
    warp: [rgb('#b9b1a2'), rgb('#d0c9bb'), rgb('#8f887b')],
    weft: [rgb('#3d4f63'), rgb('#56697d'), rgb('#2c3a4b'), rgb('#7a8794')],
    strayFibresPerCm2: 0.5,
  });
const wall = (pxPerMm = 1.5) =>
  plaster({
    widthMm: 1200,
    heightMm: 900,
    pxPerMm,
    seed: 23,
    colour: rgb('#d2c6b4'),
    strokesPerM2: 75,
    ridgeMm: 0.3,
  });
const stone = (pxPerMm = 2) =>
  limestone({
    widthMm: 900,
    heightMm: 600,
    pxPerMm,
    seed: 8,
    pale: rgb('#d9cdb8'),
    dark: rgb('#a8977c'),
    rust: rgb('#b48a58'),
    shellsPerM2: 4200,
  });
const zinc = (pxPerMm = 1.8) =>
  rolledMetal({
    widthMm: 1000,
    heightMm: 700,
    pxPerMm,
    seed: 31,
    metal: rgb('#c3c6c7'),
    oxide: rgb('#7c848a'),
    weathering: 0.62,
  });

const steel = (pxPerMm = 8) =>
  brushedMetal({
    widthMm: 240,
    heightMm: 160,
    pxPerMm,
    seed: 61,
    metal: rgb('#b9bbbc'),
    perCm2: 240,
    deepestMm: 0.003,
  });
const pane = (pxPerMm = 2) =>
  sheetGlass({
    widthMm: 600,
    heightMm: 400,
    pxPerMm,
    seed: 71,
    colour: rgb('#dfe6e1'),
    seedsPerM2: 60,
    waveMm: 0.004,
  });
/** Plain weave that leaves 12 % of its area open. */
const curtain = (pxPerMm = 24) =>
  weave({
    widthMm: 60,
    heightMm: 48,
    pxPerMm,
    seed: 81,
    draft: 'plain',
    warpPerCm: 14,
    weftPerCm: 13,
    cover: 0.66,
    warp: [rgb('#cfc6b4'), rgb('#e0d8c8')],
    weft: [rgb('#d9d1c0'), rgb('#bfb5a1')],
    strayFibresPerCm2: 0.4,
    pulled: 0.5,
  });

export const DEMO_SAMPLES: readonly DemoSample[] = [
  {
    file: 'smoked-ash-boards.jpg',
    quality: 88,
    make: ash,
    widthMm: 1600,
    pxPerMm: 1.3,
    camera: camera({ exposure: 1.15, seed: 11 }),
  },
  {
    file: 'beech-strip.jpg',
    quality: 87,
    make: beech,
    widthMm: 1200,
    pxPerMm: 1.5,
    camera: camera({ exposure: 0.95, seed: 12 }),
  },
  {
    file: 'glazed-tile-lagoon.jpg',
    quality: 90,
    make: tile,
    widthMm: 624,
    pxPerMm: 2.4,
    camera: camera({ exposure: 1.2, seed: 13, modelling: 0.8 }),
  },
  {
    file: 'herringbone-cloth-harbour.jpg',
    quality: 88,
    make: cloth,
    widthMm: 100,
    pxPerMm: 15,
    camera: camera({ ambient: 0.75, exposure: 1.35, seed: 14, modelling: 0.6 }),
  },
  {
    file: 'trowelled-plaster-shell.jpg',
    quality: 88,
    make: wall,
    widthMm: 1200,
    pxPerMm: 1.5,
    camera: camera({ lampDeg: 66, ambient: 0.4, exposure: 1, seed: 15, modelling: 2 }),
  },
  {
    file: 'shell-limestone-honed.jpg',
    quality: 88,
    make: stone,
    widthMm: 900,
    pxPerMm: 2,
    camera: camera({ exposure: 0.95, seed: 16 }),
  },
  {
    file: 'rolled-zinc-grey.jpg',
    quality: 88,
    make: zinc,
    widthMm: 1000,
    pxPerMm: 1.8,
    camera: camera({ exposure: 0.95, seed: 17, modelling: 3 }),
  },
  {
    file: 'brushed-steel-long.jpg',
    quality: 88,
    make: steel,
    widthMm: 240,
    pxPerMm: 8,
    camera: camera({ exposure: 1, seed: 18, modelling: 4 }),
  },
  {
    file: 'sheet-glass-on-white.jpg',
    quality: 88,
    make: pane,
    widthMm: 600,
    pxPerMm: 2,
    camera: camera({ ambient: 0.9, exposure: 1, seed: 19, modelling: 0 }),
  },
  {
    file: 'open-weave-flax.jpg',
    quality: 86,
    make: curtain,
    widthMm: 60,
    pxPerMm: 24,
    camera: camera({ ambient: 0.8, exposure: 1.1, seed: 20, modelling: 0.5 }),
  },
];
