import {
  hashUnit,
  makeColourPicture,
  sampleWrapped,
  type ColourPicture,
  type Plane,
} from '@jossel/core/raster';
import {
  boards,
  bricks,
  cloth,
  encaustic,
  herringbone,
  setts,
  slates,
  stones,
  tiles,
} from '../physical/kinds';
import type { PhysicalSample } from '../physical/surface';
import { viewOf, type Shot } from './photographed';

/** Physical samples photographed by hand, askew, in light from the upper left that falls off and shades their relief. */

export interface Askew {
  sample: PhysicalSample;
  /** Width that is seen, mm. */
  widthMm: number;
  turnDeg: number;
  nearer: Shot['nearer'];
}

export const SAMPLES_ASKEW: Readonly<Record<string, () => Askew>> = {
  bricks: () => ({
    sample: bricks(31, [7, 16], '#a4553a', '#5a3530', '#b9b1a2'),
    widthMm: 1100,
    turnDeg: 1.2,
    nearer: [0.02, 0],
  }),
  'bricks in dark mortar': () => ({
    sample: bricks(32, [7, 16], '#8c4a38', '#4a2d2a', '#4a4642'),
    widthMm: 1100,
    turnDeg: -0.8,
    nearer: [0, 0.03],
  }),
  boards: () => ({
    sample: boards(35, [1900, 1450], 120, '#b39671', '#6b4f36'),
    widthMm: 1300,
    turnDeg: 1.2,
    nearer: [0.02, 0],
  }),
  'narrow boards': () => ({
    sample: boards(36, [1900, 1450], 85, '#c8ad86', '#8a6b4e', { ringPorous: false, jointMm: 1 }),
    widthMm: 1300,
    turnDeg: -0.8,
    nearer: [0, 0.03],
  }),
  tiles: () => ({
    sample: tiles(37, [9, 11], [150, 150], '#2f6b62'),
    widthMm: 1100,
    turnDeg: 0.6,
    nearer: [-0.03, 0.02],
  }),
  'tiles in half bond': () => ({
    sample: tiles(38, [8, 11], [200, 100], '#d8d2c4', { shift: 0.5 }),
    widthMm: 1100,
    turnDeg: -1.5,
    nearer: [0, 0],
  }),
  'herringbone parquet': () => ({
    sample: herringbone(44, [1700, 1400]),
    widthMm: 1100,
    turnDeg: -0.8,
    nearer: [0, 0.03],
  }),
  'granite setts': () => ({
    sample: setts(42, [1500, 1300]),
    widthMm: 1100,
    turnDeg: -1.5,
    nearer: [0, 0],
  }),
  'English bond': () => ({
    sample: bricks(51, [7, 16], '#9c5240', '#5f3a33', '#c4bcae', { bond: 'english', strayMm: 1.5 }),
    widthMm: 1100,
    turnDeg: 1.4,
    nearer: [0.03, 0.01],
  }),
  'Flemish bond': () => ({
    sample: bricks(52, [5, 16], '#a8603f', '#6a3f2c', '#b6ad9c', { bond: 'flemish', strayMm: 1.5 }),
    widthMm: 1100,
    turnDeg: -1.1,
    nearer: [0, 0.03],
  }),
  clinker: () => ({
    sample: bricks(53, [6, 22], '#4d3331', '#26201f', '#55524e', {
      shift: 1 / 3,
      piece: [240, 52],
      jointMm: 8,
      strayMm: 1,
      glossGu: 25,
    }),
    widthMm: 1100,
    turnDeg: 0.9,
    nearer: [-0.02, 0.02],
  }),
  slates: () => ({
    sample: slates(54, [1771, 1704]),
    widthMm: 1200,
    turnDeg: -1,
    nearer: [0.02, 0.03],
  }),
  flagstones: () => ({
    sample: stones(55, [3000, 2600], 'random-ashlar', [450, 300], 12, '#77705f'),
    widthMm: 2200,
    turnDeg: 1.3,
    nearer: [0, 0.03],
  }),
  'field stones': () => ({
    sample: stones(56, [1800, 1500], 'fieldstone', [170, 140], 18, '#857d6c'),
    widthMm: 1300,
    turnDeg: -1.2,
    nearer: [0.02, 0],
  }),
  'encaustic tiles': () => ({
    sample: encaustic(57, [8, 8], 200, ['#3b4a5c', '#8a4334']),
    widthMm: 1100,
    turnDeg: 1,
    nearer: [0.02, 0.02],
  }),
  twill: () => ({
    sample: cloth(58, [60, 50], 'twill22', [9, 9], ['#3f4a44', '#55625a'], ['#a9a190', '#8d8575']),
    widthMm: 45,
    turnDeg: -1,
    nearer: [0, 0.02],
  }),
  'plain weave': () => ({
    sample: cloth(39, [60, 50], 'plain', [8, 8], ['#b9b1a2', '#8f887b'], ['#3d4f63', '#7a8794']),
    widthMm: 45,
    turnDeg: 1.2,
    nearer: [0.02, 0],
  }),
};

