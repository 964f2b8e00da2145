import fc from 'fast-check';
import { fractalNoise, hashUnit, makeColourPicture, type ColourPicture } from '../../raster';
import type { Cells, Placement } from '../placement';
import { labPlanes, mortarOf, segmented, segmentedByJoints, type JointLook } from '../../pieces';
import { brokenPieces, jointEnds, type Masonry, type TonedPieces } from '.';
import { whereCopiesMeet } from '../where-copies-meet';

const [BRICK, COURSE] = [44, 20];

/** Half bond that closes on both axes, or is cut anywhere; joints light or dark, of any width. */
function wall(
  widthPx: number,
  heightPx: number,
  { jointPx = 3, joint = 0.5, face = 0.14, across = 0 }: Record<string, number> = {},
): ColourPicture {
  const p = makeColourPicture(widthPx, heightPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const course = Math.floor(y / COURSE);
      const along = (((x - across + (course % 2) * (BRICK / 2)) % BRICK) + BRICK) % BRICK;
      const grain = 1 + 0.25 * (fractalNoise(x / 400, y / 400, 90, 90, 2, 0.5, 3) - 0.5);
      const v = along < jointPx || y % COURSE < jointPx ? joint : face * grain;
      p.r[y * widthPx + x] = v;
      p.g[y * widthPx + x] = v * 0.9;
      p.b[y * widthPx + x] = v * 0.8;
    }
  return p;
}

/** Courses of pieces. @param fromJoint how far a place lies behind the joint before it, px */
function courses(widthPx: number, heightPx: number, fromJoint: (course: number, x: number) => number) {
  const p = makeColourPicture(widthPx, heightPx);
  for (let y = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++) {
      const isJoint = y % COURSE < 3 || fromJoint(Math.floor(y / COURSE), x) < 3;
      for (const c of ['r', 'g', 'b'] as const) p[c][y * widthPx + x] = isJoint ? 0.5 : 0.14;
    }
  return p;
}

/** How far a place lies behind the end of a board; boards are 2 to 5 times as long as wide. */
function fromEnd(course: number, x: number): number {
  let end = -60 * hashUnit(course, 0, 1, 4);
  for (let k = 1; ; k++) {
    const next = end + 40 + 70 * hashUnit(course, k, 2, 4);
    if (x < next) return x - end;
    end = next;
  }
}
const WIDTHS = [3, 6, 12];
const masonry = (picture: ColourPicture, look: JointLook, wraps: boolean): Masonry & TonedPieces => {
  const lab = labPlanes(picture);
  const pieces = segmented(lab, look, wraps);
  return { pieces, lab, mortar: mortarOf(lab, look, pieces, wraps) };
};
const told = (picture: ColourPicture) => segmentedByJoints(labPlanes(picture), WIDTHS)!;

describe('pieces are segmented by their joints', () => {
  test.each([
    ['light and thin', { jointPx: 2, joint: 0.5, face: 0.14 }],
    ['light and wide', { jointPx: 6, joint: 0.5, face: 0.14 }],
    ['dark', { jointPx: 3, joint: 0.02, face: 0.3 }],
  ])('%s joints: every brick is one piece of its size', (_name, look) => {
    const { pieces, widthPx, heightPx } = told(wall(9 * BRICK, 12 * COURSE, look)).pieces;
    const whole = pieces.filter((p) => !p.cutOff);
    // The outer courses touch the edges, and so does a brick at each end of the inner ones.
    expect(whole.length).toBeGreaterThan(60);
    for (const { widthPx: w, heightPx: h } of whole) {
      expect(Math.abs(w - (BRICK - look.jointPx))).toBeLessThanOrEqual(3);
      expect(Math.abs(h - (COURSE - look.jointPx))).toBeLessThanOrEqual(3);
    }
    expect([widthPx, heightPx]).toEqual([9 * BRICK, 12 * COURSE]);
  });

  test('grain alone has no pieces', () => {
    const p = makeColourPicture(300, 240);
    for (let i = 0; i < p.r.length; i++)
      p.r[i] = p.g[i] = p.b[i] = 0.3 + 0.1 * fractalNoise((i % 300) / 300, i / 300 / 300, 40, 40, 3, 0.6, 5);
    expect(segmentedByJoints(labPlanes(p), WIDTHS)).toBeNull();
  });

  test('over edges that wrap a piece is one, wherever the edge runs through it', () => {
    const { look } = told(wall(9 * BRICK, 12 * COURSE));
    fc.assert(
      fc.property(fc.integer({ min: 0, max: BRICK - 1 }), (across) => {
        const { pieces } = segmented(labPlanes(wall(6 * BRICK, 8 * COURSE, { across })), look, true);
        expect(pieces).toHaveLength(6 * 8);
        const areas = pieces.map((p) => p.areaPx);
        expect(Math.max(...areas) / Math.min(...areas)).toBeLessThan(1.1);
        expect(pieces.every((p) => !p.cutOff)).toBe(true);
      }),
      { numRuns: 8 },
    );
  });
});

