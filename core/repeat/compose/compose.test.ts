import { brickwork, rgb } from '../../test-pictures';
import {
  blurWrapped,
  fractalNoise,
  hashUnit,
  luminancePlane,
  makeColourPicture,
  makePlane,
  mean,
  percentiles,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '../../raster';
import {
  applyPlacement,
  screenedPoissonCorrection,
  learnBlendSpace,
  seamFigures,
  type Cells,
  type Placement,
} from '../index';
import {
  originCandidates,
  withOrigin,
  brokenHoldPx,
  cellsOf,
  closeByCut,
  makeAtlas,
  compose,
  recomposeArea,
  type ComposeSource,
  type ComposeTask,
  type Steps,
  type ToroidalCanvas,
} from './index';

const finish = <T>(steps: Steps<T>): T => {
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
  }
};
const AS_IT_LIES = [{ quarters: 0, flipped: false }] as const;
const sourceOf = (picture: ColourPicture): ComposeSource => ({ picture, keptOut: null, held: null });

/** An irregular finish with fine and middle detail that has no end: no edge of it meets another. */
function stone(w: number, h: number, seed = 3): ColourPicture {
  const p = makeColourPicture(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const middle = fractalNoise(x / 997, y / 997, 80, 80, 4, 0.6, seed);
      const tint = fractalNoise(x / 997, y / 997, 40, 40, 2, 0.5, seed + 9);
      const v = 0.3 + 0.09 * middle;
      const i = y * w + x;
      p.r[i] = v * (1 + 0.06 * tint);
      p.g[i] = v;
      p.b[i] = v * (0.9 - 0.06 * tint);
    }
  return p;
}

const task = (picture: ColourPicture, widthPx: number, heightPx: number, seed = 1): ComposeTask => ({
  sources: [sourceOf(picture)],
  widthPx,
  heightPx,
  closed: { across: true, up: true },
  turns: AS_IT_LIES,
  seed,
  patchPx: { w: Math.round(0.4 * picture.widthPx), h: Math.round(0.4 * picture.heightPx) },
});

const ONE = { x: 1, y: 1 };
/** A solved repeat as a picture, one pixel a cell. */
function pictureOf(
  torus: ToroidalCanvas,
  picture: ColourPicture,
  evened = true,
): { cells: Cells; repeat: ColourPicture } {
  const repeatMm = { width: torus.widthPx, height: torus.heightPx };
  const cells = cellsOf(torus, repeatMm, [ONE]);
  const sources = [{ picture, pxPerMm: ONE }];
  const added = evened ? screenedPoissonCorrection(cells, repeatMm, sources, 24) : null;
  const repeat = applyPlacement(
    { repeatMm, layers: [], cells },
    sources,
    torus.widthPx,
    torus.heightPx,
    learnBlendSpace(picture),
    added,
  );
  return { cells, repeat };
}
/** Column and row of the sample each pixel comes from. */
function originOf(torus: ToroidalCanvas, p: number): [number, number] {
  const part = torus.atlas.parts[0]!;
  const local = torus.place[p]! - part.first;
  const y = Math.floor(local / torus.atlas.stride);
  return [local - y * torus.atlas.stride, y];
}

const STONE = stone(256, 220);

