import { useThree } from '@react-three/fiber';
import { useEffect, useLayoutEffect, useMemo } from 'react';
import * as THREE from 'three';
import type { Drawn } from '../../workers/render.worker';
import type { BenchState } from '../bench-slice';
import { useAppSelector } from '../../app/store';
import { extentMm } from './forms';

function dataTexture(
  data: Uint8ClampedArray<ArrayBuffer> | Float32Array<ArrayBuffer>,
  drawn: Drawn,
  format: THREE.PixelFormat,
  colourSpace: string,
): THREE.DataTexture {
  const bytes =
    data instanceof Float32Array ? data : new Uint8Array(data.buffer, data.byteOffset, data.length);
  const texture = new THREE.DataTexture(
    bytes,
    drawn.widthPx,
    drawn.heightPx,
    format,
    data instanceof Float32Array ? THREE.FloatType : THREE.UnsignedByteType,
  );
  texture.colorSpace = colourSpace;
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.flipY = true; // rows come from the top
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = data instanceof Float32Array ? THREE.LinearFilter : THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = !(data instanceof Float32Array);
  texture.anisotropy = 8;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  return texture;
}

/** A texture of data; null where there are none. */
const textureOf = (data: Uint8ClampedArray<ArrayBuffer> | null | undefined, drawn: Drawn) =>
  data ? dataTexture(data, drawn, THREE.RGBAFormat, THREE.NoColorSpace) : null;

/** The finish as a physical material at true size on a form. */
export function useFinishMaterial(drawn: Drawn, form: BenchState['form']): THREE.MeshPhysicalMaterial {
  const { invalidate } = useThree();
  const response = useAppSelector((s) => s.draft.recipe?.response);
  const base = response?.base;
  const metal = base?.kind === 'metal';
  const coatLevels = response?.coat?.levels ?? true;
  const index = base?.kind === 'dielectric' ? base.index.value : 1.5;
  const textures = useMemo(
    () => ({
      colour: dataTexture(drawn.colour, drawn, THREE.RGBAFormat, THREE.SRGBColorSpace),
      normal: dataTexture(drawn.normal, drawn, THREE.RGBAFormat, THREE.NoColorSpace),
      occlusion: textureOf(drawn.occlusion, drawn),
      roughness: textureOf(drawn.uneven.roughness, drawn),
      metalness: textureOf(drawn.uneven.metalness, drawn),
      height: dataTexture(drawn.heightMm, drawn, THREE.RedFormat, THREE.NoColorSpace),
    }),
    [drawn],
  );
  useEffect(() => () => Object.values(textures).forEach((t) => t?.dispose()), [textures]);
  // One material for all drafts: its programs are built once, not anew for each.
  const material = useMemo(() => new THREE.MeshPhysicalMaterial(), []);
  useEffect(() => () => material.dispose(), [material]);
  useLayoutEffect(() => {
    const { u, v } = extentMm(form);
    for (const texture of Object.values(textures))
      texture?.repeat.set(u / drawn.report.repeatMm.width, v / drawn.report.repeatMm.height);
    const displaced = form === 'panel' ? textures.height : null;
    const coatNormals = drawn.report.coat && !coatLevels ? textures.normal : null;
    const otherMaps =
      Boolean(material.map) !== Boolean(textures.colour) ||
      Boolean(material.aoMap) !== Boolean(textures.occlusion) ||
      material.clearcoat > 0 !== Boolean(drawn.report.coat) ||
      Boolean(material.clearcoatNormalMap) !== Boolean(coatNormals) ||
      Boolean(material.roughnessMap) !== Boolean(textures.roughness) ||
      Boolean(material.metalnessMap) !== Boolean(textures.metalness) ||
      Boolean(material.displacementMap) !== Boolean(displaced);
    material.setValues({
      map: textures.colour,
      normalMap: textures.normal,
      aoMap: textures.occlusion,
      // Where there is a map it holds the values, and the factor leaves them as they are.
      roughnessMap: textures.roughness,
      roughness: textures.roughness ? 1 : drawn.report.roughness,
      metalnessMap: textures.metalness,
      metalness: textures.metalness || metal ? 1 : 0,
      ior: Math.min(2.333, index),
      clearcoat: drawn.report.coat?.factor ?? 0,
      clearcoatRoughness: drawn.report.coat?.roughness ?? 0,
      clearcoatNormalMap: coatNormals,
      // Height is in mm, the scene in metres.
      displacementMap: displaced,
      displacementScale: 0.001,
    });
    if (otherMaps) material.needsUpdate = true;
    invalidate();
  }, [material, textures, drawn, form, metal, index, coatLevels, invalidate]);
  return material;
}
