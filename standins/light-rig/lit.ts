import {
  blurWrapped,
  halve,
  makeColourPicture,
  makePlane,
  mapChannels,
  type ColourPicture,
  type Plane,
} from '@jossel/core/raster';
import type { PhysicalSurface } from '../physical/surface';
import { normalsOfHeight, type NormalField } from '@jossel/core/relief';
import { roughnessOfGloss } from '@jossel/core/response';

/** How a sample looks under one lamp: direct light, cast shadows, glare, and light from face to face. Places in mm, x right, y up, z out of the sample, from its middle. */

export type Vector = readonly [number, number, number];

/** Alpha of GGX by whole gloss units. */
const ALPHAS = Float32Array.from({ length: 101 }, (_, gu) =>
  Math.max(
    0.03,
    roughnessOfGloss(Math.min(95, Math.max(0.2, gu)), { kind: 'dielectric', index: 1.5 }).roughness ** 2,
  ),
);
const F0 = 0.04;
/** The bulb is no point: cosine of half the angle that it is seen under, as a least roughness. */
const BULB_ALPHA = 0.06;
/** Corners of a square that stands for the lamp, for soft edges of shadows, in lamp radii. */
const LAMP_CORNERS = [
  [-0.7, -0.7],
  [0.7, -0.7],
  [-0.7, 0.7],
  [0.7, 0.7],
] as const;

/** A lamp: where it stands, how large it is, and what a perfect white in the middle reads when it faces it. */
export interface Lamp {
  at: Vector;
  radiusMm: number;
  strength: number;
}

/**
 * What the camera sees of a sample under each of some lamps, texel by texel.
 * @param eye where the camera is
 */
export function lit(surface: PhysicalSurface, lamps: readonly Lamp[], eye: Vector): ColourPicture[] {
  const { colour, heightMmPlane: height } = surface;
  const mm = { x: surface.widthMm / colour.widthPx, y: surface.heightMm / colour.heightPx };
  const normal = normalsOfHeight(height, mm);
  const direct = lamps.map((lamp) => directLight(surface, normal, lamp, eye, mm));
  const bounced = fromFaceToFace(
    surface,
    direct.map(({ arriving }) => arriving),
    mm,
  );
  return lamps.map(({ strength }, k) => {
    const { arriving, glare } = direct[k]!;
    const add = (c: 'r' | 'g' | 'b') =>
      colour[c].map(
        (v, i) => v * (arriving.data[i]! + bounced[k]![c][i]! + STRAY * strength) + glare.data[i]!,
      );
    return { ...colour, r: add('r'), g: add('g'), b: add('b') };
  });
}

/** Light of one lamp that arrives at every texel, and what of it is mirrored into the camera. */
function directLight(
  { colour: { widthPx: w, heightPx: h }, heightMmPlane: height, glossGu }: PhysicalSurface,
  normal: NormalField,
  lamp: Lamp,
  eye: Vector,
  mm: { x: number; y: number },
): { arriving: Plane; glare: Plane } {
  const [arriving, glare] = [makePlane(w, h), makePlane(w, h)];
  const norm = lamp.at[0] ** 2 + lamp.at[1] ** 2 + lamp.at[2] ** 2;
  const shade = shadowOf(height, lamp, mm);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const [px, py, pz] = [(x + 0.5 - w / 2) * mm.x, (h / 2 - y - 0.5) * mm.y, height.data[i]!];
      const [lx, ly, lz] = [lamp.at[0] - px, lamp.at[1] - py, lamp.at[2] - pz];
      const ll = Math.sqrt(lx * lx + ly * ly + lz * lz);
      const [nx, ny, nz] = [normal.x[i]!, normal.y[i]!, normal.z[i]!];
      const nl = (nx * lx + ny * ly + nz * lz) / ll;
      if (nl <= 0 || shade.data[i] === 0) continue;
      const arrives = (lamp.strength * norm * shade.data[i]!) / (ll * ll);
      arriving.data[i] = arrives * nl;
      const [vx, vy, vz] = [eye[0] - px, eye[1] - py, eye[2] - pz];
      const vl = Math.sqrt(vx * vx + vy * vy + vz * vz);
      const nv = Math.max(0.05, (nx * vx + ny * vy + nz * vz) / vl);
      const [hx, hy, hz] = [lx / ll + vx / vl, ly / ll + vy / vl, lz / ll + vz / vl];
      const hl = Math.sqrt(hx * hx + hy * hy + hz * hz);
      const nh = Math.max(0, (nx * hx + ny * hy + nz * hz) / hl);
      const vh = Math.max(0, (vx * hx + vy * hy + vz * hz) / (vl * hl));
      // GGX with its height-correlated masking (Walter et al. 2007; Heitz 2014).
      const a = Math.max(BULB_ALPHA, ALPHAS[Math.min(100, Math.max(0, Math.round(glossGu.data[i]!)))]!);
      const a2 = a * a;
      const d = a2 / (nh * nh * (a2 - 1) + 1) ** 2;
      const g = 0.5 / (nl * Math.sqrt(nv * nv * (1 - a2) + a2) + nv * Math.sqrt(nl * nl * (1 - a2) + a2));
      const f = F0 + (1 - F0) * (1 - vh) ** 5;
      // Readings are those of a white, whose radiance is the light that arrives over pi.
      glare.data[i] = arrives * nl * d * g * f;
    }
  return { arriving, glare };
}

