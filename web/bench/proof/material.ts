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

/** The finish as a physical material at true size on a form. */
export function useFinishMaterial(drawn: Drawn, form: BenchState['form']): THREE.MeshPhysicalMaterial {
  const { invalidate } = useThree();
  const response = useAppSelector((s) => s.draft.recipe?.response);
  const base = response?.base;
  const metal = base?.kind === 'metal';
  const index = base?.kind === 'dielectric' ? base.index.value : 1.5;
  const textures = useMemo(
    () => ({
      colour: dataTexture(drawn.colour, drawn, THREE.RGBAFormat, THREE.SRGBColorSpace),
      normal: dataTexture(drawn.normal, drawn, THREE.RGBAFormat, THREE.NoColorSpace),
      occlusion: drawn.occlusion
        ? dataTexture(drawn.occlusion, drawn, THREE.RGBAFormat, THREE.NoColorSpace)
        : null,
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
    const otherMaps =
      Boolean(material.map) !== Boolean(textures.colour) ||
      Boolean(material.aoMap) !== Boolean(textures.occlusion) ||
      Boolean(material.displacementMap) !== Boolean(displaced);
    material.setValues({
      map: textures.colour,
      normalMap: textures.normal,
      aoMap: textures.occlusion,
      roughness: drawn.report.roughness,
      metalness: metal ? 1 : 0,
      ior: Math.min(2.333, index),
      // Height is in mm, the scene in metres.
      displacementMap: displaced,
      displacementScale: 0.001,
    });
    if (otherMaps) material.needsUpdate = true;
    invalidate();
  }, [material, textures, drawn, form, metal, index, invalidate]);
  return material;
}
