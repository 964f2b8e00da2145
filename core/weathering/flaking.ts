import { waves } from '../generate/noise';
import { percentileSteps, smoothstep, type Plane } from '../raster';
import { standingOutSteps } from '../relief/compose';
import { spans, inTurns, type Steps } from '../steps';
import type { Surface } from '../surface';
import type { FlakingPlace, LayerOf } from './settings';
import type { Weathering } from './state';

/** Where a coating comes off. */

/** Share of the area that has come off by degree: the pictures of ISO 4628-5 as areas. */
export const AREA_OF_DEGREE = [0, 0.001, 0.003, 0.01, 0.03, 0.15] as const;

/** How far water that a joint holds keeps the coating below it wet, and how far it climbs in end grain, mm. */
const BELOW_JOINT_MM = 30;
const FROM_END_MM = 25;
/** How much places count beside chance. */
const CHANCE = 0.9;
const ARRIS = 0.7;
const WET = 1.1;

/** Weight of each place at which a coating comes off first, 0–1. */
export type WeakPlaces = { readonly [P in FlakingPlace]?: Float32Array };

/**
 * Looks for the places of a surface at which a coating comes off first. Ends are known where pieces are laid; joints where they are laid
 * or a part of the picture, else hollows stand for them.
 */
export async function weakPlaces(
  { place, flakesFirst = ['arrises'], flaking }: LayerOf<'coating'>,
  { height, mm }: Pick<Weathering, 'height' | 'mm'>,
  { laid, parts }: Pick<Surface, 'laid' | 'parts'>,
  turn: () => Promise<void>,
): Promise<WeakPlaces> {
  if (AREA_OF_DEGREE[flaking] === 0) return {};
  const out: { -readonly [P in FlakingPlace]?: Float32Array } = {};
  const standingOut = (at: 'arrises' | 'hollows') =>
    inTurns(standingOutSteps(height, mm, { place: at, reachMm: place.reachMm }), turn);
  if (flakesFirst.includes('arrises')) out.arrises = (await standingOut('arrises')).data;
  if (flakesFirst.includes('below-joints')) {
    const part = [...parts].find(([id]) => id === 'joint')?.[1];
    const joint = laid ? await laid.joint.get() : ((await part?.get()) ?? (await standingOut('hollows')));
    out['below-joints'] = await inTurns(wetBelow(joint, mm.y), turn);
  }
  if (flakesFirst.includes('ends') && laid) {
    const { data } = await laid.endsMm(FROM_END_MM).get();
    out.ends = data.map((away) => 1 - smoothstep(0, FROM_END_MM, away));
  }
  return out;
}

/** Places below others on a wall: water sinks from what holds it, less with every millimetre. It comes in again at the top of the repeat. */
function* wetBelow({ widthPx: w, heightPx: h, data }: Plane, mmY: number): Steps<Float32Array> {
  const keeps = Math.exp(-mmY / (BELOW_JOINT_MM / 2));
  const wet = new Float32Array(w * h);
  for (let round = 0; round < 2; round++)
    for (let y = 0; y < h; y++) {
      yield;
      for (let x = 0; x < w; x++) {
        const above = wet[((y + h - 1) % h) * w + x]!;
        wet[y * w + x] = Math.max(data[y * w + x]!, keeps * above);
      }
    }
  // In the joint itself nothing is weaker than elsewhere.
  for (let i = 0; i < wet.length; i++) wet[i]! *= 1 - data[i]!;
  return wet;
}

/** What is left of a coating once as much of it has come off as its degree says. */
export function* withoutFlakes(
  state: Weathering,
  layer: LayerOf<'coating'>,
  weight: Plane,
  weak: WeakPlaces,
): Steps<Plane> {
  const asked = AREA_OF_DEGREE[layer.flaking]!;
  if (asked === 0) return weight;
  const { px } = state;
  const flake = waves(state, { cellMm: 2 + 5 * layer.flaking, octaves: 5, gain: 0.6, seed: layer.seed + 31 });
  const field = new Float32Array(px.width * px.height);
  for (let y = 0, i = 0; y < px.height; y++) {
    yield;
    const row = flake.row(y);
    for (let x = 0; x < px.width; x++, i++) field[i] = CHANCE * row[x]! + weakness(weak, i);
  }
  const [level] = (yield* percentileSteps(field, [1 - asked])) as [number];
  const data = new Float32Array(field.length);
  for (const { from, to } of spans(data.length)) {
    yield;
    for (let i = from; i < to; i++)
      data[i] = weight.data[i]! * (1 - smoothstep(level - 0.01, level + 0.01, field[i]!));
  }
  return { ...weight, data };
}

const weakness = (weak: WeakPlaces, i: number): number =>
  (weak.arrises ? ARRIS * weak.arrises[i]! : 0) +
  WET * Math.max(weak['below-joints']?.[i] ?? 0, weak.ends?.[i] ?? 0);
