import { linearToSrgbBytes } from '../colour';
import { percentiles, type ColourPicture, type Plane } from '../raster';
import type { HeightField, NormalField } from '../relief';
import type { Surface } from '../surface';
import type { Recipe } from './recipe';

/** All maps that a finish can be handed over as: how each is computed, and how it is written to a file. */

/** What the maps hold, before they are encoded. */
export interface RenderedMaps {
  /** Linear light; may leave 0–1. */
  colour: ColourPicture;
  height: HeightField;
  normal: NormalField;
  /** One value everywhere, or a plane; 0–1. */
  roughness: number | Plane;
  metalness: number | Plane;
  occlusion: Plane;
  opacity: number | Plane;
  /** 1/mm. */
  curvature: Plane;
  /** Number of the piece of each pixel from 1; 0 everywhere where there are no pieces. */
  piece: number | Int32Array;
  /** Number of the part of each pixel from 1, in the order in which parts come; 0: of none. */
  part: number | Uint8Array;
}
export type MapName = keyof RenderedMaps;

/** One map, ready to be written to a file: rows from the top, channels interleaved. */
export interface EncodedMap {
  name: MapName;
  widthPx: number;
  heightPx: number;
  channels: 1 | 3;
  bitDepth: 8 | 16;
  colourSpace: 'srgb' | 'data';
  data: Uint8Array | Uint16Array;
}

interface MapKind<T> {
  /** What it is called beside a picture of it. */
  title: string;
  channels: 1 | 3;
  bitDepth: 8 | 16;
  colourSpace: 'srgb' | 'data';
  /** Whether it is handed over without being asked for. */
  usual: (recipe: Recipe) => boolean;
  compute: (surface: Surface) => Promise<T>;
  encode: (map: T, pixels: number) => Uint8Array | Uint16Array;
}

// Of floats of 32 bits these round as Math.round does, and several times faster.
const eight = (v: number) => (v > 0 ? (v < 1 ? (v * 255 + 0.5) | 0 : 255) : 0);
const sixteen = (v: number) => (v > 0 ? (v < 1 ? (v * 65535 + 0.5) | 0 : 65535) : 0);
const always = () => true;
const asked = () => false;

/** A field that may be one value everywhere. */
const evenField =
  (name: 'roughness' | 'metalness' | 'opacity') =>
  async ({ fields }: Surface): Promise<number | Plane> => {
    const field = fields[name]!;
    return typeof field === 'number' ? field : field.get();
  };

// Loops are written out: a function called for every pixel takes three times as long.

function encodeEven(map: number | Plane, pixels: number): Uint8Array {
  const out = new Uint8Array(pixels);
  if (typeof map === 'number') return out.fill(eight(map));
  const { data } = map;
  for (let i = 0; i < pixels; i++) out[i] = eight(data[i]!);
  return out;
}

/** Values from `zero`, which becomes 0, in steps of which `scale` make up the whole range. */
function encodeRange(data: Float32Array, zero: number, scale: number): Uint16Array {
  const out = new Uint16Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = sixteen((data[i]! - zero) * scale);
  return out;
}

const even = (
  title: string,
  name: 'roughness' | 'metalness' | 'opacity',
  usual: (recipe: Recipe) => boolean,
): MapKind<number | Plane> => ({
  title,
  channels: 1,
  bitDepth: 8,
  colourSpace: 'data',
  usual,
  compute: evenField(name),
  encode: encodeEven,
});

