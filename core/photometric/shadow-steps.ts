import { luminanceOf, type Plane } from '../raster';
import type { NormalField } from '../relief';
import type { Steps } from '../steps';
import { incident, type Light } from './lights';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';

/**
 * Steps of a surface, told by the lengths of its shadows: which pixel stands how much higher than which. A camera above a joint
 * sees next to nothing of its walls, so slopes alone make it too shallow. But where a shadow ends, the ray to the light grazes
 * the edge that throws it: the edge stands higher than the end of its shadow by the length of the shadow times the rise of the
 * ray (Hatzitheodorou, "Shape from shadows: a Hilbert space setting", 1998; Daum, Dudek, "On 3-D surface reconstruction using
 * shape from shadows", 1998).
 */
export interface ShadowSteps {
  /** The pixel of the edge that throws a shadow, and the first behind it. */
  edge: Int32Array;
  behind: Int32Array;
  /** The pixel where the shadow ends. */
  end: Int32Array;
  /** How much higher the edge stands than the end, mm. */
  mm: Float32Array;
}

/** A place with less light than this, as a share of what a level face there would get, is not the end of a shadow. */
const LEAST_LIT = 0.3;
/** In its core a shadow has less than this; what never gets so dark is no cast shadow. */
const CORE = 0.3;
/** It is over where so much more arrives than in its core. */
const OVER = 0.2;
/**
 * A shadow ends halfway from its core to the light beyond it. It begins below halfway: an arris that curves away darkens
 * before it throws a shadow.
 */
const ENDS = 0.5;
const BEGINS = 0.4;
/** The light beyond the beginning is that of so many pixels. */
const BEYOND_PX = 2;
/** Light that is in shadows all the same, as a share. */
const STRAY = 0.08;
/** Shadows are followed so far, px; shorter ones tell no more than slopes. */
const LONGEST_PX = 60;
const SHORTEST_PX = 2;
/** Shadows that end on a face so steep that one pixel of it falls by this share of the step tell no step. */
const STEEP_SHARE = 0.3;

interface Px {
  x: number;
  y: number;
}
interface Shadow {
  edge: number;
  behind: number;
  lengthPx: number;
}

/**
 * @param set pictures of one size from one place
 * @param mmPerPx size of a pixel
 * @param known what is around the pixels by the last relief: reflectance tells shadows from what is dark
 */
export function* shadowSteps(
  set: readonly LitPicture[],
  { gains }: Brightness,
  mmPerPx: Px,
  known: Surroundings,
): Steps<ShadowSteps> {
  const [edge, behind, end, mm]: [number[], number[], number[], number[]] = [[], [], [], []];
  const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
  for (const [k, lit] of set.entries()) {
    yield;
    const open = openness(lit, gains[k]!, mmPerPx, known);
    forShadows(open, lit.light, mmPerPx, (at, shadow, rise) => {
      const fallMm = shadow.lengthPx * stepMm * rise;
      if (slopeAt(known.normal, at) * stepMm > STEEP_SHARE * fallMm) return;
      edge.push(shadow.edge);
      behind.push(shadow.behind);
      end.push(at);
      mm.push(fallMm);
    });
  }
  return {
    edge: Int32Array.from(edge),
    behind: Int32Array.from(behind),
    end: Int32Array.from(end),
    mm: Float32Array.from(mm),
  };
}

const LEAST_NZ = 0.05;

/** mm per mm. */
function slopeAt({ z }: NormalField, i: number): number {
  const nz = Math.max(LEAST_NZ, z[i]!);
  return Math.sqrt(Math.max(0, 1 - nz * nz)) / nz;
}

/** Place of a pixel from the middle of the picture, mm, y upwards. */
const placeOf = (x: number, y: number, { widthPx: w, heightPx: h }: Plane, mm: Px): Px => ({
  x: (x + 0.5 - w / 2) * mm.x,
  y: (h / 2 - y - 0.5) * mm.y,
});