describe('composed anew', () => {
  const solved = finish(compose(task(STONE, 320, 256)));
  const { across, up } = originCandidates(solved, pictureOf(solved, STONE, false).repeat, {});
  const torus = withOrigin(solved, { x: across[0]!.line, y: up[0]!.line });
  const { repeat } = pictureOf(torus, STONE);

  test('an irregular sample closes on both edges: seam 0.90–1.10, larger than the sample', () => {
    const seam = seamFigures(repeat);
    for (const figure of [seam.acrossWidth, seam.acrossHeight]) {
      expect(figure).toBeGreaterThan(0.9);
      expect(figure).toBeLessThan(1.1);
    }
  });

  test('every pixel is one of the sample, and none lies beyond it', () => {
    let beyond = 0;
    for (let p = 0; p < torus.place.length; p++) {
      const [x, y] = originOf(torus, p);
      if (!(x >= 0 && y >= 0 && x < 256 && y < 220)) beyond++;
    }
    expect(beyond).toBe(0);
  });

  test('contrast stays that of the sample in each octave, within 5 %', () => {
    const bands = (picture: ColourPicture) => {
      const lightness = luminancePlane(picture);
      lightness.data.forEach((v, i) => (lightness.data[i] = Math.cbrt(v)));
      let finer = lightness;
      return [1, 2, 4, 8].map((sigma) => {
        const broader = blurWrapped(lightness, sigma, sigma);
        const band = finer.data.map((v, i) => v - broader.data[i]!);
        finer = broader;
        // Away from the sample's own edges, which the blur would wrap.
        const inner: number[] = [];
        const { widthPx: w, heightPx: h } = picture;
        for (let y = 24; y < h - 24; y++) for (let x = 24; x < w - 24; x++) inner.push(band[y * w + x]!);
        const [low, high] = percentiles(Float32Array.from(inner), [0.1, 0.9]);
        return high! - low!;
      });
    };
    const [of, from] = [bands(repeat), bands(STONE)];
    for (let k = 0; k < 4; k++) expect(Math.abs(of[k]! / from[k]! - 1)).toBeLessThan(0.05);
  });

  test('no place of the sample is used far more often than others', () => {
    const uses = new Map<string, number>();
    for (let p = 0; p < torus.place.length; p++) {
      const [x, y] = originOf(torus, p);
      const key = `${x >> 5} ${y >> 5}`;
      uses.set(key, (uses.get(key) ?? 0) + 1);
    }
    const even = torus.place.length / uses.size;
    expect(Math.max(...uses.values()) / even).toBeLessThan(3);
    expect(uses.size).toBeGreaterThan(45); // of 56 fields
  });

  test('the same seed gives the same repeat, another seed another', () => {
    const small = stone(64, 64);
    const of = (seed: number) => Array.from(finish(compose(task(small, 64, 64, seed))).place);
    expect(of(5)).toEqual(of(5));
    expect(of(6)).not.toEqual(of(5));
  });
});

test('keep-outs are never used, and one that covers everything is refused', () => {
  const picture = stone(100, 100);
  const keptOut = makePlane(100, 100);
  for (let y = 30; y < 70; y++) for (let x = 40; x < 65; x++) keptOut.data[y * 100 + x] = 1;
  const torus = finish(compose({ ...task(picture, 100, 100), sources: [{ picture, keptOut, held: null }] }));
  let used = 0;
  for (let p = 0; p < torus.place.length; p++) {
    const [x, y] = originOf(torus, p);
    used += keptOut.data[y * 100 + x]!;
  }
  expect(used).toBe(0);
  expect(() =>
    finish(
      compose({
        ...task(picture, 100, 100),
        sources: [{ picture, keptOut: makePlane(100, 100, 1), held: null }],
      }),
    ),
  ).toThrow(/Nothing is left to compose from: keep-outs cover the sample/);
});

