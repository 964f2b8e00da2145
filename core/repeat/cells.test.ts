import { makeColourPicture, mean, seededRandom } from '../raster';
import { applyCells } from './cells';
import { screenedPoissonCorrection } from './screened-poisson-correction';
import type { Cells } from './placement';

const [W, H] = [48, 32];
const random = seededRandom(9);
const picture = makeColourPicture(W, H);
for (let i = 0; i < W * H; i++) picture.r[i] = picture.g[i] = picture.b[i] = 0.2 + 0.4 * random.next();
const repeatMm = { width: W, height: H };
const ONE = [{ picture, pxPerMm: { x: 1, y: 1 } }];
const placed = (offsetXMm: number, offsetYMm: number) =>
  ({ sourceIndex: 0, signX: 1, signY: 1, offsetXMm, offsetYMm }) as const;
const cellsOfCopies = (
  copyAt: (x: number, y: number) => number,
  placements: Cells['placements'],
  parted: Partial<Cells['parted']> = {},
): Cells => ({
  widthPx: W,
  heightPx: H,
  copy: Uint16Array.from({ length: W * H }, (_, p) => copyAt(p % W, Math.floor(p / W))),
  placements,
  closed: { across: true, up: true },
  parted: { rows: new Uint8Array(H), columns: new Uint8Array(W), ...parted },
});

test('a copy that runs on over the closed edge is seen as it lies, to the last pixel and at twice the density', () => {
  // The whole sample, rolled by 20 and 11: four copies that meet themselves at the edges.
  const cells = cellsOfCopies(
    (x, y) => (x < W - 20 ? 0 : 1) + (y < H - 11 ? 0 : 2),
    [placed(20, 11), placed(20 - W, 11), placed(20, 11 - H), placed(20 - W, 11 - H)],
  );
  const same = applyCells(cells, repeatMm, ONE, W, H, null);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      expect(same.g[y * W + x]).toBe(picture.g[((y + 11) % H) * W + ((x + 20) % W)]);
  // Twice as dense, every pixel twice: nothing is mixed but across the sample's own edges.
  const dense = makeColourPicture(2 * W, 2 * H);
  for (const c of ['r', 'g', 'b'] as const)
    for (let i = 0; i < 4 * W * H; i++)
      dense[c][i] = picture[c][(Math.floor(i / (2 * W)) >> 1) * W + ((i % (2 * W)) >> 1)]!;
  const twice = applyCells(
    cells,
    repeatMm,
    [{ picture: dense, pxPerMm: { x: 2, y: 2 } }],
    2 * W,
    2 * H,
    null,
  );
  let off = 0;
  for (let y = 0; y < 2 * H; y++)
    for (let x = 0; x < 2 * W; x++) {
      const [sx, sy] = [(x + 40) % (2 * W), (y + 22) % (2 * H)];
      const atEdge = Math.min(sx, sy, 2 * W - 1 - sx, 2 * H - 1 - sy) < 2;
      if (!atEdge && Math.abs(twice.g[y * 2 * W + x]! - dense.g[sy * 2 * W + sx]!) > 1e-6) off++;
    }
  expect(off).toBe(0);
});

test('a copy whose offset falls between two pixels is rounded alike on both sides of an edge, and in every turn', () => {
  // Half pixels are common: lengths of repeats are whole pixels, and cells are a power of two times as long.
  const dense = { picture, pxPerMm: { x: 1, y: 1 } };
  for (let k = 0; k < 80; k++) {
    const mm = { width: W * random.between(0.3, 30), height: 0 };
    const px = W / mm.width;
    mm.height = H / px;
    const [x, y] = [(random.whole(20) + 0.5) / px, (random.whole(20) - 10.5) / px];
    const cells = cellsOfCopies(
      (u) => (u < 30 ? 0 : 1),
      [
        { ...placed(x, y) },
        // The same copy as it is named beyond the edge: told from the repeat's own length and height.
        { ...placed(x - mm.width + (W / px) * (1 + 1e-13 * random.between(-1, 1)), y + mm.height - H / px) },
      ],
    );
    const rows = applyCells(cells, mm, [{ ...dense, pxPerMm: { x: px, y: px } }], W, H, null);
    const one = cellsOfCopies(() => 0, [placed(x, y)]);
    const alone = applyCells(one, mm, [{ ...dense, pxPerMm: { x: px, y: px } }], W, H, null);
    // The same places; where the two names meet, values pass through the root of light.
    for (const c of ['r', 'g', 'b'] as const)
      expect(Math.max(...rows[c].map((v, i) => Math.abs(v - alone[c][i]!)))).toBeLessThan(1e-6);
  }
});

