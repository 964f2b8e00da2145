import { makeColourPicture, seededRandom } from '../../raster';
import { originCandidates, withOrigin, offBy } from './origin';
import { makeAtlas } from './atlas';
import { makeToroidalCanvas, type ToroidalCanvas } from './toroidal-canvas';

const [W, H] = [64, 48];
const sample = makeColourPicture(80, 60);
const random = seededRandom(6);
for (let i = 0; i < sample.r.length; i++) sample.r[i] = sample.g[i] = sample.b[i] = 0.3 + 0.2 * random.next();
const atlas = makeAtlas([{ picture: sample, keptOut: null, held: null }], [{ quarters: 0, flipped: false }]);
function laid(
  joints?: Parameters<typeof makeToroidalCanvas>[4],
  closed = { across: true, up: true },
): ToroidalCanvas {
  const torus = makeToroidalCanvas(atlas, W, H, closed, joints);
  const { first } = atlas.parts[0]!;
  for (let p = 0; p < W * H; p++) torus.place[p] = first + Math.floor(p / W) * atlas.stride + (p % W);
  return torus;
}
/** Lines whose steps are as given: columns of a luminance that goes up and down by them. */
function withSteps(steps: (x: number) => number) {
  const out = makeColourPicture(W, H);
  let light = 0.5;
  for (let x = 0; x < W; x++) {
    light += (x % 2 ? 1 : -1) * steps(x);
    for (let y = 0; y < H; y++) out.r[y * W + x] = out.g[y * W + x] = out.b[y * W + x] = light ** 3;
  }
  return out;
}

test('it begins where lines differ as on average, not where they hardly do and not at the steepest', () => {
  const steps = (x: number) => (x < 20 ? 0.01 : x === 40 ? 0.12 : x >= 50 && x < 54 ? 0.024 : 0.03);
  const { across } = originCandidates(laid(), withSteps(steps), {});
  expect(across).toHaveLength(W);
  expect(across[0]!.line).toBeGreaterThanOrEqual(50);
  expect(across[0]!.line).toBeLessThan(54);
  // The best first.
  for (let k = 1; k < W; k++) expect(across[k]!.off).toBeGreaterThanOrEqual(across[k - 1]!.off);
  expect(across.at(-1)!.line).toBe(40);
});

test('a line with a step of its own beside it is not a good one', () => {
  expect(offBy(1, 1, 1)).toBe(0);
  expect(offBy(1, 1, 2.5)).toBeCloseTo(Math.log(1.5), 6);
  expect(offBy(1, 0.5, 1)).toBeCloseTo(Math.log(2), 6);
});

test('a regular structure begins in the middle of a joint', () => {
  const torus = laid({ across: { period: 1 / 4, first: 5 / W }, up: null });
  const { across } = originCandidates(
    torus,
    withSteps(() => 0.02),
    { across: 4 },
  );
  expect(across.map((b) => b.line).sort((a, b) => a - b)).toEqual([5, 21, 37, 53]);
});

test('joints that nobody told of are seen, and it begins in the middle of one', () => {
  // Four modules of 16 lines, each with a joint between lines 9 and 12.
  const tiles = withSteps((x) => (x % 16 === 9 || x % 16 === 12 ? 0.1 : 0.01));
  const { across } = originCandidates(laid(), tiles, { across: 4 });
  expect(across.map((b) => b.line).sort((a, b) => a - b)).toEqual([11, 27, 43, 59]);
  // Without modules every line may be it.
  expect(originCandidates(laid(), tiles, {}).across).toHaveLength(W);
});

test('where edges do not meet it begins where it is', () => {
  const { across, up } = originCandidates(
    laid(undefined, { across: false, up: true }),
    withSteps(() => 0.02),
    {},
  );
  expect(across).toEqual([]);
  expect(up).toHaveLength(H);
});

test('begun elsewhere, it is the same repeat, and begun back it is what it was', () => {
  const torus = laid({ across: { period: 1 / 4, first: 5 / W }, up: null });
  const begun = withOrigin(torus, { x: 13, y: 40 });
  for (let y = 0; y < H; y += 3)
    for (let x = 0; x < W; x += 5)
      expect(begun.place[y * W + x]).toBe(torus.place[((y + 40) % H) * W + ((x + 13) % W)]);
  for (let x = 0; x < W; x++) expect(begun.off.column[x]).toBe(torus.off.column[(x + 13) % W]);
  expect(begun.begins).toEqual({ x: 13, y: 40 });
  const back = withOrigin(begun, { x: W - 13, y: H - 40 });
  expect(back.place).toEqual(torus.place);
  expect(back.off).toEqual(torus.off);
});
