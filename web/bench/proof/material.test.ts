import * as THREE from 'three';
import { defaultRecipe } from '@jossel/core/finish';
import type { ResponseSettings } from '@jossel/core/response';
import type { Drawn } from '../../workers/render.worker';
import { setFinish, texturesOf, type Subject } from './material';

const PX = 4;
const plane = (v: number) => new Uint8ClampedArray(4 * PX * PX).fill(v);
const REPORT = {
  repeatMm: { width: 200, height: 100 },
  roughness: 0.4,
  meanLab: [60, 0, 0],
  haze: null,
  coat: null,
  glass: null,
  brushed: null,
};

function drawn(change: Partial<Drawn> = {}, report: object = {}): Drawn {
  return {
    widthPx: PX,
    heightPx: PX,
    report: { ...REPORT, ...report } as never,
    maps: ['colour', 'normal', 'height'],
    colour: plane(120),
    normal: plane(128),
    occlusion: null,
    heightMm: new Float32Array(PX * PX),
    uneven: {},
    histogram: [],
    scatter: [],
    serial: 1,
    ...change,
  };
}
const answers = (change: Partial<ResponseSettings> = {}): ResponseSettings => ({
  ...defaultRecipe(['s'], 'stone').response,
  ...change,
});
function shown(subject: Subject, displaced = false, reliefTimes = 1) {
  const material = new THREE.MeshPhysicalMaterial();
  setFinish(material, subject, texturesOf(subject.drawn), { displaced, reliefTimes });
  return material;
}

test('textures lie on the finish in mm and repeat; rows come from the top; only colour is in sRGB', () => {
  const { colour, normal, height } = texturesOf(drawn());
  for (const texture of [colour, normal, height]) {
    expect(texture.repeat.toArray()).toEqual([1 / 200, 1 / 100]);
    expect([texture.wrapS, texture.wrapT]).toEqual([THREE.RepeatWrapping, THREE.RepeatWrapping]);
    expect(texture.flipY).toBe(true);
  }
  expect([colour, normal, height].map((t) => t.colorSpace)).toEqual([
    THREE.SRGBColorSpace,
    THREE.NoColorSpace,
    THREE.NoColorSpace,
  ]);
});

test('one roughness all over is a factor; a map has its values, and the factor leaves them as they are', () => {
  expect(shown({ drawn: drawn(), response: answers() })).toMatchObject({
    roughness: 0.4,
    roughnessMap: null,
  });
  const uneven = shown({ drawn: drawn({ uneven: { roughness: plane(90) } }), response: answers() });
  expect(uneven.roughness).toBe(1);
  expect(uneven.roughnessMap).not.toBeNull();
});

test('bare metal is metal, all else is not, and what is partly metal has a map', () => {
  const metal = answers({ base: { kind: 'metal' } as never });
  expect(shown({ drawn: drawn(), response: metal }).metalness).toBe(1);
  expect(shown({ drawn: drawn(), response: answers() }).metalness).toBe(0);
  const parts = shown({ drawn: drawn({ uneven: { metalness: plane(0) } }), response: answers() });
  expect([parts.metalness, parts.metalnessMap !== null]).toEqual([1, true]);
});

test('glass lets light through and takes its colour from what it absorbs', () => {
  const glass = { attenuation: [0.8, 0.9, 0.85], thicknessMm: 8, roughness: 0 };
  const base = {
    kind: 'glass',
    index: { value: 1.52, unit: '1', basis: 'published' },
  } as never;
  const material = shown({ drawn: drawn({}, { glass }), response: answers({ base }) });
  expect(material).toMatchObject({ transmission: 1, map: null, roughness: 0, ior: 1.52 });
  expect(material.thickness).toBeCloseTo(0.008, 9);
  expect(material.attenuationColor.toArray()).toEqual([0.8, 0.9, 0.85]);
});

test('relief is exaggerated in both its normals and its height, which is in metres; without it nothing is displaced', () => {
  const displaced = shown({ drawn: drawn(), response: answers() }, true, 3);
  expect(displaced.displacementMap).not.toBeNull();
  expect(displaced.displacementScale).toBeCloseTo(0.003, 9);
  expect(displaced.normalScale.toArray()).toEqual([3, 3]);
  expect(shown({ drawn: drawn(), response: answers() }).displacementMap).toBeNull();
});

test('a finish with other maps needs another program; one that only differs in its values does not', () => {
  const material = new THREE.MeshPhysicalMaterial();
  const set = (of: Drawn) =>
    setFinish(material, { drawn: of, response: answers() }, texturesOf(of), {
      displaced: false,
      reliefTimes: 1,
    });
  set(drawn());
  const first = material.version;
  set(drawn({}, { roughness: 0.7 }));
  expect(material.version).toBe(first);
  set(drawn({ occlusion: plane(200) }));
  expect(material.version).toBeGreaterThan(first);
});