test('a continuity line runs on: where it is cut off, it meets itself', () => {
  // A light vein that crosses the sample at a slant; copies laid without regard would break it.
  const picture = stone(200, 200, 5);
  const held = makePlane(200, 200);
  for (let y = 0; y < 200; y++)
    for (let x = 0; x < 200; x++)
      if (Math.abs(y - (100 + 0.15 * (x - 100) + 6 * Math.sin(x / 16))) < 4) held.data[y * 200 + x] = 1;
  const broken = (withLine: boolean) => {
    const torus = finish(
      compose({
        ...task(picture, 200, 200),
        closed: { across: true, up: false },
        sources: [{ picture, keptOut: null, held: withLine ? held : null }],
      }),
    );
    // The line as it comes to lie, cut by a column: it ends there when none of it, 8 px thick, goes on to the next
    // column. Less than half of it is a sliver at an outline that ran beside the line.
    const lies = (x: number, y: number) => {
      const [ox, oy] = originOf(torus, y * 200 + ((x + 200) % 200));
      return held.data[oy * 200 + ox] === 1;
    };
    let ends = 0;
    for (let x = 0; x < 200; x++)
      for (let y = 0; y < 200; y++) {
        if (!lies(x, y)) continue;
        const top = y;
        let [left, right] = [false, false];
        for (; y < 200 && lies(x, y); y++) [left, right] = [left || lies(x - 1, y), right || lies(x + 1, y)];
        if (y - top >= 4) ends += Number(!left) + Number(!right);
      }
    return ends;
  };
  const [regarded, disregarded] = [broken(true), broken(false)];
  expect(disregarded).toBeGreaterThan(2);
  expect(regarded).toBe(0);
});

test('in a bond copies are cut from joint to joint, also where no joints of its courses stand in line', () => {
  // Courses of stretchers and of headers, of many tones; joints of 2 px.
  const [BRICK, COURSE] = [32, 14];
  const length = (course: number) => (course % 4 === 3 ? BRICK / 2 : BRICK);
  const shift = (course: number) => (course % 4 === 3 ? BRICK / 4 : (BRICK / 2) * (course % 2));
  const [w, h] = [8 * BRICK + 5, 13 * COURSE];
  const joints = makePlane(w, h);
  const picture = stone(w, h, 5);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const course = Math.floor(y / COURSE);
      const along = x + shift(course);
      const i = y * w + x;
      joints.data[i] = along % length(course) < 2 || y % COURSE < 2 ? 1 : 0;
      const tone = 0.5 + hashUnit(Math.floor(along / length(course)), course, 3, 2);
      for (const c of ['r', 'g', 'b'] as const)
        picture[c][i] = joints.data[i] === 1 ? 0.55 : picture[c][i]! * tone;
    }
  const pieces = { ...joints, data: joints.data.map((joint) => 1 - joint) };
  const [W, H] = [8 * BRICK, 12 * COURSE];
  /** Pixels along outlines that lie in bricks. */
  const inBricks = (cutIn: boolean) => {
    const torus = finish(
      compose({
        ...task(picture, W, H),
        sources: [{ ...sourceOf(picture), jointed: { joints, pieces, runOn: false, cutIn } }],
        joints: { across: { period: 1 / 8, first: 0 }, up: { period: 1 / 3, first: 0 } },
        lattice: { acrossPx: BRICK, upPx: 4 * COURSE, stagger: 0 },
      }),
    );
    const origins = Array.from(torus.place, (_, p) => originOf(torus, p));
    let sum = 0;
    for (let p = 0; p < W * H; p++) {
      const [[ox, oy], [nx, ny]] = [origins[p]!, origins[p - (p % W) + ((p + 1) % W)]!];
      if (nx === ox + 1 && ny === oy) continue;
      if (joints.data[oy * w + ox] === 0 && joints.data[ny * w + nx] === 0) sum++;
    }
    return sum;
  };
  const [onLines, inJoints] = [inBricks(false), inBricks(true)];
  // On the lines of the lattice outlines run through every second course.
  expect(onLines).toBeGreaterThan(4 * COURSE);
  expect(inJoints).toBeLessThan(COURSE / 2);
});