test('some rows or columns are drawn as they are in the whole', () => {
  const cells = cellsOfCopies((x, y) => (x + y < 40 ? 0 : 1), [placed(3.3, 2.2), placed(9.7, -4)]);
  const whole = applyCells(cells, repeatMm, ONE, 96, 64, null);
  const rows = applyCells(cells, repeatMm, ONE, 96, 64, null, { rows: [63, 0, 17] });
  expect([rows.widthPx, rows.heightPx]).toEqual([96, 3]);
  for (const [k, y] of [63, 0, 17].entries())
    expect(rows.g.slice(96 * k, 96 * (k + 1))).toEqual(whole.g.slice(96 * y, 96 * (y + 1)));
  const columns = applyCells(cells, repeatMm, ONE, 96, 64, null, { columns: [95, 5] });
  expect([columns.widthPx, columns.heightPx]).toEqual([2, 64]);
  for (let y = 0; y < 64; y++)
    expect([columns.b[2 * y], columns.b[2 * y + 1]]).toEqual([whole.b[96 * y + 95], whole.b[96 * y + 5]]);
});

test('a quarter turn and a reflection are applied about their own axes', () => {
  const side = 16;
  const small = makeColourPicture(side, side);
  for (let i = 0; i < side * side; i++) small.g[i] = random.next();
  const squareMm = { width: side, height: side };
  const whole = (p: Cells['placements'][number]): Cells => ({
    widthPx: side,
    heightPx: side,
    copy: new Uint16Array(side * side),
    placements: [p],
    closed: { across: false, up: false },
    parted: { rows: new Uint8Array(side), columns: new Uint8Array(side) },
  });
  const lay = (p: Cells['placements'][number]) =>
    applyCells(whole(p), squareMm, [{ picture: small, pxPerMm: { x: 1, y: 1 } }], side, side, null).g;
  const mirrored = lay({ ...placed(side, 0), signX: -1 });
  // sample x = y of the repeat, sample y = 16 − x: a quarter turn.
  const turned = lay({ ...placed(0, side), swapped: true, signY: -1 });
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      expect(mirrored[y * side + x]).toBe(small.g[y * side + side - 1 - x]);
      expect(turned[y * side + x]).toBe(small.g[(side - 1 - x) * side + y]);
    }
});

test('what is evened out in one piece does not go over a joint to the next', () => {
  // Two courses; in the upper one two copies of different lightness meet, in the lower one nothing does.
  const two = makeColourPicture(2 * W, H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < 2 * W; x++)
      two.r[y * 2 * W + x] = two.g[y * 2 * W + x] = two.b[y * 2 * W + x] = x < W ? 0.5 : 0.3;
  const sources = [{ picture: two, pxPerMm: { x: 1, y: 1 } }];
  const copyAt = (x: number, y: number) => (y < H / 2 && x >= W / 2 ? 1 : 0);
  const added = (rows: Uint8Array) =>
    screenedPoissonCorrection(
      {
        ...cellsOfCopies(copyAt, [placed(0, 0), placed(W, 0)], { rows }),
        closed: { across: false, up: true },
      },
      repeatMm,
      sources,
      12,
    ).g;
  const strongest = (of: Float32Array, from: number, to: number) =>
    Math.max(...of.slice(from * W, to * W).map(Math.abs));
  const joints = new Uint8Array(H);
  joints[H / 2 - 1] = joints[H - 1] = 1;
  const parted = added(joints);
  expect(strongest(parted, 0, H / 2)).toBeGreaterThan(0.03);
  expect(strongest(parted, H / 2, H)).toBeLessThan(1e-6);
  expect(strongest(added(new Uint8Array(H)), H / 2, H)).toBeGreaterThan(0.01);
  // What is taken from one side is given to the other.
  expect(Math.abs(mean(parted))).toBeLessThan(1e-3);
});

test('nothing is evened out from where a joint meets a face; a difference in tone beside it is', () => {
  // Two copies that meet in the middle, one lighter than the other by a tone; a pale joint of the one ends there.
  const two = makeColourPicture(2 * W, H);
  const inJoint = (x: number, y: number) => x < W && Math.abs(y - H / 2) < 2;
  for (let i = 0; i < two.r.length; i++) {
    const [x, y] = [i % (2 * W), Math.floor(i / (2 * W))];
    two.r[i] = two.g[i] = two.b[i] = inJoint(x, y) ? 0.8 : x < W ? 0.22 : 0.2;
  }
  const sources = [{ picture: two, pxPerMm: { x: 1, y: 1 } }];
  const cells = {
    ...cellsOfCopies((x) => (x >= W / 2 ? 1 : 0), [placed(0, 0), placed(W, 0)], {}),
    closed: { across: false, up: false },
  };
  const added = (tonesOnly: boolean) =>
    screenedPoissonCorrection(cells, repeatMm, sources, 12, undefined, tonesOnly).g;
  const at = (of: Float32Array, x: number, y: number) => of[y * W + x]!;
  // Beyond the end of the joint the face would be lit up by half of the step.
  expect(at(added(false), W / 2, H / 2)).toBeGreaterThan(0.1);
  expect(Math.abs(at(added(true), W / 2, H / 2))).toBeLessThan(0.03);
  for (const tonesOnly of [true, false]) {
    const step = at(added(tonesOnly), W / 2, 2) - at(added(tonesOnly), W / 2 - 1, 2);
    expect(step).toBeCloseTo(Math.sqrt(0.22) - Math.sqrt(0.2), 2);
  }
});
