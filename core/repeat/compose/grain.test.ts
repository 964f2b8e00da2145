import fc from 'fast-check';
import { makeColourPicture, seededRandom, type ColourPicture } from '../../raster';
import { makeAtlas, type ComposeSource } from './atlas';
import { compose } from './solve';
import { seamCost, type ToroidalCanvas } from './toroidal-canvas';

/** Fibres a pixel or two thick that run across the picture for so many pixels, each of its own lightness. */
function fibres(w: number, h: number, longPx: number, seed: number): ColourPicture {
  const random = seededRandom(seed);
  const out = makeColourPicture(w, h);
  for (let y = 0; y < h; y++) {
    let [left, light] = [0, 0];
    for (let x = 0; x < w; x++) {
      if (left-- <= 0) [left, light] = [random.between(0.5, 1.5) * longPx, random.between(0.25, 0.45)];
      const p = y * w + x;
      out.r[p] = out.g[p] = out.b[p] = light;
    }
  }
  return out;
}
const turned = ({ widthPx: w, heightPx: h, g }: ColourPicture): ColourPicture => {
  const out = makeColourPicture(h, w);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) out.r[x * h + y] = out.g[x * h + y] = out.b[x * h + y] = g[y * w + x]!;
  return out;
};
const sourceOf = (picture: ColourPicture): ComposeSource => ({ picture, keptOut: null, held: null });
const atlasOf = (picture: ColourPicture) => makeAtlas([sourceOf(picture)], [{ quarters: 0, flipped: false }]);

test('in grain a difference counts more across the fibres than among them, and as much the other way when it stands', () => {
  const { counts } = atlasOf(fibres(160, 120, 40, 1));
  expect(counts.beside).toBeGreaterThan(28);
  expect(counts.below).toBeLessThan(10);
  const { counts: standing } = atlasOf(turned(fibres(160, 120, 40, 1)));
  expect(standing).toEqual({ beside: counts.below, below: counts.beside });
});

test('in what has no grain it counts the same both ways', () => {
  const random = seededRandom(3);
  const noise = makeColourPicture(120, 120);
  for (let p = 0; p < 120 * 120; p++) noise.r[p] = noise.g[p] = noise.b[p] = random.between(0.2, 0.6);
  const { counts } = atlasOf(noise);
  expect(Math.abs(counts.beside - 16)).toBeLessThanOrEqual(1);
  expect(Math.abs(counts.below - 16)).toBeLessThanOrEqual(1);
});

test('what stands side by side in the sample has no seam, and every seam costs what it costs the other way round', () => {
  const atlas = atlasOf(fibres(60, 50, 20, 5));
  const { first, widthPx: w, heightPx: h } = atlas.parts[0]!;
  const place = fc
    .record({ x: fc.integer({ min: 1, max: w - 2 }), y: fc.integer({ min: 1, max: h - 2 }) })
    .map(({ x, y }) => first + y * atlas.stride + x);
  fc.assert(
    fc.property(place, place, place, fc.constantFrom(1, atlas.stride), (a, b, c, step) => {
      expect(seamCost(atlas, a, a + step, step, 500)).toBe(0);
      // From a to b and from b to c is never cheaper than from a to c, to a rounded sixteenth: cuts are exact.
      const [ab, bc, ac] = [
        seamCost(atlas, a, b + step, step, 0),
        seamCost(atlas, b, c + step, step, 0),
        seamCost(atlas, a, c + step, step, 0),
      ];
      expect(ac).toBeLessThanOrEqual(ab + bc + 3);
      expect(ab).toBe(seamCost(atlas, b, a + step, step, 0));
    }),
    { numRuns: 300 },
  );
});

test('outlines run along the fibres: across them they are far shorter than along', () => {
  const picture = fibres(200, 80, 60, 8);
  const steps = compose({
    sources: [sourceOf(picture)],
    widthPx: 256,
    heightPx: 192,
    closed: { across: true, up: true },
    turns: [{ quarters: 0, flipped: false }],
    seed: 1,
    patchPx: { w: 110, h: 60 },
  });
  let next = steps.next();
  while (!next.done) next = steps.next();
  const { widthPx: W, heightPx: H, place, atlas }: ToroidalCanvas = next.value;
  let [across, along] = [0, 0];
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const here = place[y * W + x]!;
      if (place[y * W + ((x + 1) % W)] !== here + 1) across++;
      if (place[((y + 1) % H) * W + x] !== here + atlas.stride) along++;
    }
  expect(across).toBeGreaterThan(0);
  expect(across).toBeLessThan(along / 2);
});