test('beside a sample whose joints are seen, one that shows none is all one piece: cutting it is not for nothing', () => {
  const picture = stone(40, 30);
  const joints = makePlane(40, 30);
  joints.data.forEach((_, i) => (joints.data[i] = i % 10 === 0 ? 1 : 0));
  const pieces = { ...joints, data: joints.data.map((joint) => 1 - joint) };
  const jointed = { joints, pieces, runOn: false, cutIn: true };
  const { parts, stride, inPiece, throughPiece } = makeAtlas(
    [{ ...sourceOf(picture), jointed }, sourceOf(picture)],
    AS_IT_LIES,
  );
  const at = (part: number, x: number) => parts[part]!.first + 5 * stride + x;
  expect([0, 1].map((part) => inPiece![at(part, 20)])).toEqual([0, 1]);
  expect(throughPiece![at(0, 20)]).toBe(0);
  for (const x of [0, 20, 33]) expect(throughPiece![at(1, x)]).toBe(throughPiece![at(0, 25)]);
  expect(throughPiece![at(0, 25)]).toBeGreaterThan(0);
});

test('joints run on: fewer end in a stone where copies know them than where their colour alone counts', () => {
  // Stones of all shapes: cells about strayed points, with pale joints between them.
  const random = seededRandom(12);
  const seeds = Array.from({ length: 49 }, (_, k) => [
    28 * (k % 7) + 22 * random.next(),
    28 * Math.floor(k / 7) + 22 * random.next(),
  ]);
  const joints = makePlane(190, 190);
  const picture = stone(190, 190, 9);
  for (let i = 0; i < joints.data.length; i++) {
    const far = seeds
      .map(([x, y]) => Math.hypot((i % 190) - x!, Math.floor(i / 190) - y!))
      .sort((a, b) => a - b);
    if (far[1]! - far[0]! > 4.5) continue;
    joints.data[i] = 1;
    for (const c of ['r', 'g', 'b'] as const) picture[c][i] = 0.55;
  }
  const ends = (known: boolean) => {
    let sum = 0;
    const torus = finish(
      compose({
        ...task(picture, 190, 190),
        sources: [
          {
            picture,
            keptOut: null,
            held: null,
            ...(known ? { jointed: { joints, pieces: null, runOn: true, cutIn: false } } : {}),
          },
        ],
      }),
    );
    const origins = Array.from(torus.place, (_, p) => originOf(torus, p));
    const jointAt = (x: number, y: number) => joints.data[y * 190 + x] === 1;
    // A joint that would go on in its own copy, and meets a face of the next.
    for (let y = 0; y < 190; y++)
      for (let x = 0; x < 190; x++)
        for (const [dx, dy] of [
          [1, 0],
          [0, 1],
        ] as const) {
          const [ox, oy] = origins[y * 190 + x]!;
          const [nx, ny] = origins[((y + dy) % 190) * 190 + ((x + dx) % 190)]!;
          if (nx === ox + dx && ny === oy + dy) continue;
          const [on, back] = [jointAt(ox + dx, oy + dy), jointAt(nx - dx, ny - dy)];
          if (jointAt(ox, oy) && on && !jointAt(nx, ny)) sum++;
          if (jointAt(nx, ny) && back && !jointAt(ox, oy)) sum++;
        }
    // Joints are no continuity lines: where one ends, no such line is said to be broken.
    expect(brokenHoldPx(torus)).toBe(0);
    return sum;
  };
  const [regarded, disregarded] = [ends(true), ends(false)];
  expect(disregarded).toBeGreaterThan(10);
  expect(regarded).toBeLessThan(0.6 * disregarded);
});

test('a cut tells whether continuity lines run on: a level one does, one that ends elsewhere than it began cannot', () => {
  const picture = stone(200, 160, 6);
  const broken = (slope: number) => {
    const held = makePlane(200, 160);
    for (let y = 0; y < 160; y++)
      for (let x = 0; x < 200; x++)
        if (Math.abs(y - (80 + slope * (x - 100))) < 4) held.data[y * 200 + x] = 1;
    const closed = { across: true, up: false };
    return brokenHoldPx(
      finish(
        closeByCut({
          sources: [{ picture, keptOut: null, held }],
          widthPx: 170,
          heightPx: 160,
          closed,
        }),
      ),
    );
  };
  expect(broken(0)).toBe(0);
  expect(broken(0.6)).toBeGreaterThan(6);
});

