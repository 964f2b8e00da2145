import { plainColour, ruledByLrv } from '../light';
import { WebIO } from '@gltf-transform/core';
import {
  KHRONOS_EXTENSIONS,
  type Anisotropy,
  type Clearcoat,
  type DiffuseTransmission,
  type IOR,
  type Sheen,
  type Transmission,
  type Volume,
} from '@gltf-transform/extensions';
import type { PhysicalMaterial } from '../response';
import { defaultRecipe, lead, type RenderReport } from '../finish';
import { sizeKnownBy } from '../size';
import { figure } from '../units';
import { describeFinish, figuresOf, fileName, folderNames, manifestSchema, writePanelGlb } from './index';

test.each([
  ['Smoked ash, wide board', 'smoked-ash-wide-board'],
  ['Häkeltuch № 7 / grün', 'hakeltuch-no-7-grun'],
  ['…', 'finish'],
  ['../../etc/passwd', 'etc-passwd'],
  ['x'.repeat(300), 'x'.repeat(80)],
])('%s becomes a name every file system takes', (name, expected) => expect(fileName(name)).toBe(expected));

test('names of one package are told apart, also where upper and lower case are one', () => {
  const names = ['Same', 'same!', 'SAME', 'Ясень', '楓', '楓'].map((name) => ({ name, revision: 'A' }));
  expect(folderNames(names)).toEqual(['same-A', 'same-2-A', 'same-3-A', 'yasen-A', 'feng-A', 'feng-2-A']);
});

const recipe = () => {
  const r = defaultRecipe(['s'], 'timber', { widthPx: 800, heightPx: 1257 });
  lead(r).size = sizeKnownBy('follows', {
    count: {
      modules: 17,
      moduleMm: figure(145, 'mm', 'published', 0.5),
      jointMm: 3,
      ends: 'flush',
    },
  });
  r.colour = ruledByLrv(r.colour, figure(27, 'LRV', 'measured', 1, 'three readings'));
  return r;
};

test('the manifest names every figure as typed, and those that follow from them', () => {
  const figures = Object.fromEntries(
    figuresOf(recipe(), { widthPx: 800, heightPx: 1257 }).map((f) => [f.name, f]),
  );
  expect(figures['module up']).toEqual({
    name: 'module up',
    value: 145,
    unit: 'mm',
    basis: 'published',
    tolerance: 0.5,
  });
  expect(figures['physical height of the sample']).toMatchObject({
    value: 2513,
    tolerance: 8.5,
    basis: 'published',
  });
  expect(figures['physical width of the sample']).toMatchObject({
    basis: 'inferred',
    note: 'follows the height, square pixels',
  });
  expect(figures['light reflectance value']).toMatchObject({ value: 27, note: 'three readings' });
  expect(figures['refractive index']).toBeDefined();
  const metal = recipe();
  metal.response.base = { kind: 'metal' };
  metal.colour = plainColour();
  const names = figuresOf(metal, { widthPx: 800, heightPx: 1257 }).map((f) => f.name);
  expect(names).not.toContain('refractive index');
  expect(names).not.toContain('light reflectance value');
});

test('a colourway is handed over with the reflectance of its own target', () => {
  const r = recipe();
  r.colour.ways = [{ id: 'dark', name: 'Dark', code: '', target: { lab: [40, 0, 0], basis: 'published' } }];
  const given = (way: string | null) =>
    figuresOf(r, { widthPx: 800, heightPx: 1257 }, way).find((f) => f.name === 'light reflectance value');
  expect(given(null)).toMatchObject({ value: 27, basis: 'measured' });
  expect(given('dark')).toMatchObject({ value: 11.25, basis: 'published' });
});

test('what is said of a finish fits the manifest schema', () => {
  const report: RenderReport = {
    repeatMm: { width: 1599, height: 2368 },
    copies: null,
    boards: null,
    glossSpread: null,
    haze: null,
    coat: null,
    layout: null,
    weathering: null,
    arrangement: null,
    joined: [{ gain: [1, 1, 1] }],
    brokenHoldMm: 0,
    stretch: { across: 0, up: 0 },
    stretchNeeded: {},
    repeatToleranceMm: { width: 1, height: 1 },
    inferred: 1,
    sampleMm: { width: 1599, height: 2513 },
    usedMm: { width: 1599, height: 2513 },
    keptOut: 0,
    pxPerMm: { x: 0.5, y: 0.5 },
    lrv: 27,
    meanLab: [59, 4, 17],
    before: { lrv: 20, meanLab: [52, 4, 15] },
    factors: [1.35, 1.35, 1.35],
    claims: [],
    hand: null,
    calibration: { light: null, target: null, grey: null },
    way: null,
    wayOff: null,
    clipped: { high: 0, low: 0 },
    directions: [],
    luminance: { p1: 0.1, p50: 0.27, p99: 0.5 },
    seam: {
      acrossWidth: 1.01,
      acrossHeight: 0.98,
      inside: { acrossWidth: { from: 0.9, to: 1.1 }, acrossHeight: { from: 0.9, to: 1.1 } },
      worst: { acrossWidth: { at: 0.5, figure: 1.01 }, acrossHeight: { at: 0.5, figure: 0.98 } },
    },
    heightMm: { min: -0.2, max: 0.3, zero: 0 },
    glass: null,
    metals: { base: null, parts: [] },
    brushed: null,
    recoloured: null,
    slopeDeg: { mean: 2, p99: 9 },
    glossGu: 12,
    roughness: 0.35,
    checks: [
      { code: 'gloss-assumed', section: 'response', weight: 'open', text: 'The gloss of 12 GU is assumed.' },
    ],
  };
  const finish = describeFinish(
    {
      name: 'Oak',
      category: 'timber',
      revision: 'A',
      colourway: null,
      folder: 'oak-A',
      origin: { supplier: '', line: '', code: '', batch: '', permission: 'yes' },
    },
    recipe(),
    report,
    { widthPx: 800, heightPx: 1257 },
  );
  const file = {
    path: 'oak-A/colour.png',
    map: 'colour',
    widthPx: 512,
    heightPx: 758,
    bitDepth: 8,
    colourSpace: 'srgb',
    bytes: 9,
    sha256: 'a'.repeat(64),
  };
  const manifest = manifestSchema.parse({
    schema: 'jossel.manifest/2',
    finishes: [{ ...finish, files: [file] }],
  });
  expect(manifest.finishes[0]!.checks).toEqual(['The gloss of 12 GU is assumed.']);
  expect(
    manifestSchema.safeParse({
      schema: 'jossel.manifest/2',
      finishes: [{ ...finish, files: [{ ...file, sha256: 'short' }] }],
    }).success,
  ).toBe(false);
});

