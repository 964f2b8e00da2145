import { linearToSrgb8 } from '@jossel/core/colour';
import {
  blurWrapped,
  gradientNoise,
  mapChannels,
  seededRandom,
  type ColourPicture,
} from '@jossel/core/raster';
import { normalsOfHeight, occlusionOfHeight } from '@jossel/core/relief';
import type { PhysicalSurface } from '../standins/physical/surface';

export interface Camera {
  /** How low the lamp stands: 0 straight above, 90 grazing. */
  lampDeg: number;
  /** Where the lamp stands, 0 = right, 90 = top. */
  lampFromDeg: number;
  /** Share of the light that comes from everywhere. */
  ambient: number;
  /** Loss of light towards the corners, 0–1. */
  fallOff: number;
  exposure: number;
  noise: number;
  seed: number;
  /** Relief in the light, relative to the true relief (a photographer's raking light). */
  modelling?: number;
}

/** A picture of a generated finish as a careful photographer takes it: lit, slightly soft, with a little noise. 8-bit sRGB. */
export function photograph(
  surface: PhysicalSurface,
  camera: Camera,
): { widthPx: number; heightPx: number; pixels: Uint8Array } {
  const { widthPx: w, heightPx: h } = surface.colour;
  const mm = { x: surface.widthMm / w, y: surface.heightMm / h };
  const relief = {
    widthPx: w,
    heightPx: h,
    data: surface.heightMmPlane.data.map((v) => v * (camera.modelling ?? 1)),
  };
  const normals = normalsOfHeight(relief, mm);
  const sky = occlusionOfHeight(relief, normals, mm, 12);
  const rad = Math.PI / 180;
  const lamp = [
    Math.sin(camera.lampDeg * rad) * Math.cos(camera.lampFromDeg * rad),
    Math.sin(camera.lampDeg * rad) * Math.sin(camera.lampFromDeg * rad),
    Math.cos(camera.lampDeg * rad),
  ] as const;
  const lit: ColourPicture = {
    widthPx: w,
    heightPx: h,
    r: new Float32Array(w * h),
    g: new Float32Array(w * h),
    b: new Float32Array(w * h),
  };
  for (let i = 0; i < w * h; i++) {
    const x = (i % w) / w - 0.5;
    const y = Math.floor(i / w) / h - 0.5;
    const key =
      Math.max(0, normals.x[i]! * lamp[0] + normals.y[i]! * lamp[1] + normals.z[i]! * lamp[2]) / lamp[2];
    const corner = 1 - camera.fallOff * (x * x + y * y) * 2 - 0.3 * camera.fallOff * x;
    const light = camera.exposure * corner * (camera.ambient * sky.data[i]! + (1 - camera.ambient) * key);
    lit.r[i] = surface.colour.r[i]! * light;
    lit.g[i] = surface.colour.g[i]! * light;
    lit.b[i] = surface.colour.b[i]! * light;
  }
  const soft = mapChannels(lit, (plane) => blurWrapped(plane, 0.55, 0.55));
  const random = seededRandom(camera.seed);
  const pixels = new Uint8Array(3 * w * h);
  for (let i = 0; i < w * h; i++) {
    const level = Math.sqrt(Math.max(0, soft.g[i]!));
    const n =
      camera.noise * random.normal() * (0.25 + level) +
      0.3 * camera.noise * gradientNoise((i % w) / w, i / w / h, w >> 2, h >> 2, camera.seed);
    const warm = 0.3 * camera.noise * random.normal();
    pixels[3 * i] = linearToSrgb8(soft.r[i]! + n + warm);
    pixels[3 * i + 1] = linearToSrgb8(soft.g[i]! + n);
    pixels[3 * i + 2] = linearToSrgb8(soft.b[i]! + n - warm);
  }
  return { widthPx: w, heightPx: h, pixels };
}
