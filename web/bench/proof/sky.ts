import * as THREE from 'three';
import { LIGHT_TABLE, meetsLamp, placedLamp, type TurnedLight } from '@jossel/core/proof';
import type { Vector } from '@jossel/core/vector';

const WIDE = 256;
const HIGH = 128;

/**
 * What is all around as a texture for the draft: the surroundings and, where the lamp is as large as a window, the lamp too.
 * A lamp that is a point to the eye is a light of its own.
 * @param exposure what 1 cd/m² is shown as
 */
export function skyTexture(
  renderer: THREE.WebGLRenderer,
  light: TurnedLight,
  exposure: number,
): THREE.Texture {
  const { around } = LIGHT_TABLE[light.name];
  const lamp = placedLamp(light);
  const data = new Float32Array(4 * WIDE * HIGH);
  for (let y = 0, k = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, k += 4) {
      // Rows from below; the middle column looks along −z… as three unwraps a sphere.
      const up = Math.sin(Math.PI * ((y + 0.5) / HIGH - 0.5));
      const flat = Math.sqrt(1 - up * up);
      const angle = 2 * Math.PI * ((x + 0.5) / WIDE - 0.5);
      const direction: Vector = [flat * Math.cos(angle), up, flat * Math.sin(angle)];
      const seen = lamp?.window && meetsLamp(lamp, direction) ? lamp.luminance : around(up);
      data[k] = data[k + 1] = data[k + 2] = exposure * seen;
      data[k + 3] = 1;
    }
  const flat = new THREE.DataTexture(data, WIDE, HIGH, THREE.RGBAFormat, THREE.FloatType);
  flat.mapping = THREE.EquirectangularReflectionMapping;
  flat.needsUpdate = true;
  const generator = new THREE.PMREMGenerator(renderer);
  const { texture } = generator.fromEquirectangular(flat);
  generator.dispose();
  flat.dispose();
  return texture;
}
