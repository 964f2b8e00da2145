import * as THREE from 'three';
import { physicalOf, type ResponseSettings } from '@jossel/core/response';
import type { Drawn } from '../../workers/render.worker';

/** What the proof shows: a drawn finish, and how it answers light. */
export interface Subject {
  drawn: Drawn;
  response: ResponseSettings;
}

function dataTexture(
  data: Uint8ClampedArray<ArrayBuffer> | Float32Array<ArrayBuffer>,
  drawn: Drawn,
  format: THREE.PixelFormat,
  colourSpace: string,
): THREE.DataTexture {
  const floats = data instanceof Float32Array;
  const bytes = floats ? data : new Uint8Array(data.buffer, data.byteOffset, data.length);
  const texture = new THREE.DataTexture(
    bytes,
    drawn.widthPx,
    drawn.heightPx,
    format,
    floats ? THREE.FloatType : THREE.UnsignedByteType,
  );
  texture.colorSpace = colourSpace;
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.flipY = true; // rows come from the top
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = floats ? THREE.LinearFilter : THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = !floats;
  texture.anisotropy = 8;
  texture.unpackAlignment = 1;
  // Places on the finish are in mm.
  texture.repeat.set(1 / drawn.report.repeatMm.width, 1 / drawn.report.repeatMm.height);
  texture.needsUpdate = true;
  return texture;
}

/** A texture of data; null where there are none. */
const textureOf = (data: Uint8ClampedArray<ArrayBuffer> | null | undefined, drawn: Drawn) =>
  data ? dataTexture(data, drawn, THREE.RGBAFormat, THREE.NoColorSpace) : null;

/** The textures of a drawn finish. */
export type FinishTextures = ReturnType<typeof texturesOf>;
export const texturesOf = (drawn: Drawn) => ({
  colour: dataTexture(drawn.colour, drawn, THREE.RGBAFormat, THREE.SRGBColorSpace),
  normal: dataTexture(drawn.normal, drawn, THREE.RGBAFormat, THREE.NoColorSpace),
  occlusion: textureOf(drawn.occlusion, drawn),
  roughness: textureOf(drawn.uneven.roughness, drawn),
  metalness: textureOf(drawn.uneven.metalness, drawn),
  opacity: textureOf(drawn.uneven.opacity, drawn),
  height: dataTexture(drawn.heightMm, drawn, THREE.RedFormat, THREE.NoColorSpace),
});

/** A single map on the form: its values as they are, in no light. */
export function setMap(material: THREE.MeshBasicMaterial, tile: HTMLCanvasElement, drawn: Drawn): void {
  const texture = new THREE.CanvasTexture(tile);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.anisotropy = 8;
  texture.repeat.set(1 / drawn.report.repeatMm.width, 1 / drawn.report.repeatMm.height);
  material.map?.dispose();
  material.map = texture;
  material.side = THREE.DoubleSide;
  material.needsUpdate = true;
}

/** How the finish is shown, beyond what it is. */
export interface Shown {
  /** Displaced by its relief. */
  displaced: boolean;
  /** How many times its relief is exaggerated. */
  reliefTimes: number;
}

/** Sets the physical material of the draft to a finish. */
export function setFinish(
  material: THREE.MeshPhysicalMaterial,
  { drawn, response }: Subject,
  textures: FinishTextures,
  { displaced, reliefTimes }: Shown,
): void {
  const { coat, sheen, brushed, glass, cloth, index } = physicalOf(response, drawn.report);
  const before = mapsIn(material);
  material.setValues({
    // Glass takes its colour from what it absorbs.
    map: glass ? null : textures.colour,
    normalMap: textures.normal,
    aoMap: textures.occlusion,
    // Where there is a map it holds the values, and the factor leaves them as they are.
    roughnessMap: glass ? null : textures.roughness,
    roughness: glass ? glass.roughness : textures.roughness ? 1 : drawn.report.roughness,
    metalnessMap: glass ? null : textures.metalness,
    metalness: textures.metalness || index === null ? 1 : 0,
    alphaMap: cloth ? textures.opacity : null,
    transparent: cloth !== null,
    side: THREE.DoubleSide,
    ior: Math.min(2.333, index ?? 1.5),
    clearcoat: coat?.factor ?? 0,
    clearcoatRoughness: coat?.roughness ?? 0,
    clearcoatNormalMap: coat && !coat.levels ? textures.normal : null,
    sheen: sheen ? 1 : 0,
    sheenRoughness: sheen?.roughness ?? 0,
    anisotropy: brushed?.strength ?? 0,
    anisotropyRotation: brushed?.rotationRad ?? 0,
    transmission: glass ? 1 : 0,
    thickness: glass ? glass.thicknessMm / 1000 : 0,
    attenuationDistance: glass ? glass.thicknessMm / 1000 : Infinity,
    // Height is in mm, the scene in metres.
    displacementMap: displaced ? textures.height : null,
    displacementScale: 0.001 * reliefTimes,
  });
  material.normalScale.set(reliefTimes, reliefTimes);
  material.sheenColor.setRGB(...(sheen?.linear ?? [0, 0, 0]));
  material.attenuationColor.setRGB(...(glass?.attenuation ?? [1, 1, 1]));
  if (mapsIn(material) !== before) material.needsUpdate = true;
}

/** Which parts of the program a material needs: another set needs another program. */
const mapsIn = (m: THREE.MeshPhysicalMaterial): string =>
  [
    m.map,
    m.aoMap,
    m.alphaMap,
    m.roughnessMap,
    m.metalnessMap,
    m.clearcoatNormalMap,
    m.displacementMap,
    m.clearcoat,
    m.sheen,
    m.anisotropy,
    m.transmission,
    m.transparent,
  ]
    .map((part) => (part ? 1 : 0))
    .join('');