test('bricks stay in their courses: every copy lies in step with the lattice', () => {
  const wall = brickwork({
    widthMm: 1125,
    heightMm: 900,
    pxPerMm: 0.32,
    seed: 4,
    brickWidthMm: 215,
    brickHeightMm: 65,
    jointMm: 10,
    shift: 0.5,
    strayMm: 3,
    clay: rgb('#8a4b36'),
    burnt: rgb('#5d3530'),
    mortar: rgb('#b9b1a3'),
  }).colour;
  const pitch = { across: 225 * 0.32, up: 75 * 0.32 };
  const torus = finish(
    compose({
      ...task(wall, Math.round(4 * pitch.across), Math.round(10 * pitch.up)),
      lattice: { acrossPx: pitch.across, upPx: pitch.up, stagger: 0.5 },
    }),
  );
  const { cells } = pictureOf(torus, wall);
  // Where the repeat begins is free; all copies keep one step.
  const [first] = cells.placements;
  const off = (mm: number, period: number) => Math.abs(mm - Math.round(mm / period) * period);
  for (const p of cells.placements) {
    const down = p.offsetYMm - first!.offsetYMm;
    expect(off(down, pitch.up)).toBeLessThan(2);
    const shift = Math.round(down / pitch.up) * 0.5 * pitch.across;
    expect(off(p.offsetXMm - first!.offsetXMm - shift, pitch.across)).toBeLessThan(2);
  }
});

test('turned copies are placed as they were solved', () => {
  const picture = stone(80, 60);
  const torus = finish(
    compose({
      ...task(picture, 80, 80),
      turns: ([0, 1, 2, 3] as const).flatMap((quarters) => [
        { quarters, flipped: false },
        { quarters, flipped: true },
      ]),
    }),
  );
  const { cells, repeat } = pictureOf(torus, picture, false);
  const turned = cells.placements.filter((p) => p.swapped || p.signX < 0 || p.signY < 0);
  expect(turned.length).toBeGreaterThan(3);
  // Lightness as the solver saw it, against the picture made from the placements.
  const { atlas } = torus;
  let differs = 0;
  for (let p = 0; p < torus.place.length; p++) {
    const seen = atlas.features[torus.place[p]! * 6]! / 16;
    const y = 0.2126 * repeat.r[p]! + 0.7152 * repeat.g[p]! + 0.0722 * repeat.b[p]!;
    if (Math.abs(116 * Math.cbrt(y) - 16 - seen) > 0.2) differs++;
  }
  expect(differs / torus.place.length).toBeLessThan(0.01);
});

describe('the least visible cut', () => {
  const torus = finish(
    closeByCut({
      sources: [sourceOf(STONE)],
      widthPx: 208,
      heightPx: 176,
      closed: { across: true, up: true },
    }),
  );

  test('closes an irregular sample: seam 0.85–1.15 on both edges, where edge to edge shows it', () => {
    const { repeat } = pictureOf(torus, STONE);
    const seam = seamFigures(repeat);
    for (const figure of [seam.acrossWidth, seam.acrossHeight]) {
      expect(figure).toBeGreaterThan(0.85);
      expect(figure).toBeLessThan(1.15);
    }
    const laid = makeColourPicture(208, 176);
    for (let y = 0; y < 176; y++)
      for (let x = 0; x < 208; x++)
        for (const c of ['r', 'g', 'b'] as const) laid[c][y * 208 + x] = STONE[c][y * 256 + x]!;
    expect(seamFigures(laid).acrossWidth).toBeGreaterThan(1.5);
  });

  test('away from the overlap the sample is left as it lies, wherever the repeat begins', () => {
    // Where the sample's middle lies tells where it begins.
    const middle = Array.from({ length: 208 * 176 }, (_, p) => p).find(
      (p) => originOf(torus, p).join() === '130,115',
    )!;
    const [dx, dy] = [130 - (middle % 208), 115 - Math.floor(middle / 208)];
    for (let y = 60; y < 170; y += 10)
      for (let x = 60; x < 200; x += 10) {
        const p = ((y - dy + 176) % 176) * 208 + ((x - dx + 208) % 208);
        expect(originOf(torus, p)).toEqual([x, y]);
      }
  });

  test('closes one way only when the other edge is left open', () => {
    const one = finish(
      closeByCut({
        sources: [sourceOf(STONE)],
        widthPx: 208,
        heightPx: 220,
        closed: { across: true, up: false },
      }),
    );
    const seam = seamFigures(pictureOf(one, STONE).repeat);
    expect(seam.acrossWidth).toBeLessThan(1.15);
    expect(seam.acrossHeight).toBeGreaterThan(1.5);
  });
});

