import type { ColourPicture, Plane } from '../raster';
import type { NormalField } from '../relief';
import type { Light } from './lights';
import type { Lobe } from './sheen';

/** A picture of a sample under one light; all pictures of a set are taken from one place. */
export interface LitPicture {
  /** Linear light. */
  picture: ColourPicture;
  light: Light;
}

/** How bright the lights are beside what was said, and what the surface mirrors of them. */
export interface Brightness {
  gains: readonly number[];
  /** What the whole surface mirrors besides; glare that stands out is not in it. */
  lobes: readonly Lobe[];
  /** From the camera to the middle of the picture. */
  cameraMm: number;
}

/** Light that reaches a surface by reflection from itself. */
export interface ReflectedLight {
  /** What a perfect white reads by it, linear: of every pixel red, green and blue under each light. No larger than the pictures. */
  light: Float32Array;
  /** 0–1: cosine-weighted share of the hemisphere that the surface itself takes up. */
  enclosed: Plane;
}

/** What is known of the light at each pixel beyond where the lights stand. */
export interface Surroundings {
  /** Height of the surface, mm: near lights are nearer to what stands out. */
  height: Plane;
  normal: NormalField;
  /** 1 where the relief itself throws a shadow, for every light. */
  shadow: readonly Uint8Array[];
  reflected: ReflectedLight;
  reflectance: ColourPicture;
}