/** How much of a light arrives at every pixel, as a share of what a level face there would get. */
function openness(
  { picture: { r, g, b }, light }: LitPicture,
  gain: number,
  mmPerPx: Px,
  { height, reflectance }: Surroundings,
): Plane {
  const open: Plane = { ...height, data: new Float32Array(height.data.length) };
  const s = new Float64Array(3);
  for (let i = 0; i < open.data.length; i++) {
    const { x, y } = placeOf(i % height.widthPx, Math.floor(i / height.widthPx), height, mmPerPx);
    incident(light, x, y, height.data[i]!, gain, s, 0);
    const level = luminanceOf(reflectance.r[i]!, reflectance.g[i]!, reflectance.b[i]!) * s[2]!;
    const read = luminanceOf(r[i]!, g[i]!, b[i]!);
    open.data[i] = level > 0 ? Math.max(0, (read / level - STRAY) / (1 - STRAY)) : 1;
  }
  return open;
}

/** Visits the end of every shadow. `rise` is that of the ray to the light, mm per mm. */
function forShadows(
  open: Plane,
  light: Light,
  mmPerPx: Px,
  visit: (end: number, shadow: Shadow, rise: number) => void,
): void {
  const { widthPx: w, heightPx: h, data } = open;
  const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
  const s = new Float64Array(3);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      if (data[i]! < LEAST_LIT) continue;
      const at = placeOf(x, y, open, mmPerPx);
      incident(light, at.x, at.y, 0, 1, s, 0);
      const across = Math.sqrt(s[0]! * s[0]! + s[1]! * s[1]!);
      if (across < 1e-9) continue;
      // Rows run down the picture.
      const step = {
        x: ((s[0]! / across) * stepMm) / mmPerPx.x,
        y: ((-s[1]! / across) * stepMm) / mmPerPx.y,
      };
      const shadow = shadowTowards(open, { x, y }, step);
      if (shadow) visit(i, shadow, s[2]! / across);
    }
}

/**
 * The shadow that lies between a place and the light, its length as a share of a pixel: both borders are where the light
 * crosses a level between that in the core of the shadow and that beyond it.
 * @param step one step towards the light, px
 * @returns null where there is none, or its edge is not seen
 */
function shadowTowards(open: Plane, from: Px, step: Px): Shadow | null {
  const along = alongRay(open, from, step);
  const [here, next] = [along.light(0), along.light(1)];
  const lit = Math.min(1, Math.max(here, along.light(-1) || 0));
  // Most places are not beside a shadow, however dark its core might be.
  if (!(next < CORE + ENDS * (lit - CORE))) return null;
  let core = 1;
  for (let t = 1; t <= LONGEST_PX; t++) {
    const light = along.light(t);
    if (Number.isNaN(light)) return null;
    core = Math.min(core, light);
    if (light < core + OVER) continue;
    if (core >= CORE) return null;
    const ends = core + ENDS * (lit - core);
    const beginning = beginningOf(along, t, core);
    if (!beginning || here < ends || next >= ends) return null;
    const lengthPx = beginning.t - (here - ends) / (here - next);
    return lengthPx >= SHORTEST_PX ? { ...beginning, lengthPx } : null;
  }
  return null;
}

/** Pixels on the way from a place to the light, and how much light arrives there: NaN outside the picture. */
function alongRay({ widthPx: w, heightPx: h, data }: Plane, from: Px, step: Px) {
  const pixel = (t: number): number => {
    const [x, y] = [Math.round(from.x + t * step.x), Math.round(from.y + t * step.y)];
    return x < 0 || y < 0 || x >= w || y >= h ? -1 : y * w + x;
  };
  const light = (t: number): number => {
    const i = pixel(t);
    return i < 0 ? NaN : data[i]!;
  };
  return { pixel, light };
}

/**
 * Where a shadow begins.
 * @param over the first step at which it is over
 * @param core light in its core
 */
function beginningOf({ pixel, light }: ReturnType<typeof alongRay>, over: number, core: number) {
  let beyond = light(over);
  for (let k = 1; k <= BEYOND_PX; k++) beyond = Math.max(beyond, light(over + k) || 0);
  const begins = core + BEGINS * (Math.min(1, beyond) - core);
  for (let t = over - 1; t <= over + BEYOND_PX; t++) {
    const here = light(t);
    if (!(here >= begins)) continue;
    const before = light(t - 1);
    const share = here > before ? Math.min(1, (here - begins) / (here - before)) : 0;
    return { edge: pixel(t), behind: pixel(t - 1), t: t - share };
  }
  return null;
}
