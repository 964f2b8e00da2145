import { linearToSrgbBytes } from '../colour';
import type { MapName, RenderedFinish } from './result';

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

const eight = (v: number) => (v <= 0 ? 0 : v >= 1 ? 255 : Math.round(v * 255));
const sixteen = (v: number) => (v <= 0 ? 0 : v >= 1 ? 65535 : Math.round(v * 65535));

/**
 * Encodes one map of a finish, once and at the end. Colour is sRGB 8 bit; height 16 bit over its range; normals 8 bit
 * with y up; roughness, metalness and occlusion 8 bit data.
 * @throws RangeError when the map was not computed
 */
export function encodeMap(finish: RenderedFinish, name: MapName): EncodedMap {
  const { widthPx, heightPx } = finish;
  const n = widthPx * heightPx;
  const base = { name, widthPx, heightPx };
  const need = <T>(map: T | undefined): T => {
    if (map === undefined) throw new RangeError(`The map "${name}" was not computed.`);
    return map;
  };
  switch (name) {
    case 'colour': {
      const data = new Uint8Array(linearToSrgbBytes(finish.colour).buffer);
      return { ...base, channels: 3, bitDepth: 8, colourSpace: 'srgb', data };
    }
    case 'height': {
      const height = need(finish.height);
      const data = new Uint16Array(n);
      const scale = height.maxMm > height.minMm ? 1 / (height.maxMm - height.minMm) : 0;
      for (let i = 0; i < n; i++) data[i] = sixteen((height.data[i]! - height.minMm) * scale);
      return { ...base, channels: 1, bitDepth: 16, colourSpace: 'data', data };
    }
    case 'normal': {
      const { x, y, z } = need(finish.normal);
      const data = new Uint8Array(3 * n);
      for (let i = 0, k = 0; i < n; i++, k += 3) {
        data[k] = eight(0.5 + 0.5 * x[i]!);
        data[k + 1] = eight(0.5 + 0.5 * y[i]!);
        data[k + 2] = eight(0.5 + 0.5 * z[i]!);
      }
      return { ...base, channels: 3, bitDepth: 8, colourSpace: 'data', data };
    }
    case 'occlusion': {
      const plane = need(finish.occlusion);
      const data = new Uint8Array(n);
      for (let i = 0; i < n; i++) data[i] = eight(plane.data[i]!);
      return { ...base, channels: 1, bitDepth: 8, colourSpace: 'data', data };
    }
    case 'roughness':
    case 'metalness':
    case 'opacity': {
      const plane = finish.responseMaps[name];
      const value = name === 'opacity' ? 1 : finish[name];
      const data = new Uint8Array(n);
      if (plane) for (let i = 0; i < n; i++) data[i] = eight(plane.data[i]!);
      else data.fill(eight(value));
      return { ...base, channels: 1, bitDepth: 8, colourSpace: 'data', data };
    }
  }
}
