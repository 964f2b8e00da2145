import fc from 'fast-check';
import { linearToLab } from '../colour';
import { brickwork, rgb } from '../test-pictures';
import {
  blurWrapped,
  distanceTo,
  fractalNoise,
  makeColourPicture,
  makePlane,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '../raster';
import { normalsOfHeight } from '../relief';
import { frameOfQuad, makeFrame, NO_BOW, type Quad } from '../straighten';
import {
  drawContinuityLines,
  drawKeepOuts,
  drawReport,
  faultOfSet,
  findPart,
  goodFor,
  mmOfLongSide,
  orientationOfNormals,
  recogniseMap,
  roleByName,
  preparationSchema,
  stemOf,
  unprepared,
  type Mark,
} from './index';

const FLAT = makeFrame({ widthPx: 400, heightPx: 300 }, { bowLines: [], frame: null });
const area = (plane: Plane) => plane.data.reduce((s, v) => s + v, 0);

describe('keep-outs', () => {
  const outline = (id: string, points: [number, number][], erase = false): Mark => ({
    id,
    kind: 'outline',
    points,
    erase,
  });
  const stroke = (points: [number, number][], width: number, erase = false): Mark => ({
    id: 's',
    kind: 'stroke',
    points,
    width,
    erase,
  });

  test('an outline covers its area, to the pixel', () => {
    const plane = drawKeepOuts(
      FLAT,
      [
        outline('a', [
          [0.25, 0.25],
          [0.75, 0.25],
          [0.75, 0.75],
          [0.25, 0.75],
        ]),
      ],
      400,
      300,
    );
    expect(area(plane)).toBe(200 * 150);
  });

  test('a stroke is a band with round ends, as wide as the brush in true size', () => {
    // 0.05 of the longer side is 20 px; from 100 to 300 px along.
    const plane = drawKeepOuts(
      FLAT,
      [
        stroke(
          [
            [0.25, 0.5],
            [0.75, 0.5],
          ],
          0.05,
        ),
      ],
      400,
      300,
    );
    expect(Math.abs(area(plane) / (200 * 20 + Math.PI * 100) - 1)).toBeLessThan(0.02);
  });

  test('what is taken away later is free again', () => {
    const all = outline('a', [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ]);
    const plane = drawKeepOuts(FLAT, [all, stroke([[0.5, 0.5]], 0.1, true)], 400, 300);
    expect(Math.abs(400 * 300 - area(plane) - Math.PI * 400)).toBeLessThan(30);
  });

  test('it stays on its place of the picture when the frame changes', () => {
    const mark = stroke([[0.5, 0.5]], 0.02);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        (a, b) => {
          const frame = frameOfQuad({ widthPx: 400, heightPx: 300 }, NO_BOW, [
            [a, b],
            [1 - b, a],
            [1 - a, 1],
            [b, 1 - b],
          ] as Quad);
          const plane = drawKeepOuts(frame, [mark], 300, 300);
          let [x, y] = [0, 0];
          plane.data.forEach((v, i) => {
            x += v * ((i % 300) + 0.5);
            y += v * (Math.floor(i / 300) + 0.5);
          });
          const n = area(plane);
          // The middle of the mark, taken back to the picture.
          expect(n).toBeGreaterThan(0);
          const h = drawContinuityLines(
            frame,
            [
              {
                id: 'h',
                points: [
                  [0.5, 0.5],
                  [0.5, 0.5],
                ],
                width: 0.02,
              },
            ],
            300,
            300,
          );
          expect(area(h)).toBe(n);
          expect(h.data[Math.floor(y / n) * 300 + Math.floor(x / n)]).toBe(1);
        },
      ),
      { numRuns: 20 },
    );
  });

  test('millimetres of the longer side follow from the size of the frame', () => {
    expect(mmOfLongSide(FLAT, { width: 800, height: 600 })).toBeCloseTo(800, 3);
    const half = frameOfQuad({ widthPx: 400, heightPx: 300 }, NO_BOW, [
      [0.25, 0.25],
      [0.75, 0.25],
      [0.75, 0.75],
      [0.25, 0.75],
    ]);
    expect(mmOfLongSide(half, { width: 800, height: 600 })).toBeCloseTo(1600, 2);
  });
});