describe('broken pieces', () => {
  const picture = wall(9 * BRICK, 12 * COURSE);
  const sample = told(picture);
  const known = masonry(picture, sample.look, false);
  const judged = (picture: ColourPicture, meet: (x: number, y: number) => boolean) => {
    const { widthPx: w, heightPx: h } = picture;
    const mask = Uint8Array.from({ length: w * h }, (_, i) => (meet(i % w, Math.floor(i / w)) ? 1 : 0));
    return brokenPieces(known, masonry(picture, sample.look, true), mask);
  };
  const atEdges = (x: number, y: number) => x === 0 || y === 0;

  test('a repeat of whole bonds has none; of seven courses, or seven and a half bricks, it has', () => {
    expect(judged(wall(6 * BRICK, 8 * COURSE), atEdges)).toMatchObject({ pieces: 48, broken: [] });
    // Half a brick too much: at the edge bricks are half or one and a half long.
    const half = judged(wall(6.5 * BRICK, 8 * COURSE), atEdges)!;
    expect(half.broken.length).toBeGreaterThanOrEqual(4);
    expect(new Set(half.broken.map((b) => b.kind)).size).toBeGreaterThanOrEqual(1);
    for (const { left, width } of half.broken) expect(left + width > 0.99 || left < 0.01).toBe(true);
    // Seven courses and a part of one.
    const cut = judged(wall(6 * BRICK, 7.5 * COURSE), atEdges)!;
    expect(cut.broken.length).toBeGreaterThanOrEqual(6);
    expect(cut.broken.every((b) => b.kind === 'cut')).toBe(true);
  });

  test.each([
    // Three courses of stretchers, one of headers: pieces of two lengths.
    [
      'a garden wall bond',
      (course: number, x: number) => (course % 4 === 3 ? (x + 16) % 33 : (x + 33 * (course % 2)) % 66),
      true,
    ],
    // Ends of boards lie anywhere.
    ['boards of any length', (course: number, x: number) => fromEnd(course, x), false],
  ])('%s is judged, or left alone', (_name, fromJoint, isJudged) => {
    const picture = courses(9 * BRICK, 16 * COURSE, fromJoint);
    const { look } = told(picture);
    const judged = brokenPieces(
      masonry(picture, look, false),
      masonry(courses(6 * BRICK, 8 * COURSE, fromJoint), look, true),
      new Uint8Array(6 * BRICK * 8 * COURSE),
    );
    expect(judged !== null).toBe(isJudged);
    if (isJudged) expect(judged!.broken).toEqual([]);
  });

  test('two bricks without the joint between them are fused', () => {
    const picture = wall(6 * BRICK, 8 * COURSE);
    for (let y = 3 * COURSE + 3; y < 4 * COURSE; y++)
      for (let x = 3.5 * BRICK - 1; x < 3.5 * BRICK + 4; x++)
        for (const c of ['r', 'g', 'b'] as const) picture[c][y * 6 * BRICK + x] = 0.14;
    const { broken } = judged(picture, (x) => Math.abs(x - 3.5 * BRICK) < 3)!;
    expect(broken).toHaveLength(1);
    expect(broken[0]).toMatchObject({ kind: 'fused' });
    expect(broken[0]!.width * 6).toBeCloseTo(2, 0);
    // Where copies do not meet the sample itself is so.
    expect(judged(picture, atEdges)!.broken).toEqual([]);
  });

  test('a joint that ends in a piece is seen, also where one face of the sample is strewn with marks of its tone', () => {
    const [w, h] = [6 * BRICK, 8 * COURSE];
    const half = wall(w, h);
    for (let y = 3 * COURSE + 11; y < 4 * COURSE; y++)
      for (let x = 3.5 * BRICK - 1; x < 3.5 * BRICK + 4; x++)
        for (const c of ['r', 'g', 'b'] as const) half[c][y * w + x] = 0.14;
    const own = masonry(wall(3.5 * BRICK, 5 * COURSE), sample.look, false);
    const strewn = { ...own, mortar: own.mortar.slice() };
    for (const left of [52, 74])
      for (let k = 0; k < 33; k++)
        strewn.mortar[(2 * COURSE + Math.floor(k / 3)) * 3.5 * BRICK + left + (k % 3)] = 1;
    expect(jointEnds(strewn, false)).toHaveLength(2);
    const meet = new Uint8Array(w * h).fill(1);
    for (const of of [own, strewn])
      expect(brokenPieces(of, masonry(half, sample.look, true), meet)).toMatchObject({ jointEnds: 1 });
  });

  describe('made of parts of several pieces', () => {
    /** A wall whose fourth course has a brick that is darker from its middle on. */
    const halved = (by: number) => {
      const picture = wall(6 * BRICK, 8 * COURSE);
      for (let y = 3 * COURSE; y < 4 * COURSE; y++)
        for (let x = 3 * BRICK; x < 3.5 * BRICK; x++)
          for (const c of ['r', 'g', 'b'] as const)
            if (picture.r[y * 6 * BRICK + x]! < 0.3) picture[c][y * 6 * BRICK + x]! *= by;
      return picture;
    };
    const inTheMiddle = (x: number) => Math.abs(x - 3 * BRICK) < 1;

    test('a brick whose tone changes where copies meet is broken, though its outline is whole', () => {
      const { broken } = judged(halved(0.7), inTheMiddle)!;
      expect(broken).toHaveLength(1);
      expect(broken[0]).toMatchObject({ kind: 'mixed' });
      expect(Math.round(8 * broken[0]!.top - 0.1)).toBe(3);
      // Light or dark, it is the same.
      expect(judged(halved(1.4), inTheMiddle)!.broken).toMatchObject([{ kind: 'mixed' }]);
    });

    test('not where the change is too small to be seen, or copies do not meet', () => {
      expect(judged(halved(0.97), inTheMiddle)!.broken).toEqual([]);
      expect(judged(halved(0.7), (x) => Math.abs(x - BRICK) < 1)!.broken).toEqual([]);
    });

    test('not where bricks of the sample change their tone in the same way', () => {
      const shaded = (picture: ColourPicture) => {
        const { widthPx: w, heightPx: h } = picture;
        for (let i = 0; i < w * h; i++) {
          const [x, course] = [i % w, Math.floor(i / w / COURSE)];
          const along = (x + (course % 2) * (BRICK / 2)) % BRICK;
          if (picture.r[i]! < 0.3 && along > BRICK / 2)
            for (const c of ['r', 'g', 'b'] as const) picture[c][i]! *= 0.7;
        }
        return picture;
      };
      const { look } = sample;
      const [w, h] = [6 * BRICK, 8 * COURSE];
      const meet = Uint8Array.from({ length: w * h }, (_, i) => (inTheMiddle(i % w) ? 1 : 0));
      const own = masonry(shaded(wall(9 * BRICK, 12 * COURSE)), look, false);
      expect(brokenPieces(own, masonry(shaded(wall(w, h)), look, true), meet)!.broken).toEqual([]);
    });
  });

  test('too few whole pieces say nothing', () => {
    const few = { ...known, pieces: { ...sample.pieces, pieces: sample.pieces.pieces.slice(0, 3) } };
    expect(brokenPieces(few, known, new Uint8Array(sample.pieces.label.length))).toBeNull();
  });
});