/** Light of the dark room. */
const STRAY = 0.004;

/** Share of a lamp of some size that is seen from every place. */
function shadowOf(height: Plane, { at: lamp, radiusMm }: Lamp, mm: { x: number; y: number }): Plane {
  const { widthPx: w, heightPx: h } = height;
  const out = makePlane(w, h);
  const blocks = blocksOf(height);
  const stepMm = Math.min(mm.x, mm.y);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      let seen = 0;
      for (const corner of LAMP_CORNERS) {
        const dx = lamp[0] + corner[0] * radiusMm - (x + 0.5 - w / 2) * mm.x;
        const dy = lamp[1] + corner[1] * radiusMm - (h / 2 - y - 0.5) * mm.y;
        const across = Math.sqrt(dx * dx + dy * dy);
        const rise = ((lamp[2] - height.data[i]!) / across) * stepMm;
        const sx = ((dx / across) * stepMm) / mm.x;
        const sy = ((-dy / across) * stepMm) / mm.y;
        if (isFree(height, blocks, x, y, sx, sy, rise)) seen += 1 / LAMP_CORNERS.length;
      }
      out.data[i] = seen;
    }
  return out;
}

/** The highest point of every block of texels, of those that are read with it, and of all. */
interface Blocks {
  across: number;
  highest: Float32Array;
  top: number;
}
const BLOCK = 16;

function blocksOf({ widthPx: w, heightPx: h, data }: Plane): Blocks {
  const across = Math.ceil(w / BLOCK);
  const highest = new Float32Array(across * Math.ceil(h / BLOCK)).fill(-Infinity);
  let top = -Infinity;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      // A place is read from the texel to its right and the row below as well.
      const at = y * w + x;
      const right = x + 1 < w ? at + 1 : at;
      const below = y + 1 < h ? w : 0;
      const most = Math.max(data[at]!, data[right]!, data[at + below]!, data[right + below]!);
      const block = Math.floor(y / BLOCK) * across + Math.floor(x / BLOCK);
      if (most > highest[block]!) highest[block] = most;
      if (most > top) top = most;
    }
  return { across, highest, top };
}

/** Whether nothing stands in a ray that leaves a texel and rises at every step; blocks that lie below it are passed over at once. */
function isFree(
  { widthPx: w, heightPx: h, data }: Plane,
  { across, highest, top }: Blocks,
  x: number,
  y: number,
  sx: number,
  sy: number,
  rise: number,
): boolean {
  const own = data[y * w + x]!;
  for (let k = 1; own + k * rise < top; k++) {
    const fx = x + k * sx;
    const fy = y + k * sy;
    const x0 = Math.floor(fx);
    const y0 = Math.floor(fy);
    if (x0 < 0 || y0 < 0 || x0 + 1 >= w || y0 + 1 >= h) return true;
    const column = Math.floor(x0 / BLOCK);
    const row = Math.floor(y0 / BLOCK);
    if (highest[row * across + column]! <= own + k * rise) {
      const alongX = sx > 0 ? (BLOCK * (column + 1) - fx) / sx : (BLOCK * column - fx) / sx;
      const alongY = sy > 0 ? (BLOCK * (row + 1) - fy) / sy : (BLOCK * row - fy) / sy;
      // The step that leaves the block is the next to be looked at.
      k += Math.max(0, Math.floor(Math.min(alongX, alongY)) - 1);
      continue;
    }
    const tx = fx - x0;
    const ty = fy - y0;
    const at = y0 * w + x0;
    const there =
      (data[at]! * (1 - tx) + data[at + 1]! * tx) * (1 - ty) +
      (data[at + w]! * (1 - tx) + data[at + w + 1]! * tx) * ty;
    if (there > own + k * rise + 1e-4) return false;
  }
  return true;
}

/** Light is gathered from face to face among so many texels at most. */
const MOST_TEXELS = 1_000_000;
/** It is looked for in so many directions all around, so far. */
const DIRECTIONS = 160;
const REACH_MM = 40;
/** So often light goes from face to face. */
const BOUNCES = 3;

/** Light that every place gets from the faces around it under each lamp: rays are followed to the face that they meet first. */
function fromFaceToFace(
  surface: PhysicalSurface,
  arriving: readonly Plane[],
  mm: { x: number; y: number },
): ColourPicture[] {
  let { heightMmPlane: height, colour } = surface;
  let direct = [...arriving];
  let size = mm;
  while (height.widthPx * height.heightPx > MOST_TEXELS) {
    const before = height;
    height = halve(height);
    colour = mapChannels(colour, halve);
    direct = direct.map(halve);
    size = { x: (size.x * before.widthPx) / height.widthPx, y: (size.y * before.heightPx) / height.heightPx };
  }
  const met = facesMet(height, size);
  let bounced = direct.map(() => makeColourPicture(height.widthPx, height.heightPx));
  for (let bounce = 0; bounce < BOUNCES; bounce++)
    bounced = bounced.map((before, k) =>
      gathered(
        met,
        mapChannelsOf(colour, before, (v, b, i) => v * (direct[k]!.data[i]! + b)),
      ),
    );
  return bounced.map((light) =>
    mapChannels(light, (plane) =>
      widened(blurWrapped(plane, 0.5, 0.5), surface.colour.widthPx, surface.colour.heightPx),
    ),
  );
}