/** Every map by its name. Adding a map is adding an entry. */
export const MAPS: { readonly [N in MapName]: MapKind<RenderedMaps[N]> } = {
  colour: {
    title: 'colour',
    channels: 3,
    bitDepth: 8,
    colourSpace: 'srgb',
    usual: always,
    compute: ({ fields }) => fields.colour!.get(),
    encode: (map) => new Uint8Array(linearToSrgbBytes(map).buffer),
  },
  height: {
    title: 'height',
    channels: 1,
    bitDepth: 16,
    colourSpace: 'data',
    usual: always,
    compute: ({ fields }) => fields.height!.get(),
    encode: ({ data, minMm, maxMm }) => encodeRange(data, minMm, maxMm > minMm ? 1 / (maxMm - minMm) : 0),
  },
  normal: {
    title: 'normals',
    channels: 3,
    bitDepth: 8,
    colourSpace: 'data',
    usual: always,
    compute: ({ fields }) => fields.normal!.get(),
    encode: ({ x, y, z }) => {
      const out = new Uint8Array(3 * x.length);
      for (let i = 0, k = 0; i < x.length; i++, k += 3) {
        out[k] = eight(0.5 + 0.5 * x[i]!);
        out[k + 1] = eight(0.5 + 0.5 * y[i]!);
        out[k + 2] = eight(0.5 + 0.5 * z[i]!);
      }
      return out;
    },
  },
  roughness: even('roughness', 'roughness', always),
  metalness: even('metalness', 'metalness', always),
  occlusion: {
    title: 'occlusion',
    channels: 1,
    bitDepth: 8,
    colourSpace: 'data',
    usual: always,
    compute: ({ fields }) => fields.occlusion!.get(),
    encode: encodeEven,
  },
  // Opaque finishes are handed over without it.
  opacity: even(
    'opacity',
    'opacity',
    ({ sources, response }) =>
      Boolean(response.openness) || sources.some((s) => s.maps.some((m) => m.role === 'opacity')),
  ),
  curvature: {
    title: 'curvature',
    channels: 1,
    bitDepth: 16,
    colourSpace: 'data',
    usual: asked,
    compute: ({ fields }) => fields.curvature!.get(),
    encode: ({ data }) => {
      const most = mostCurved(data);
      return Uint16Array.from(data, (v) => sixteen(0.5 + (0.5 * v) / most));
    },
  },
  piece: {
    title: 'pieces',
    channels: 1,
    bitDepth: 16,
    colourSpace: 'data',
    usual: asked,
    compute: async ({ pieces }) => (await pieces.get()) ?? 0,
    encode: (map, pixels) =>
      typeof map === 'number' ? new Uint16Array(pixels) : Uint16Array.from(map, (number) => number + 1),
  },
  part: {
    title: 'parts',
    channels: 1,
    bitDepth: 8,
    colourSpace: 'data',
    usual: asked,
    compute: partNumbers,
    encode: (map, pixels) => (typeof map === 'number' ? new Uint8Array(pixels) : map),
  },
};

export const MAP_NAMES = Object.keys(MAPS) as [MapName, ...MapName[]];

/** Curvature that becomes white, and with its sign turned black: the 99.9th percentile of its magnitude, 1/mm. */
export function mostCurved(data: Float32Array): number {
  const [most] = percentiles(
    data.map((v) => Math.abs(v)),
    [0.999],
  ) as [number];
  return Math.max(1e-6, most);
}

/** The maps that a finish is handed over as. */
export const mapsOf = (recipe: Recipe): MapName[] => MAP_NAMES.filter((name) => MAPS[name].usual(recipe));

/** Number of the part that covers most of each pixel, and at least half of it. */
async function partNumbers({ parts, px }: Surface): Promise<number | Uint8Array> {
  if (parts.size === 0) return 0;
  const out = new Uint8Array(px.width * px.height);
  const most = new Float32Array(out.length).fill(0.5);
  let number = 0;
  for (const part of parts.values()) {
    number++;
    const { data } = await part.get();
    for (let i = 0; i < out.length; i++) {
      if (data[i]! < most[i]!) continue;
      most[i] = data[i]!;
      out[i] = number;
    }
  }
  return out;
}

/** Encodes one map of a rendered finish, once and at the end. */
export function encodeMap<N extends MapName>(
  finish: { widthPx: number; heightPx: number; maps: Pick<RenderedMaps, N> },
  name: N,
): EncodedMap {
  const { widthPx, heightPx, maps } = finish;
  const { channels, bitDepth, colourSpace, encode } = MAPS[name];
  const data = encode(maps[name], widthPx * heightPx);
  return { name, widthPx, heightPx, channels, bitDepth, colourSpace, data };
}
