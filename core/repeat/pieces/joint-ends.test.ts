import { makeColourPicture, type ColourPicture } from '../../raster';
import { labPlanes, mortarOf, segmented, type JointLook } from '../../pieces';
import { jointEnds } from '.';

const SIZE = 120;
const LOOK: JointLook = { channel: 0, sign: -1, widthPx: 9 };
const [FACE, JOINT] = [0.4, 0.05];

/** Tiles of 40 px with dark joints 4 px wide, with something painted over them. */
function tiles(paint: (x: number, y: number) => number | undefined = () => undefined): ColourPicture {
  const picture = makeColourPicture(SIZE, SIZE);
  for (let i = 0; i < picture.r.length; i++) {
    const [x, y] = [i % SIZE, Math.floor(i / SIZE)];
    const laid = x % 40 < 4 || y % 40 < 4 ? JOINT : FACE;
    picture.r[i] = picture.g[i] = picture.b[i] = paint(x, y) ?? laid;
  }
  return picture;
}

function endsOf(picture: ColourPicture, wraps: boolean) {
  const lab = labPlanes(picture);
  const pieces = segmented(lab, LOOK, wraps);
  return { ends: jointEnds({ pieces, mortar: mortarOf(lab, LOOK, pieces, wraps) }, wraps), pieces };
}
const within = (v: number, from: number, to: number) => v >= from && v < to;

test('crossings, T-junctions, corners and joints that leave the picture are no ends', () => {
  expect(endsOf(tiles(), true).ends).toEqual([]);
  expect(endsOf(tiles(), false).ends).toEqual([]);
  // Without the joint between two tiles there are T-junctions, …
  const paved = tiles((x, y) => (within(x, 40, 44) && within(y, 44, 80) ? FACE : undefined));
  expect(endsOf(paved, true).ends).toEqual([]);
  // … and without two at a crossing a corner.
  const corner = tiles((x, y) =>
    (within(x, 40, 44) && within(y, 44, 80)) || (within(y, 40, 44) && within(x, 44, 80)) ? FACE : undefined,
  );
  expect(endsOf(corner, true).ends).toEqual([]);
});

test.each([
  ['inside', 40],
  ['over the edge where copies meet', 0],
])('a joint that stops %s has an end on each side of the gap, in a tile beside it', (_where, left) => {
  const stops = (x: number, y: number) => (within(x, left, left + 4) && within(y, 55, 69) ? FACE : undefined);
  const { ends, pieces } = endsOf(tiles(stops), true);
  expect(ends).toHaveLength(2);
  for (const { x, y, piece } of ends) {
    expect(within(x, left, left + 4)).toBe(true);
    expect(Math.min(Math.abs(y - 54), Math.abs(y - 69))).toBeLessThanOrEqual(4);
    const beside = [left - 10, left + 14].map((u) => pieces.label[62 * SIZE + ((u + SIZE) % SIZE)]);
    expect(beside).toContain(piece);
  }
});

test('a wedge of mortar wider than the joints is none, and joints that run into it do not end', () => {
  const wedge = (x: number, y: number) =>
    within(y, 36 - (x - 40) / 2, 48 + (x - 40) / 2) && within(x, 40, 76) ? JOINT : undefined;
  const picture = tiles(wedge);
  const lab = labPlanes(picture);
  const pieces = segmented(lab, LOOK, true);
  const middle = 42 * SIZE + 70;
  expect(pieces.label[middle]).toBeGreaterThanOrEqual(0);
  const mortar = mortarOf(lab, LOOK, pieces, true);
  expect(mortar[middle]).toBe(1);
  expect(mortar[60 * SIZE + 60]).toBe(0);
  expect(jointEnds({ pieces, mortar }, true)).toEqual([]);
});
