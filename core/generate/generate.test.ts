import { createHash } from 'node:crypto';
import { mean, type ColourPicture } from '../raster';
import { seamFigures } from '../repeat';
import {
  brushedMetal,
  DRAFTS,
  glazedTile,
  limestone,
  plaster,
  rgb,
  rolledMetal,
  sheetGlass,
  timber,
  weave,
  type GeneratedSurface,
} from './index';

const area = { pxPerMm: 0.6, seed: 5 };
const MAKERS: [string, () => GeneratedSurface][] = [
  [
    'timber',
    () =>
      timber({
        ...area,
        widthMm: 600,
        heightMm: 444,
        boardMm: 145,
        jointMm: 3,
        shortestMm: 250,
        longestMm: 500,
        early: rgb('#b39671'),
        late: rgb('#6b4f36'),
        ringPorous: true,
        knotsPerM2: 2,
      }),
  ],
  [
    'glazed tile',
    () =>
      glazedTile({
        ...area,
        widthMm: 624,
        heightMm: 416,
        tileWidthMm: 205,
        tileHeightMm: 101,
        jointMm: 3,
        shift: 0.5,
        glaze: rgb('#2f6b62'),
        body: rgb('#c9a888'),
        joint: rgb('#bdb7ab'),
      }),
  ],
  [
    'weave',
    () =>
      weave({
        ...area,
        pxPerMm: 8,
        widthMm: 40,
        heightMm: 40,
        draft: 'twill22',
        warpPerCm: 10,
        weftPerCm: 10,
        cover: 1,
        warp: [rgb('#b9b1a2')],
        weft: [rgb('#3d4f63')],
        strayFibresPerCm2: 0.5,
      }),
  ],
  [
    'plaster',
    () =>
      plaster({
        ...area,
        widthMm: 500,
        heightMm: 400,
        colour: rgb('#d2c6b4'),
        strokesPerM2: 80,
        ridgeMm: 0.2,
      }),
  ],
  [
    'limestone',
    () =>
      limestone({
        ...area,
        widthMm: 400,
        heightMm: 300,
        pale: rgb('#d9cdb8'),
        dark: rgb('#a8977c'),
        rust: rgb('#b48a58'),
        shellsPerM2: 2000,
      }),
  ],
  [
    'limestone with a vein',
    () =>
      limestone({
        ...area,
        widthMm: 400,
        heightMm: 300,
        pale: rgb('#8d8478'),
        dark: rgb('#6f675d'),
        rust: rgb('#8a6f4e'),
        shellsPerM2: 900,
        vein: { colour: rgb('#e6e0d4'), widthMm: 7 },
      }),
  ],
  [
    'rolled metal',
    () =>
      rolledMetal({
        ...area,
        widthMm: 400,
        heightMm: 300,
        metal: rgb('#c3c6c7'),
        oxide: rgb('#7c848a'),
        weathering: 0.6,
      }),
  ],
  [
    'brushed metal',
    () =>
      brushedMetal({
        pxPerMm: 4,
        seed: 5,
        widthMm: 120,
        heightMm: 60,
        metal: rgb('#b9bbbc'),
        perCm2: 60,
        deepestMm: 0.003,
      }),
  ],
  [
    'sheet glass',
    () =>
      sheetGlass({
        ...area,
        widthMm: 600,
        heightMm: 400,
        colour: rgb('#dfe6e1'),
        seedsPerM2: 90,
        waveMm: 0.004,
      }),
  ],
];
const sha = (data: Float32Array) => createHash('sha256').update(new Uint8Array(data.buffer)).digest('hex');

/** A picture with what lies to the right of a share of it, and below, cut off. */
function cutOff({ widthPx, heightPx, ...planes }: ColourPicture, share: number): ColourPicture {
  const [w, h] = [Math.round(share * widthPx), Math.round(share * heightPx)];
  const cut = (data: Float32Array) => data.filter((_, i) => i % widthPx < w && i < h * widthPx);
  return { widthPx: w, heightPx: h, r: cut(planes.r), g: cut(planes.g), b: cut(planes.b) };
}

