import { extentSteps, smoothstep, type Plane } from '../raster';
import { normalsSteps } from '../relief/normal';
import { standingOutSteps } from '../relief/compose';
import type { Surface } from '../surface';
import type { PlaceField } from './coverage';
import { PLACES_AT_A_HEIGHT, type LayerPlace } from './settings';
import { inTurns, type Steps } from '../steps';
import { runOffSteps } from './water';

/** Where things settle, rub and grow, from the relief and the height above the floor. */

/** A wall as a layer finds it. */
export interface Ground {
  height: Plane;
  /** Share of the sky that is seen, 0–1; null: no layer asks for it. */
  occlusion: Plane | null;
  mm: { x: number; y: number };
  sizeMm: { width: number; height: number };
}

/** A relief of less than this has no hollows, arrises or ledges, mm. */
const FLAT_MM = 0.004;

/** Whether a place is there; if not, why, and what is. */
export function* missingPlace(
  { at, part, fromMm = 0 }: LayerPlace,
  ground: Pick<Ground, 'height' | 'sizeMm'>,
  parts: Surface['parts'],
): Steps<string | null> {
  if (at === 'part')
    return parts.has(part!)
      ? null
      : parts.size > 0
        ? `its part is not there; there are ${[...parts.values()].map(({ name }) => name).join(', ')}`
        : 'its part is not there, nor any other; choose hollows or everywhere';
  if (PLACES_AT_A_HEIGHT.includes(at))
    return fromMm < ground.sizeMm.height
      ? null
      : `the repeat is only ${Math.round(ground.sizeMm.height)} mm high, and it begins at ${Math.round(fromMm)} mm; make the repeat higher, or begin lower`;
  if (at === 'path')
    return fromMm < ground.sizeMm.width
      ? null
      : `the repeat is only ${Math.round(ground.sizeMm.width)} mm wide, and the path begins at ${Math.round(fromMm)} mm; make the repeat wider, or begin farther left`;
  if (at === 'everywhere' || at === 'run-off') return null;
  const { min, max } = yield* extentSteps(ground.height.data);
  return max - min >= FLAT_MM
    ? null
    : `the surface is flat and has no ${at}; choose everywhere, or give it relief first`;
}

/**
 * Where a layer may lie, and where it lies first.
 * @param turn lets others in where it is time; throws where the work is to stop
 */
export async function placeField(
  { at, part, reachMm, fromMm = 0, toMm = 0 }: LayerPlace,
  ground: Ground,
  parts: Surface['parts'],
  turn: () => Promise<void> = async () => undefined,
): Promise<PlaceField> {
  const { height, mm, occlusion } = ground;
  switch (at) {
    case 'everywhere':
      return { within: null, first: null };
    case 'part':
      return { within: (await parts.get(part!)!.get()).data, first: null };
    case 'hollows': {
      // Deep and enclosed: below its surroundings, and seeing little of the sky.
      const { data: low } = await inTurns(standingOutSteps(height, mm, { place: 'hollows', reachMm }), turn);
      return { within: null, first: low.map((v, i) => 0.7 * v + 0.9 * (1 - (occlusion?.data[i] ?? 1))) };
    }
    case 'arrises':
    case 'faces': {
      const { data } = await inTurns(standingOutSteps(height, mm, { place: at, reachMm }), turn);
      return { within: null, first: data };
    }
    case 'ledges': {
      const { y } = await inTurns(normalsSteps(height, mm), turn);
      return { within: null, first: y.map((up) => Math.max(0, up)) };
    }
    case 'run-off': {
      const { data } = await inTurns(runOffSteps(height, mm), turn);
      return { within: null, first: data.map((v) => 0.8 * Math.log(0.2 + v)) };
    }
    case 'path':
      return pathField(ground, fromMm, toMm);
    default:
      return zoneField(ground, at, fromMm, toMm);
  }
}

/** A band between two heights above the floor, with where in it the layer is densest. */
function zoneField(
  { height: { widthPx: w, heightPx: h }, mm }: Ground,
  at: string,
  fromMm: number,
  toMm: number,
): PlaceField {
  const within = new Float32Array(w * h);
  const first = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const up = (h - 0.5 - y) * mm.y;
    const t = (up - fromMm) / (toMm - fromMm);
    const inside = up >= fromMm && up <= toMm ? 1 : 0;
    // Splashes are densest at the floor, runs below the top; hands rub most in the middle.
    const dense = at === 'foot' ? 1 - t : at === 'top' ? t : 1 - Math.abs(2 * t - 1);
    within.fill(inside, y * w, (y + 1) * w);
    first.fill(inside ? 1.5 * smoothstep(0, 1, dense) : -1, y * w, (y + 1) * w);
  }
  return { within, first };
}

/** A path sways by this share of its width: nobody walks along a line. */
const SWAY = 0.1;
/** Its sides pass over within this share of its half width. */
const SIDE = 0.15;

/** A band that runs along the height of the repeat and closes over all edges, walked on most in its middle. */
function pathField(
  { height: { widthPx: w, heightPx: h }, mm, sizeMm }: Ground,
  fromMm: number,
  toMm: number,
): PlaceField {
  const within = new Float32Array(w * h);
  const first = new Float32Array(w * h);
  const half = (toMm - fromMm) / 2;
  for (let y = 0, i = 0; y < h; y++) {
    const turn = (2 * Math.PI * (y + 0.5)) / h;
    const sway = SWAY * half * (Math.sin(turn) + Math.sin(2 * turn + 1));
    for (let x = 0; x < w; x++, i++) {
      const off = (x + 0.5) * mm.x - (fromMm + half + sway);
      // The nearest of the paths of all repeats.
      const away = Math.abs(off - sizeMm.width * Math.round(off / sizeMm.width)) / half;
      within[i] = 1 - smoothstep(1 - SIDE, 1 + SIDE, away);
      first[i] = 1.5 * smoothstep(0, 1, 1 - away);
    }
  }
  return { within, first };
}
