import type { ColourPicture } from '../raster';
import type { NormalField } from './normal';

/** From the upper left, 45° above the surface. */
const LIGHT = { x: -0.5, y: 0.5, z: Math.SQRT1_2 } as const;
/** Share of the light that comes evenly from all sides. */
const EVEN = 0.3;

/**
 * A picture as it looks with its relief under a light from the upper left; a level surface keeps its colour.
 * @param normal of the same pixels
 */
export function shadedByRelief(colour: ColourPicture, normal: NormalField): ColourPicture {
  const out = { ...colour, r: colour.r.slice(), g: colour.g.slice(), b: colour.b.slice() };
  for (let i = 0; i < out.r.length; i++) {
    const facing =
      Math.max(0, normal.x[i]! * LIGHT.x + normal.y[i]! * LIGHT.y + normal.z[i]! * LIGHT.z) / LIGHT.z;
    const shade = EVEN + (1 - EVEN) * facing;
    out.r[i]! *= shade;
    out.g[i]! *= shade;
    out.b[i]! *= shade;
  }
  return out;
}