describe.each(MAKERS)('%s', (name, make) => {
  const surface = make();
  test('is the same every time', () => expect(sha(make().colour.g)).toBe(sha(surface.colour.g)));
  test('repeats on both axes', () => {
    // Regular ones are compared with the same place in each of their modules.
    const modules: Record<string, { across?: number; up?: number }> = {
      timber: { up: 3 },
      'glazed tile': { across: 3, up: 4 },
      weave: { across: 40, up: 40 },
    };
    const edges = (picture: ColourPicture, counted?: { across?: number; up?: number }) => {
      const { acrossWidth, acrossHeight, inside } = seamFigures(picture, counted);
      return Math.max(acrossWidth / inside.acrossWidth.to, acrossHeight / inside.acrossHeight.to);
    };
    // Edges show no more than nine of ten lines inside do, nearly; with a piece missing before them they do.
    expect(edges(surface.colour, modules[name])).toBeLessThan(1.06);
    expect(edges(cutOff(surface.colour, 0.87))).toBeGreaterThan(1.06);
  });
  test('reflects no more than a surface can, and has height and gloss', () => {
    const { r, g, b } = surface.colour;
    for (const c of [r, g, b]) {
      expect(Math.min(...c.filter((_, i) => i % 7 === 0))).toBeGreaterThanOrEqual(0);
      expect(mean(c)).toBeLessThan(0.85);
    }
    const heights = surface.heightMmPlane.data;
    expect(
      Math.max(...heights.filter((_, i) => i % 7 === 0)) - Math.min(...heights.filter((_, i) => i % 7 === 0)),
    ).toBeGreaterThan(0.001);
    expect(mean(surface.glossGu.data)).toBeGreaterThan(0.2);
  });
});

test('the face of a plank has no end in it and no joint beside it', () => {
  const face = (whole: boolean) =>
    timber({
      ...area,
      widthMm: 300,
      heightMm: 90,
      boardMm: 90,
      jointMm: 0,
      shortestMm: 150,
      longestMm: 350,
      early: rgb('#b39671'),
      late: rgb('#6b4f36'),
      ringPorous: true,
      knotsPerM2: 0,
      face: whole,
    }).heightMmPlane;
  // Ends and edges are rounded off by half a millimetre; the wood itself is a tenth deep.
  const lowest = ({ data }: { data: Float32Array }) => data.reduce((a, b) => Math.min(a, b));
  expect(lowest(face(false))).toBeLessThan(-0.4);
  expect(lowest(face(true))).toBeGreaterThan(-0.2);
});

test('a board floor has joints where they belong: every 148 mm', () => {
  const floor = MAKERS[0]![1]();
  const { widthPx: w, heightPx: h, data } = floor.heightMmPlane;
  const deep = Array.from({ length: h }, (_, y) => mean(data.slice(y * w, (y + 1) * w)) < -1);
  const inJoint = (mm: number) => deep[Math.floor(mm * 0.6)];
  for (const k of [1, 2, 3]) expect([inJoint(k * 148 - 1.5), inJoint(k * 148 - 74)]).toEqual([true, false]);
});

test('every draft is woven so that warp and weft both hold', () => {
  for (const [name, rows] of Object.entries(DRAFTS)) {
    const columns = [...rows[0]!].map((_, i) => rows.map((row) => row[i]).join(''));
    for (const line of [...rows, ...columns]) {
      expect(`${name} ${line}`).toContain('x');
      expect(`${name} ${line}`).toContain('.');
    }
  }
});

test('scratches run along the sheet: across it neighbours differ far more than along it', () => {
  const { heightMmPlane } = MAKERS.find(([name]) => name === 'brushed metal')![1]();
  const { widthPx: w, heightPx: h, data } = heightMmPlane;
  let [along, across] = [0, 0];
  for (let y = 1; y < h; y++)
    for (let x = 1; x < w; x++) {
      along += Math.abs(data[y * w + x]! - data[y * w + x - 1]!);
      across += Math.abs(data[y * w + x]! - data[(y - 1) * w + x]!);
    }
  expect(across / along).toBeGreaterThan(8);
});
