import { fractalNoise, makeColourPicture, seededRandom, type ColourPicture } from '../raster';
import { likenessTo } from './likeness';
import type { PlacementMap } from './placement';

const SIDE = 128;
const MM = { width: SIDE, height: SIDE };

const picture = (at: (x: number, y: number) => number): ColourPicture => {
  const p = makeColourPicture(SIDE, SIDE);
  for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = at(i % SIDE, Math.floor(i / SIDE));
  return p;
};
/** Light is the same on all edges, so that it closes as it is. */
const mottled = (seed: number) => (x: number, y: number) =>
  0.3 + 0.1 * fractalNoise(x / SIDE, y / SIDE, 16, 16, 3, 0.5, seed);

/** One copy over all of the repeat. */
const copy = (offsetXMm: number) => ({
  sourceIndex: 0,
  offsetXMm,
  offsetYMm: 0,
  signX: 1 as const,
  signY: 1 as const,
});
/** The left half from one place of the sample, the right half from another. */
const HALVES: PlacementMap = {
  repeatMm: MM,
  layers: [],
  cells: {
    widthPx: 2,
    heightPx: 1,
    copy: Int32Array.of(0, 1),
    placements: [copy(0), copy(30)],
    closed: { across: true, up: true },
    parted: { columns: new Uint8Array(2), rows: new Uint8Array(1) },
  },
} as never;

const ramp = (atMm: number[], weight: number[]) => ({ atMm, weight });
/** Two copies that are mixed half and half everywhere. */
const MIXED: PlacementMap = {
  repeatMm: MM,
  layers: [0, 1].map((k) => ({
    placement: copy(31 * k),
    across: ramp([0, SIDE], [0.5, 0.5]),
    up: ramp([0, SIDE], [1, 1]),
  })),
} as never;

test('a repeat whose places are all in the sample is like it; a step where copies meet is not', () => {
  const sample = picture(mottled(3));
  const same = likenessTo(sample)(sample, HALVES);
  expect(same.meetShare).toBeGreaterThan(0.08);
  expect(same).toMatchObject({ unlikeShare: 0, mixedShare: 0, mixedContrast: 1 });
  // The right half is two steps of lightness off: both of its edges show.
  const stepped = likenessTo(sample)(
    picture((x, y) => mottled(3)(x, y) + (x < SIDE / 2 ? 0 : 0.35)),
    HALVES,
  );
  expect(stepped.unlikeShare).toBeGreaterThan(0.5 * stepped.meetShare);
});

test('grain cut anywhere is grain: what only differs by chance looks like the sample', () => {
  const sample = picture(mottled(3));
  const other = picture((x, y) => mottled(x < SIDE / 2 ? 3 : 8)(x, y));
  expect(likenessTo(sample)(other, HALVES).unlikeShare).toBeLessThan(0.02);
});

test('features that shine through one another have lost contrast; mixed grain of the same spread has not', () => {
  const random = seededRandom(5);
  const dots = Array.from({ length: 60 }, () => [random.next() * SIDE, random.next() * SIDE] as const);
  const dotted = (shift: number) => (x: number, y: number) =>
    dots.some(([u, v]) => {
      const dx = (((x - u - shift) % SIDE) + 1.5 * SIDE) % SIDE;
      return (dx - SIDE / 2) * (dx - SIDE / 2) + (y - v) * (y - v) < 9;
    })
      ? 0.06
      : 0.5;
  const sample = picture(dotted(0));
  const ghosts = picture((x, y) => (dotted(0)(x, y) + dotted(31)(x, y)) / 2);
  const mixed = likenessTo(sample)(ghosts, MIXED);
  expect(mixed.mixedShare).toBe(1);
  expect(mixed.mixedContrast).toBeLessThan(0.75);
  expect(likenessTo(sample)(sample, MIXED).mixedContrast).toBeCloseTo(1, 6);
});
