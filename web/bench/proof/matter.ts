import * as THREE from 'three';
import { FORM_TABLE, merged, NEUTRALS, type FormName, type Matter } from '@jossel/core/proof';

/** Meshes of a form for the draft, one to each matter; the places on the finish are kept in mm. */
export interface DraftMesh {
  of: Matter;
  geometry: THREE.BufferGeometry;
}

const built = new Map<string, DraftMesh[]>();

/**
 * The form as geometry; built once.
 * @param wallMm height of the wall that the finish is for; null: it repeats upwards
 */
export function draftOf(form: FormName, wallMm: number | null): DraftMesh[] {
  const key = `${form} ${wallMm}`;
  const known = built.get(key);
  if (known) return known;
  const high = wallMm === null ? undefined : wallMm / 1000;
  const meshes = merged(FORM_TABLE[form].build(high)).map(({ of, positions, normals, uvMm, index }) => {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    geometry.setAttribute('uv', new THREE.BufferAttribute(uvMm, 2));
    geometry.setIndex(new THREE.BufferAttribute(index, 1));
    return { of, geometry };
  });
  built.set(key, meshes);
  return meshes;
}

/** Neutral matter: perfectly matt, of known reflectance. */
export const NEUTRAL_MATERIALS = Object.fromEntries(
  Object.entries(NEUTRALS).map(([name, reflectance]) => [
    name,
    new THREE.MeshPhysicalMaterial({
      color: new THREE.Color(reflectance, reflectance, reflectance),
      roughness: 1,
      specularIntensity: 0,
      side: THREE.DoubleSide,
    }),
  ]),
) as Record<keyof typeof NEUTRALS, THREE.MeshPhysicalMaterial>;
