import { Document, WebIO } from '@gltf-transform/core';
import { KHRMaterialsClearcoat, KHRMaterialsIOR } from '@gltf-transform/extensions';

export interface PanelMaterial {
  name: string;
  /** Size of one repeat, which the panel has and the textures cover once. */
  repeatMm: { width: number; height: number };
  base: { kind: 'metal' } | { kind: 'dielectric'; index: number };
  /** Clear coat: share of it, its roughness, and whether its surface is flat over the relief; null: none. */
  coat: { factor: number; roughness: number; levels: boolean } | null;
  /** PNG files: colour in sRGB, normals with y up, and occlusion, roughness, metalness in red, green and blue. */
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
    .setBaseColorTexture(texture('colour', material.colourPng))
    .setNormalTexture(normal)
    .setMetallicRoughnessTexture(packed)
    .setOcclusionTexture(packed)
    // The texture holds the values; the factors leave them as they are.
    .setMetallicFactor(1)
    .setRoughnessFactor(1)
    .setExtras(material.extras);
  if (material.base.kind === 'dielectric')
    surface.setExtension(
      'KHR_materials_ior',
      document.createExtension(KHRMaterialsIOR).createIOR().setIOR(material.base.index),
    );
  if (material.coat) {
    const coat = document
      .createExtension(KHRMaterialsClearcoat)
      .createClearcoat()
      .setClearcoatFactor(material.coat.factor)
      .setClearcoatRoughnessFactor(material.coat.roughness);
    if (!material.coat.levels) coat.setClearcoatNormalTexture(normal);
    surface.setExtension('KHR_materials_clearcoat', coat);
  }
  primitive.setMaterial(surface);
  const mesh = document.createMesh(`${material.name}, one repeat`).addPrimitive(primitive);
  const scene = document
    .createScene(material.name)
    .addChild(document.createNode(material.name).setMesh(mesh));
  document.getRoot().setDefaultScene(scene);
  return new WebIO().registerExtensions([KHRMaterialsIOR, KHRMaterialsClearcoat]).writeBinary(document);
}