test('copies meet along their outlines, and over the edges where another one goes on', () => {
  const at = (offsetXMm: number): Placement => ({
    sourceIndex: 0,
    signX: 1,
    signY: 1,
    offsetXMm,
    offsetYMm: 0,
  });
  const cells = (copy: number[], placements: Placement[]): Cells => ({
    widthPx: 8,
    heightPx: 2,
    copy: Uint16Array.from([...copy, ...copy]),
    placements,
    closed: { across: true, up: true },
    parted: { rows: new Uint8Array(16), columns: new Uint8Array(16) },
  });
  const meetIn = (copy: number[], placements: Placement[]) =>
    Array.from(
      whereCopiesMeet(
        { repeatMm: { width: 80, height: 20 }, layers: [], cells: cells(copy, placements) },
        8,
        2,
      ).subarray(0, 8),
    );
  // Up the repeat everything meets at the edge: rows of one copy do not go on over it.
  const upright = [at(0), at(100)].map((p) => ({ ...p, signY: 1 as const }));
  expect(meetIn([0, 0, 0, 1, 1, 1, 1, 1], upright)).toEqual([1, 1, 1, 1, 1, 1, 1, 1]);
  // Layers: edges, and where both have weight.
  const ramp = (weight: number[]) => ({ atMm: [0, 40, 80], weight });
  const flat = { atMm: [0, 20], weight: [1, 1] };
  const layers = [
    { placement: at(0), across: ramp([0, 0, 1]), up: flat },
    { placement: at(100), across: ramp([1, 1, 0]), up: flat },
  ];
  const mixed = whereCopiesMeet({ repeatMm: { width: 80, height: 40 }, layers }, 8, 4);
  expect(Array.from(mixed.subarray(8, 16))).toEqual([1, 0, 0, 0, 1, 1, 1, 1]);
});