describe('laying anew', () => {
  const torus = finish(compose(task(STONE, 192, 160)));
  const repeatMm = { width: 192, height: 160 };
  const sources = [{ picture: STONE, pxPerMm: ONE }];
  const laid = new Map<string, Placement>();
  const cells = cellsOf(torus, repeatMm, [ONE], undefined, laid);
  const evened = screenedPoissonCorrection(cells, repeatMm, sources, 20);
  const again = (area: Uint8Array, taken: Plane | null, seed = 5) =>
    finish(
      recomposeArea(torus, {
        sources: [sourceOf(STONE)],
        area,
        taken: [taken],
        seed,
        patchPx: { w: 60, h: 60 },
      }),
    );
  const box = (x0: number, y0: number, x1: number, y1: number) =>
    Uint8Array.from({ length: 192 * 160 }, (_, p) => {
      const [x, y] = [p % 192, Math.floor(p / 192)];
      return x >= x0 && x < x1 && y >= y0 && y < y1 ? 1 : 0;
    });
  const picture = (of: Cells, added: ColourPicture) =>
    applyPlacement({ repeatMm, layers: [], cells: of }, sources, 384, 320, learnBlendSpace(STONE), added);

  test('an area comes out otherwise, with no seam round it; outside not a bit is changed', () => {
    const area = box(60, 50, 110, 95);
    const { torus: after, free } = again(area, null);
    expect(free).toEqual(area);
    let [changed, outside] = [0, 0];
    for (let p = 0; p < area.length; p++) {
      if (after.place[p] === torus.place[p]) continue;
      if (area[p] === 0) outside++;
      else changed++;
    }
    expect(outside).toBe(0);
    expect(changed / area.reduce((sum, v) => sum + v, 0)).toBeGreaterThan(0.9);
    const now = cellsOf(after, repeatMm, [ONE], undefined, new Map(laid));
    const before = picture(cells, evened);
    const there = picture(now, screenedPoissonCorrection(now, repeatMm, sources, 20, { free, evened }));
    let [inside, beyond] = [0, 0];
    for (let y = 0; y < 320; y++)
      for (let x = 0; x < 384; x++) {
        const p = y * 384 + x;
        // Copies pass over within a cell, two pixels here.
        const near = x >= 118 && x < 222 && y >= 98 && y < 192;
        if (there.g[p] === before.g[p]) continue;
        if (near) inside++;
        else beyond++;
      }
    expect(beyond).toBe(0);
    expect(inside).toBeGreaterThan(6000);
    // Steps along the rim of the area against all steps of the same direction.
    const step = (x: number) => {
      let sum = 0;
      for (let y = 104; y < 186; y++) sum += Math.abs(there.g[y * 384 + x]! - there.g[y * 384 + x - 1]!);
      return sum / 82;
    };
    let all = 0;
    for (let x = 1; x < 384; x++) all += step(x) / 383;
    const rim = [118, 119, 120, 121, 219, 220, 221].reduce((sum, x) => sum + step(x) / 7, 0);
    expect(rim / all).toBeLessThan(1.3);
  });

  test('another seed comes out otherwise; the same seed the same', () => {
    const area = box(20, 20, 60, 60);
    const [a, b, c] = [again(area, null, 1), again(area, null, 1), again(area, null, 2)];
    expect(a.torus.place).toEqual(b.torus.place);
    expect(c.torus.place).not.toEqual(a.torus.place);
  });

  test('an area that reaches over a closed edge is laid anew on both sides of it', () => {
    const area = box(180, 40, 192, 80).map((v, p) =>
      v === 1 || (p % 192 < 14 && box(0, 40, 14, 80)[p]) ? 1 : 0,
    );
    const { torus: after } = again(area, null);
    expect(after.place.includes(-1)).toBe(false);
    expect(area.every((inArea, p) => inArea === 1 || after.place[p] === torus.place[p])).toBe(true);
    const seam = seamFigures(pictureOf(after, STONE).repeat);
    expect(seam.acrossWidth).toBeLessThan(1.2);
  });

  test('what is taken out of the sample is nowhere in the repeat any more', () => {
    // What lies at the middle of the repeat, with something about it.
    const [mx, my] = originOf(torus, 80 * 192 + 96);
    const taken = makePlane(256, 220);
    for (let y = 0; y < 220; y++)
      for (let x = 0; x < 256; x++) if (Math.hypot(x - mx, y - my) < 14) taken.data[y * 256 + x] = 1;
    const used = (of: ToroidalCanvas) => {
      let count = 0;
      for (let p = 0; p < of.place.length; p++) {
        const [x, y] = originOf(of, p);
        if (taken.data[y * 256 + x] === 1) count++;
      }
      return count;
    };
    expect(used(torus)).toBeGreaterThan(100);
    expect(used(again(new Uint8Array(192 * 160), taken).torus)).toBe(0);
  });

  test('says so when nothing is left to lay', () => {
    expect(() => again(box(10, 10, 40, 40), makePlane(256, 220, 1))).toThrow(/Nothing is left to lay/);
  });
});

