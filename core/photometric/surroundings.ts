import type { ColourPicture, Plane } from '../raster';
import { normalsOfHeight } from '../relief';
import type { Steps } from '../steps';
import { castShadows } from './cast-shadows';
import type { LitPicture, Surroundings } from './lit-picture';
import { reflectedLight } from './reflected-light';

/** What is around the pixels by a relief that is known so far. */
export function* surroundingsOf(
  set: readonly LitPicture[],
  height: Plane,
  reflectance: ColourPicture,
  mmPerPx: { x: number; y: number },
): Steps<Surroundings> {
  return {
    height,
    normal: normalsOfHeight(height, mmPerPx),
    shadow: yield* shadowsOf(height, set, mmPerPx),
    reflected: yield* reflectedLight(set, height, mmPerPx),
    reflectance,
  };
}

/** Shadows that a height throws under every light of a set. */
function* shadowsOf(
  height: Plane,
  set: readonly LitPicture[],
  mmPerPx: { x: number; y: number },
): Steps<Uint8Array[]> {
  const shadows: Uint8Array[] = [];
  for (const { light } of set) {
    shadows.push(castShadows(height, light, mmPerPx));
    yield;
  }
  return shadows;
}