test('distances to a set are exact on pixels of any shape', () => {
  const random = seededRandom(4);
  const [w, h, mm] = [41, 33, { x: 0.7, y: 1.3 }];
  const inside = Uint8Array.from({ length: w * h }, () => (random.next() < 0.02 ? 1 : 0));
  const found = distanceTo(inside, w, h, mm);
  for (let i = 0; i < w * h; i += 7) {
    let best = Infinity;
    for (let k = 0; k < w * h; k++)
      if (inside[k])
        best = Math.min(
          best,
          Math.hypot(((i % w) - (k % w)) * mm.x, (Math.floor(i / w) - Math.floor(k / w)) * mm.y),
        );
    expect(found.data[i]).toBeCloseTo(best, 4);
  }
});

describe('parts by colour', () => {
  const surface = brickwork({
    widthMm: 450,
    heightMm: 300,
    pxPerMm: 1,
    seed: 3,
    brickWidthMm: 215,
    brickHeightMm: 65,
    jointMm: 10,
    shift: 0.5,
    strayMm: 1,
    clay: rgb('#a4553a'),
    burnt: rgb('#5a3530'),
    mortar: rgb('#cfc9bc'),
  });
  const mm = { x: 1, y: 1 };
  const labOf = (x: number, y: number) => {
    const i = y * surface.colour.widthPx + x;
    return linearToLab([surface.colour.r[i]!, surface.colour.g[i]!, surface.colour.b[i]!]) as [
      number,
      number,
      number,
    ];
  };
  const truth = surface.heightMmPlane.data.map((v) => (v < -3.2 ? 1 : 0));
  const mortar = { at: [0, 0] as [number, number], lab: labOf(120, 75), add: true };

  test('the mortar of a wall is told from its bricks, by height and by share', () => {
    const { weight, share } = findPart(
      surface.colour,
      { picks: [mortar], tolerance: 22, growMm: 0, softenMm: 0 },
      mm,
    );
    let [both, either] = [0, 0];
    truth.forEach((t, i) => {
      if (t && weight.data[i]! > 0.5) both++;
      if (t || weight.data[i]! > 0.5) either++;
    });
    expect(both / either).toBeGreaterThan(0.75);
    const trueShare = truth.reduce((s, v) => s + v, 0) / truth.length;
    expect(Math.abs(share - trueShare)).toBeLessThan(0.05);
  });

  test('a colour that is taken away takes what is nearer to it', () => {
    const picks = [mortar, { at: [0, 0] as [number, number], lab: labOf(110, 40), add: false }];
    const wide = findPart(
      surface.colour,
      { picks: [mortar], tolerance: 90, growMm: 0, softenMm: 0 },
      mm,
    ).share;
    const less = findPart(surface.colour, { picks, tolerance: 90, growMm: 0, softenMm: 0 }, mm).share;
    expect(wide).toBeGreaterThan(0.9);
    expect(less).toBeLessThan(0.5);
  });

  test('growing and softening are in mm: a disc of 20 mm grown by 5 has a radius of 25', () => {
    const disc = makeColourPicture(200, 200);
    for (let i = 0; i < disc.r.length; i++)
      disc.r[i] =
        disc.g[i] =
        disc.b[i] =
          Math.hypot((i % 200) - 99.5, Math.floor(i / 200) - 99.5) < 40 ? 0.6 : 0.05;
    const pick = {
      at: [0, 0] as [number, number],
      lab: linearToLab([0.6, 0.6, 0.6]) as [number, number, number],
      add: true,
    };
    const half = { x: 0.5, y: 0.5 };
    for (const softenMm of [0, 6]) {
      const { share } = findPart(disc, { picks: [pick], tolerance: 25, growMm: 5, softenMm }, half);
      expect(Math.abs(share * 10000 - Math.PI * 625) / (Math.PI * 625)).toBeLessThan(0.03);
    }
  });
});