test('evening out takes the step between two copies away, and leaves the mean and what lies apart', () => {
  // Two halves of one surface, one of them 20 % darker: as when a picture was lit from one side.
  const [w, h] = [128, 96];
  const picture = stone(w, h, 8);
  for (let y = 0; y < h; y++)
    for (let x = w / 2; x < w; x++)
      for (const c of ['r', 'g', 'b'] as const) picture[c][y * w + x] = picture[c][y * w + x]! * 0.8;
  // Copies by quarters: left half as it is, right half, and they meet at two outlines of the torus.
  const cells: Cells = {
    widthPx: w,
    heightPx: h,
    copy: Uint16Array.from({ length: w * h }, (_, p) => (p % w < w / 2 ? 0 : 1)),
    placements: [
      { sourceIndex: 0, signX: 1, signY: 1, offsetXMm: 0, offsetYMm: 0 },
      { sourceIndex: 0, signX: 1, signY: 1, offsetXMm: 0.001, offsetYMm: 0 },
    ],
    closed: { across: true, up: true },
    parted: { rows: new Uint8Array(h), columns: new Uint8Array(w) },
  };
  const repeatMm = { width: w, height: h };
  const sources = [{ picture, pxPerMm: ONE }];
  const place = (added: ColourPicture | null) =>
    applyPlacement({ repeatMm, layers: [], cells }, sources, w, h, learnBlendSpace(picture), added);
  const edge = (p: ColourPicture) => seamFigures(p).acrossWidth;
  const [before, after] = [place(null), place(screenedPoissonCorrection(cells, repeatMm, sources, 30))];
  expect(edge(before)).toBeGreaterThan(1.6);
  expect(edge(after)).toBeLessThan(1.15);
  expect(mean(after.g) / mean(before.g)).toBeCloseTo(1, 1);
});