function mapChannelsOf(
  a: ColourPicture,
  b: ColourPicture,
  of: (a: number, b: number, i: number) => number,
): ColourPicture {
  const channel = (c: 'r' | 'g' | 'b') => a[c].map((v, i) => of(v, b[c][i]!, i));
  return { ...a, r: channel('r'), g: channel('g'), b: channel('b') };
}

/** Which texels are seen from which in one direction, and how much of their light arrives. */
interface FacesMet {
  from: Int32Array;
  to: Int32Array;
  share: Float32Array;
}

/** What is met in every direction. */
function facesMet(height: Plane, size: { x: number; y: number }): FacesMet[] {
  const normal = normalsOfHeight(height, size);
  let top = -Infinity;
  for (const v of height.data) if (v > top) top = v;
  return directionsAround().map((direction) => metAlong(height, normal, size, top, direction));
}

function metAlong(
  { widthPx: w, heightPx: h, data }: Plane,
  n: NormalField,
  size: { x: number; y: number },
  top: number,
  [dx, dy, dz]: Vector,
): FacesMet {
  const stepMm = Math.min(size.x, size.y);
  const reach = Math.ceil(REACH_MM / stepMm);
  const across = Math.hypot(dx, dy);
  const [sx, sy] = [((dx / across) * stepMm) / size.x, ((-dy / across) * stepMm) / size.y];
  const rise = (dz / across) * stepMm;
  const [from, to, share] = [new Int32Array(w * h), new Int32Array(w * h), new Float32Array(w * h)];
  let count = 0;
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const cos = n.x[i]! * dx + n.y[i]! * dy + n.z[i]! * dz;
      if (cos <= 0) continue;
      for (let k = 1, z = data[i]! + rise; k <= reach && z < top; k++, z += rise) {
        const [px, py] = [Math.round(x + k * sx), Math.round(y + k * sy)];
        if (px < 0 || py < 0 || px >= w || py >= h) break;
        const j = py * w + px;
        if (data[j]! <= z) continue;
        // A back is met where the ray leaves the relief: nothing comes from there.
        if (n.x[j]! * dx + n.y[j]! * dy + n.z[j]! * dz < 0) {
          from[count] = j;
          to[count] = i;
          share[count++] = (4 * cos) / DIRECTIONS;
        }
        break;
      }
    }
  return { from: from.slice(0, count), to: to.slice(0, count), share: share.slice(0, count) };
}

/** Directions spread evenly over a sphere (Fibonacci lattice). */
const directionsAround = (): Vector[] =>
  Array.from({ length: DIRECTIONS }, (_, k) => {
    const z = 1 - (2 * k + 1) / DIRECTIONS;
    const turn = Math.PI * (3 - Math.sqrt(5)) * k;
    const across = Math.sqrt(1 - z * z);
    return [across * Math.cos(turn), across * Math.sin(turn), z];
  });

function gathered(met: readonly FacesMet[], glow: ColourPicture): ColourPicture {
  const out = makeColourPicture(glow.widthPx, glow.heightPx);
  for (const { from, to, share } of met)
    for (let k = 0; k < from.length; k++) {
      const j = from[k]!;
      const i = to[k]!;
      out.r[i]! += share[k]! * glow.r[j]!;
      out.g[i]! += share[k]! * glow.g[j]!;
      out.b[i]! += share[k]! * glow.b[j]!;
    }
  return out;
}

/** Bilinear. */
function widened(plane: Plane, widthPx: number, heightPx: number): Plane {
  const out = makePlane(widthPx, heightPx);
  for (let y = 0, i = 0; y < heightPx; y++) {
    const fy = Math.min(plane.heightPx - 1, Math.max(0, ((y + 0.5) * plane.heightPx) / heightPx - 0.5));
    const y0 = Math.min(plane.heightPx - 2, Math.floor(fy));
    for (let x = 0; x < widthPx; x++, i++) {
      const fx = Math.min(plane.widthPx - 1, Math.max(0, ((x + 0.5) * plane.widthPx) / widthPx - 0.5));
      const x0 = Math.min(plane.widthPx - 2, Math.floor(fx));
      const at = y0 * plane.widthPx + x0;
      const [tx, ty] = [fx - x0, fy - y0];
      out.data[i] =
        (plane.data[at]! * (1 - tx) + plane.data[at + 1]! * tx) * (1 - ty) +
        (plane.data[at + plane.widthPx]! * (1 - tx) + plane.data[at + plane.widthPx + 1]! * tx) * ty;
    }
  }
  return out;
}