describe('map sets', () => {
  test.each([
    ['oak_planks_baseColor_2k.png', 'colour'],
    ['Tile-Wall_Normal.tif', 'normal'],
    ['slate disp 16bit.png', 'height'],
    ['slate_AO.jpg', 'occlusion'],
    ['brass.metallic.png', 'metalness'],
    ['silk_glossiness.png', 'gloss'],
    ['mesh-Opacity.png', 'opacity'],
    ['wall_rough.png', 'roughness'],
    ['stone_col_roughness.png', 'roughness'],
    ['rough_metal_col.png', 'colour'],
    ['relief_tile_rough.png', 'roughness'],
    ['normal_col_07.png', 'normal'],
    ['felt_specular_roughness.exr', 'roughness'],
    ['felt_base_metalness.exr', 'metalness'],
    ['brick_diffuseColor.png', 'colour'],
    ['DSC_0042.jpg', null],
  ] as const)('%s is named as %s', (name, role) => expect(roleByName(name)).toBe(role));

  test('files of one set share a stem', () => {
    const names = ['oak_planks_baseColor_2k.png', 'oak_planks_normal_2k.png', 'oak_planks-rough.png'];
    expect(new Set(names.map(stemOf))).toEqual(new Set(['oak planks']));
  });

  const hills = (() => {
    const p = makePlane(128, 128);
    for (let i = 0; i < p.data.length; i++)
      p.data[i] = fractalNoise((i % 128) / 128, Math.floor(i / 128) / 128, 5, 5, 4, 0.5, 9);
    return blurWrapped(p, 1, 1);
  })();
  const grey = (of: (v: number, i: number) => number): ColourPicture => {
    const p = makeColourPicture(128, 128);
    for (let i = 0; i < p.r.length; i++)
      p.r[i] = p.g[i] = p.b[i] = Math.min(1, Math.max(0, of(hills.data[i]!, i)));
    return p;
  };
  const normals = (down: boolean): ColourPicture => {
    const n = normalsOfHeight({ ...hills, data: hills.data.map((v) => v * 6) }, { x: 1, y: 1 });
    const p = makeColourPicture(128, 128);
    for (let i = 0; i < p.r.length; i++) {
      // As an 8-bit file holds them.
      const code = (v: number) => Math.round((0.5 + 0.5 * v) * 255) / 255;
      p.r[i] = code(n.x[i]!);
      p.g[i] = code(down ? -n.y[i]! : n.y[i]!);
      p.b[i] = code(n.z[i]!);
    }
    return p;
  };
  const coloured = grey((v) => 0.4 + 0.2 * v);
  coloured.b = coloured.b.map((v) => v * 0.6);

  test('content is recognised where names are silent', () => {
    const role = (picture: ColourPicture) => recogniseMap({ fileName: 'IMG_1.png', picture });
    expect(role(coloured)).toMatchObject({ role: 'colour', by: 'content' });
    expect(role(normals(false)).role).toBe('normal');
    expect(role(grey((v) => 0.5 + 0.4 * v)).role).toBe('height');
    expect(role(grey((_, i) => (i % 128 < 50 ? 0 : 1))).role).toBe('opacity');
    expect(role(grey((v) => 1 - 0.3 * Math.max(0, v) ** 2)).role).toBe('occlusion');
  });

  test('a name that cannot be is overruled, and it is said', () => {
    const wrong = recogniseMap({ fileName: 'wall_normal.png', picture: coloured });
    expect(wrong).toMatchObject({ role: 'colour', by: 'content' });
    expect(wrong.why).toMatch(/name says normal, but it is in colour/);
    expect(recogniseMap({ fileName: 'wall_rough.png', picture: grey((v) => 0.5 + 0.4 * v) })).toMatchObject({
      role: 'roughness',
      by: 'name',
    });
  });

  test('which way green runs is found against the height, and by curl alone', () => {
    for (const down of [false, true]) {
      const greenRuns = down ? 'down' : 'up';
      expect(orientationOfNormals(normals(down), hills)).toMatchObject({ greenRuns, by: 'height' });
      const alone = orientationOfNormals(normals(down));
      expect(alone).toMatchObject({ greenRuns, by: 'curl' });
      expect(alone.confidence).toBeGreaterThan(0.3);
    }
    const flat = makeColourPicture(64, 64);
    flat.r.fill(0.5);
    flat.g.fill(0.5);
    flat.b.fill(1);
    expect(orientationOfNormals(flat).why).toMatch(/cannot be told/);
  });

  test('maps of another shape are not one set', () => {
    expect(
      faultOfSet([
        { fileName: 'a', widthPx: 1024, heightPx: 1024 },
        { fileName: 'b', widthPx: 2048, heightPx: 2048 },
      ]),
    ).toBeNull();
    expect(
      faultOfSet([
        { fileName: 'a', widthPx: 1024, heightPx: 1024 },
        { fileName: 'b', widthPx: 1024, heightPx: 700 },
      ]),
    ).toMatch(/b has 1024 × 700 px, another shape/);
  });
});

