import { luminanceOf, type Plane } from '../raster';
import { incident, type Light } from './lights';
import type { Brightness, LitPicture, Surroundings } from './lit-picture';
import type { HeightDifferences } from './surface-from-slopes';

/**
 * Steps of a surface, told by the lengths of its shadows. A camera above a joint sees next to nothing of its walls, so slopes
 * alone make it too shallow. But where a shadow ends, the ray to the light grazes the edge that throws it: the edge stands
 * higher than the end of its shadow by the length of the shadow times the rise of the ray (Hatzitheodorou, "Shape from shadows:
 * a Hilbert space setting", 1998; Daum, Dudek, "On 3-D surface reconstruction using shape from shadows", 1998).
 */
export interface ShadowSteps {
  /** Between edges and the ends of their shadows. */
  differences: HeightDifferences;
  /** 1 where the surface falls away behind an edge: slopes read there do not tell how far. */
  edge: Uint8Array;
}

/** A shadow ends where so much of the light arrives that a level face there would get. */
const HALF_LIT = 0.5;
/** It begins where no more than this arrives: an arris that curves away darkens before it throws a shadow. */
const GRAZED = 0.2;
/** In its core there is less than this; what never gets so dark is no cast shadow. */
const CORE = 0.3;
/** Light that is in shadows all the same, as a share. */
const STRAY = 0.08;
/** Shadows are followed so far, px; shorter ones tell no more than slopes. */
const LONGEST_PX = 60;
const SHORTEST_PX = 2;

interface Px {
  x: number;
  y: number;
}
interface Shadow {
  /** The pixel of the edge that throws it, and the first behind that. */
  edge: number;
  behind: number;
  lengthPx: number;
}

/**
 * @param set pictures of one size from one place
 * @param mmPerPx size of a pixel on the sample
 * @param known what is around the pixels by the last relief: reflectance tells shadows from what is dark
 */
export function shadowSteps(
  set: readonly LitPicture[],
  { gains }: Brightness,
  mmPerPx: Px,
  known: Surroundings,
): ShadowSteps {
  const { widthPx, heightPx } = set[0]!.picture;
  const [high, low, mm]: [number[], number[], number[]] = [[], [], []];
  const edge = new Uint8Array(widthPx * heightPx);
  const stepMm = Math.min(mmPerPx.x, mmPerPx.y);
  set.forEach((lit, k) => {
    const open = openness(lit, gains[k]!, mmPerPx, known);
    forShadows(open, lit.light, mmPerPx, (end, shadow, rise) => {
      high.push(shadow.edge);
      low.push(end);
      mm.push(shadow.lengthPx * stepMm * rise);
      edge[shadow.edge] = edge[shadow.behind] = 1;
    });
  });
  const differences = { high: Int32Array.from(high), low: Int32Array.from(low), mm: Float32Array.from(mm) };
  return { differences, edge };
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
      if (data[i]! < HALF_LIT) continue;
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
 * The shadow that lies between a place and the light.
 * @param step one step towards the light, px
 * @returns null where there is none, or its edge is not seen
 */
function shadowTowards({ widthPx: w, heightPx: h, data }: Plane, from: Px, step: Px): Shadow | null {
  // What the last pixel lacks of light is shadow too.
  let lengthPx = 1 - Math.min(1, data[from.y * w + from.x]!);
  let darkest = 1;
  let behind = -1;
  for (let t = 1; t <= LONGEST_PX; t++) {
    const [x, y] = [Math.round(from.x + t * step.x), Math.round(from.y + t * step.y)];
    if (x < 0 || y < 0 || x >= w || y >= h) return null;
    const here = data[y * w + x]!;
    const begins = here >= (darkest < CORE ? GRAZED : HALF_LIT);
    if (begins)
      return darkest < CORE && lengthPx >= SHORTEST_PX ? { edge: y * w + x, behind, lengthPx } : null;
    darkest = Math.min(darkest, here);
    lengthPx += 1 - here;
    behind = y * w + x;
  }
  return null;
}
