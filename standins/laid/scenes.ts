import { LAYINGS } from './bonds';
import type { Laying } from './laying';
import { photograph, type Photographed, type Shot, type Tones } from './photographed';

/** Every laying photographed by hand several times, each time otherwise: for tests and for the bench. */
export interface Scene extends Photographed {
  name: string;
  laying: Laying;
  shot: Shot;
}

const MASONRY: Tones = {
  face: [0.35, 0.14, 0.09],
  other: [0.3, 0.12, 0.08],
  joint: [0.5, 0.47, 0.42],
  varies: 0.5,
  grain: 0.15,
};
const CLOTH: Tones = { ...MASONRY, other: [0.2, 0.25, 0.35], joint: [0.03, 0.03, 0.03] };

const SLOPES_DEG = [0, 1, 2.5, -2] as const;
const NEARER = [
  [0, 0],
  [0.05, 0.02],
  [0, 0.08],
] as const;

export const SCENE_NAMES = Object.keys(LAYINGS);

/** @param version whole number from 0: of each laying there are as many scenes as are asked for */
export function laidScene(name: string, version: number, widthPx = 632): Scene {
  const k = SCENE_NAMES.indexOf(name);
  const make = LAYINGS[name];
  if (!make) throw new RangeError(`There is no laying "${name}". There are: ${SCENE_NAMES.join(', ')}.`);
  const woven = /weave|twill/.test(name);
  const laying = make(k + 1 + 50 * version);
  const shot: Shot = {
    widthPx,
    heightPx: Math.round(0.75 * widthPx),
    widthMm: woven ? 220 : 1300,
    slopeDeg: SLOPES_DEG[(k + version) % SLOPES_DEG.length]!,
    nearer: NEARER[(k + version) % NEARER.length]!,
    bow: 0,
    fall: 0.3,
    noise: 0.01,
    seed: k + 1 + version,
  };
  return { name, laying, shot, ...photograph(laying, woven ? CLOTH : MASONRY, shot) };
}