describe('report', () => {
  test('burnt-out places and blacks are hatched in two directions, all else is grey', () => {
    const p = makeColourPicture(40, 30);
    p.r.fill(0.4);
    p.g.fill(0.4);
    p.b.fill(0.4);
    for (let y = 0; y < 12; y++)
      for (let x = 0; x < 12; x++) {
        p.r[y * 40 + x] = p.g[y * 40 + x] = p.b[y * 40 + x] = 1;
        const low = (y + 18) * 40 + x + 28;
        p.r[low] = p.g[low] = p.b[low] = 0;
      }
    const { r, g, b } = drawReport(p, 'clipped');
    const at = (x: number, y: number) => r[y * 40 + x]!;
    expect([...r]).toEqual([...g]);
    expect([...r]).toEqual([...b]);
    // A line of the hatch runs on through the neighbour above to the right, or below to the right.
    for (let k = 1; k < 11; k++) {
      expect(at(k, 5)).toBe(at(k + 1, 4));
      expect(at(28 + k, 23)).toBe(at(29 + k, 24));
    }
    const tones = (x0: number, y0: number) => new Set(Array.from({ length: 12 }, (_, x) => at(x0 + x, y0)));
    expect(tones(0, 5).size).toBe(2);
    expect(tones(28, 23).size).toBe(2);
    expect(at(20, 15)).toBeCloseTo(0.75 * 0.4 + 0.08, 6);
  });

  test('light that falls off to one side is a slope of steps; even light is one tone', () => {
    const lit = (fall: number) => {
      const p = makeColourPicture(120, 60);
      for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = 0.4 * (1 - (fall * (i % 120)) / 120);
      return drawReport(p, 'evenness').g;
    };
    const [slope, even] = [lit(0.5), lit(0)];
    expect(slope[30 * 120 + 4]!).toBeGreaterThan(2 * slope[30 * 120 + 115]!);
    expect(new Set(even).size).toBe(1);
  });

  test('what a sample is good for follows from its density and sharpness', () => {
    expect(goodFor({ sharpness: 0.9 }, 4, 500)).toMatchObject({ scale: 1, usefulWidthPx: 2000 });
    expect(goodFor({ sharpness: 0.3 }, 4, 500)).toMatchObject({ scale: 2, usefulWidthPx: 1000 });
    expect(goodFor({ sharpness: 0.9 }, 0.01, 50000).sentence).toMatch(/Too coarse/);
  });
});

test('a frame whose edges cross is refused', () => {
  const said = (frame: unknown) =>
    preparationSchema.safeParse({ ...unprepared(), frame }).error?.issues[0]?.message;
  const square = [
    [0.1, 0.1],
    [0.5, 0.1],
    [0.5, 0.5],
    [0.1, 0.5],
  ];
  expect(said([square[0], square[1], square[3], square[2]])).toMatch(/cross/);
  expect(said(square)).toBeUndefined();
});