/** Places of the surface to a pixel of the picture, along each side. */
const FINER = 1.3;
const SUB = 2;
/** Share of the light that comes from all sides; the rest comes from the upper left. */
const AMBIENT = 0.65;
const LIGHT = [-0.55, -0.6, 0.58] as const;
const MOST_LIGHT = 2;
const FALL = 0.2;
const NOISE = 0.008;

/** A picture of three by four. */
export async function photographedAskew(
  { sample, widthMm, turnDeg, nearer }: Askew,
  widthPx: number,
): Promise<ColourPicture> {
  const heightPx = Math.round(0.75 * widthPx);
  const shot: Shot = {
    widthPx,
    heightPx,
    widthMm,
    slopeDeg: turnDeg,
    nearer,
    bow: 0,
    fall: FALL,
    noise: NOISE,
    seed: 7,
  };
  const { colour, heightMmPlane } = await sample.make((FINER * widthPx) / widthMm);
  const perMm = { x: colour.widthPx / sample.widthMm, y: colour.heightPx / sample.heightMm };
  const toSurface = viewOf(shot);
  const planes = [colour.r, colour.g, colour.b].map((data): Plane => ({ ...heightMmPlane, data }));
  const shown = makeColourPicture(widthPx, heightPx);
  const out = [shown.r, shown.g, shown.b];
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const sum = [0, 0, 0];
      for (let k = 0; k < SUB * SUB; k++) {
        const [xMm, yMm] = toSurface([x + ((k % SUB) + 0.5) / SUB, y + (Math.floor(k / SUB) + 0.5) / SUB]);
        const [u, v] = [xMm * perMm.x, yMm * perMm.y];
        const light = AMBIENT + (1 - AMBIENT) * lightAt(heightMmPlane, u, v, perMm);
        for (let c = 0; c < 3; c++) sum[c]! += (sampleWrapped(planes[c]!, u, v) * light) / (SUB * SUB);
      }
      const falls = 1 - FALL * (0.6 * (x / widthPx) + 0.4 * (y / heightPx));
      for (let c = 0; c < 3; c++) {
        const noise = NOISE * 1.7 * (hashUnit(x, y, 20 + c, 7) - hashUnit(x, y, 30 + c, 7));
        const root = Math.max(0, Math.sqrt(Math.max(0, sum[c]! * falls)) + noise);
        out[c]![y * widthPx + x] = root * root;
      }
    }
  return shown;
}

/** Light from one side at a place, over that on a level face. */
function lightAt(height: Plane, u: number, v: number, perMm: { x: number; y: number }): number {
  const slopeX = ((sampleWrapped(height, u + 1, v) - sampleWrapped(height, u - 1, v)) / 2) * perMm.x;
  const slopeY = ((sampleWrapped(height, u, v + 1) - sampleWrapped(height, u, v - 1)) / 2) * perMm.y;
  const towards = (-slopeX * LIGHT[0] - slopeY * LIGHT[1] + LIGHT[2]) / Math.hypot(1, slopeX, slopeY);
  return Math.min(MOST_LIGHT, Math.max(0, towards) / LIGHT[2]);
}