// The smallest PNG there is: one grey pixel.
const PNG = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNoAAAAggCB49LvSAAAAABJRU5ErkJggg=='),
  (c) => c.charCodeAt(0),
);

const BARE: PhysicalMaterial = {
  index: null,
  coat: null,
  sheen: null,
  brushed: null,
  haze: null,
  glass: null,
  cloth: null,
};

/** Everything that a panel's material may say, read back by another reader's classes. */
const readPanel = async (physical: PhysicalMaterial) => {
  const bytes = await writePanelGlb({
    name: 'Oak A',
    repeatMm: { width: 1600, height: 2368 },
    physical,
    colourPng: PNG,
    normalPng: PNG,
    packedPng: PNG,
    extras: { revision: 'A' },
  });
  const root = (await new WebIO().registerExtensions(KHRONOS_EXTENSIONS).readBinary(bytes)).getRoot();
  return { mesh: root.listMeshes()[0]!, material: root.listMaterials()[0]! };
};

test.each([
  [{ ...BARE, index: 1.46 }],
  [BARE],
  [{ ...BARE, coat: { factor: 1, roughness: 0.2, levels: true } }],
  [{ ...BARE, index: 1.5, coat: { factor: 0.8, roughness: 0.1, levels: false } }],
])('the glTF panel has true size in metres and the material it was given (%j)', async (physical) => {
  const { mesh, material } = await readPanel(physical);
  const position = mesh.listPrimitives()[0]!.getAttribute('POSITION')!;
  const [low, high] = [position.getMin([]), position.getMax([])];
  expect(high[0]! - low[0]!).toBeCloseTo(1.6, 6);
  expect(high[1]! - low[1]!).toBeCloseTo(2.368, 6);
  expect(material.getName()).toBe('Oak A');
  expect(material.getExtras()).toEqual({ revision: 'A' });
  // One texture carries occlusion, roughness and metalness.
  expect(material.getOcclusionTexture()).toBe(material.getMetallicRoughnessTexture());
  expect(material.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? null).toBe(physical.index);
  const written = material.getExtension<Clearcoat>('KHR_materials_clearcoat');
  const { coat } = physical;
  expect(written && [written.getClearcoatFactor(), written.getClearcoatRoughnessFactor()]).toEqual(
    coat && [coat.factor, coat.roughness],
  );
  // A coat that follows the relief has the normals of the surface below it.
  expect(written?.getClearcoatNormalTexture() ?? null).toBe(
    coat && !coat.levels ? material.getNormalTexture() : null,
  );
});

test('a pane of satin glass has its thickness in metres, what it absorbs, and no picture for a colour', async () => {
  const glass = { attenuation: [0.8, 0.9, 0.7], thicknessMm: 6, roughness: 0.3 } as const;
  const { material } = await readPanel({ ...BARE, index: 1.52, glass });
  expect(material.getExtension<Transmission>('KHR_materials_transmission')!.getTransmissionFactor()).toBe(1);
  const volume = material.getExtension<Volume>('KHR_materials_volume')!;
  expect(volume.getThicknessFactor()).toBeCloseTo(0.006, 9);
  expect(volume.getAttenuationDistance()).toBeCloseTo(0.006, 9);
  expect(volume.getAttenuationColor()).toEqual([0.8, 0.9, 0.7]);
  expect(material.getBaseColorTexture()).toBeNull();
  expect([material.getRoughnessFactor(), material.getMetallicFactor()]).toEqual([0.3, 0]);
});

test('a curtain is blended by its openings, lets light through scattered, and has a nap; steel is brushed', async () => {
  const curtain = await readPanel({
    ...BARE,
    index: 1.5,
    sheen: { linear: [0.2, 0.1, 0.1], roughness: 0.4 },
    cloth: { diffuse: 0.25 },
  });
  expect([curtain.material.getAlphaMode(), curtain.material.getDoubleSided()]).toEqual(['BLEND', true]);
  const through = curtain.material.getExtension<DiffuseTransmission>('KHR_materials_diffuse_transmission')!;
  expect(through.getDiffuseTransmissionFactor()).toBe(0.25);
  const sheen = curtain.material.getExtension<Sheen>('KHR_materials_sheen')!;
  expect(sheen.getSheenColorFactor()).toEqual([0.2, 0.1, 0.1]);
  expect(sheen.getSheenRoughnessFactor()).toBe(0.4);
  const steel = await readPanel({ ...BARE, brushed: { strength: 0.6, rotationRad: 1.5 } });
  const brushed = steel.material.getExtension<Anisotropy>('KHR_materials_anisotropy')!;
  expect([brushed.getAnisotropyStrength(), brushed.getAnisotropyRotation()]).toEqual([0.6, 1.5]);
});
