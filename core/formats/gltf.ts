import { Document, WebIO, type Material, type Texture } from '@gltf-transform/core';
import {
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDiffuseTransmission,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
} from '@gltf-transform/extensions';
import type { PhysicalMaterial } from '../response';

export interface PanelMaterial {
  name: string;
  /** Size of one repeat, which the panel has and the textures cover once. */
  repeatMm: { width: number; height: number };
  physical: PhysicalMaterial;
  /** PNG files: colour in sRGB, of a woven finish with its opacity, normals with y up, and occlusion, roughness, metalness in red, green and blue. */
  colourPng: Uint8Array;
  normalPng: Uint8Array;
  packedPng: Uint8Array;
  /** Written into the file for whoever reads it. */
  extras: Record<string, unknown>;
}

/**
 * A glTF 2.0 binary with one panel of the repeat's true size (metres, facing +z, centred) and its material.
 * @returns the bytes of the .glb file
 */
export async function writePanelGlb(material: PanelMaterial): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Jossel';
  const buffer = document.createBuffer();
  const [x, y] = [material.repeatMm.width / 2000, material.repeatMm.height / 2000];
  const accessor = (type: 'VEC2' | 'VEC3' | 'VEC4', values: number[]) =>
    document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', [-x, -y, 0, x, -y, 0, x, y, 0, -x, y, 0]))
    .setAttribute('NORMAL', accessor('VEC3', [0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]))
    .setAttribute('TANGENT', accessor('VEC4', [1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1]))
    .setAttribute('TEXCOORD_0', accessor('VEC2', [0, 1, 1, 1, 1, 0, 0, 0]))
    .setIndices(
      document
        .createAccessor()
        .setType('SCALAR')
        .setArray(new Uint16Array([0, 1, 2, 0, 2, 3]))
        .setBuffer(buffer),
    );
  const texture = (name: string, png: Uint8Array) =>
    document.createTexture(name).setMimeType('image/png').setImage(png);
  const packed = texture('occlusion, roughness, metalness', material.packedPng);
  const normal = texture('normal', material.normalPng);
  const surface = document
    .createMaterial(material.name)
    .setNormalTexture(normal)
    .setOcclusionTexture(packed)
    .setExtras(material.extras);
  const { glass, cloth } = material.physical;
  // Glass takes its colour from what it absorbs.
  if (!glass) surface.setBaseColorTexture(texture('colour', material.colourPng));
  if (cloth) surface.setAlphaMode('BLEND').setDoubleSided(true);
  if (glass?.roughness) surface.setMetallicFactor(0).setRoughnessFactor(glass.roughness);
  // The texture holds the values; the factors leave them as they are.
  else surface.setMetallicRoughnessTexture(packed).setMetallicFactor(1).setRoughnessFactor(1);
  addExtensions(document, surface, normal, material.physical);
  primitive.setMaterial(surface);
  const mesh = document.createMesh(`${material.name}, one repeat`).addPrimitive(primitive);
  const scene = document
    .createScene(material.name)
    .addChild(document.createNode(material.name).setMesh(mesh));
  document.getRoot().setDefaultScene(scene);
  return new WebIO().registerExtensions(EXTENSIONS).writeBinary(document);
}

const EXTENSIONS = [
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDiffuseTransmission,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
];

/** What goes beyond metalness and roughness, by the ratified extensions of glTF. */
function addExtensions(
  document: Document,
  surface: Material,
  normal: Texture,
  { index, coat, sheen, brushed, glass, cloth }: PhysicalMaterial,
): void {
  if (index !== null)
    surface.setExtension(
      'KHR_materials_ior',
      document.createExtension(KHRMaterialsIOR).createIOR().setIOR(index),
    );
  if (coat) {
    const over = document
      .createExtension(KHRMaterialsClearcoat)
      .createClearcoat()
      .setClearcoatFactor(coat.factor)
      .setClearcoatRoughnessFactor(coat.roughness);
    if (!coat.levels) over.setClearcoatNormalTexture(normal);
    surface.setExtension('KHR_materials_clearcoat', over);
  }
  if (sheen)
    surface.setExtension(
      'KHR_materials_sheen',
      document
        .createExtension(KHRMaterialsSheen)
        .createSheen()
        .setSheenColorFactor([...sheen.linear])
        .setSheenRoughnessFactor(sheen.roughness),
    );
  if (brushed)
    surface.setExtension(
      'KHR_materials_anisotropy',
      document
        .createExtension(KHRMaterialsAnisotropy)
        .createAnisotropy()
        .setAnisotropyStrength(brushed.strength)
        .setAnisotropyRotation(brushed.rotationRad),
    );
  if (cloth && cloth.diffuse > 0)
    surface.setExtension(
      'KHR_materials_diffuse_transmission',
      document
        .createExtension(KHRMaterialsDiffuseTransmission)
        .createDiffuseTransmission()
        .setDiffuseTransmissionFactor(cloth.diffuse),
    );
  if (!glass) return;
  surface.setExtension(
    'KHR_materials_transmission',
    document.createExtension(KHRMaterialsTransmission).createTransmission().setTransmissionFactor(1),
  );
  const metres = glass.thicknessMm / 1000;
  surface.setExtension(
    'KHR_materials_volume',
    document
      .createExtension(KHRMaterialsVolume)
      .createVolume()
      .setThicknessFactor(metres)
      .setAttenuationDistance(metres)
      .setAttenuationColor([...glass.attenuation]),
  );
}
