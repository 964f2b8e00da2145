import { rgb, timber } from '../generate';
import { halve, mapChannels, type ColourPicture } from '../raster';
import { findStructure, sizeKnownBy } from '../size';
import { structureToKeep } from '../repeat';
import { StageCache, type Pictures } from '../surface';
import { figure } from '../units';
import {
  defaultRecipe,
  lead,
  renderFinish,
  repetitionOf,
  withAreasRedone,
  withReplaced,
  type Recipe,
} from './index';

/** A floor of five boards' width and a little more, 1000 mm long, cut off on all sides. */
const [WIDTH_MM, PITCH_MM] = [1000, 100];
function floor(): ColourPicture {
  const { colour } = timber({
    widthMm: 1060,
    heightMm: 6 * PITCH_MM,
    pxPerMm: 0.6,
    seed: 21,
    boardMm: PITCH_MM - 3,
    jointMm: 3,
    shortestMm: 380,
    longestMm: 800,
    early: rgb('#b39671'),
    late: rgb('#5d452f'),
    ringPorous: true,
    knotsPerM2: 4,
  });
  const [w, h] = [600, 330];
  const cut = (data: Float32Array) =>
    Float32Array.from(
      { length: w * h },
      (_, i) => data[(12 + Math.floor(i / w)) * colour.widthPx + (i % w)]!,
    );
  return { widthPx: w, heightPx: h, r: cut(colour.r), g: cut(colour.g), b: cut(colour.b) };
}
const FLOOR = floor();
const SOURCES: Pictures = {
  info: async () => ({ widthPx: FLOOR.widthPx, heightPx: FLOOR.heightPx, sha256: 'floor' }),
  data: async () => {
    throw new Error('No map is asked for here.');
  },
  level: async (_, n) => {
    let p = FLOOR;
    for (let k = 0; k < n; k++) p = mapChannels(p, halve);
    return p;
  },
};
const cache = new StageCache();
const BASE: Recipe = (() => {
  const r = defaultRecipe(['a'], 'timber', FLOOR);
  lead(r).size = sizeKnownBy({ overall: figure(WIDTH_MM, 'mm', 'measured', 1) }, 'follows');
  r.colour = { ...r.colour, ruling: 'picture' };
  r.repeat = { ...r.repeat, method: 'composed', structure: structureToKeep(findStructure(FLOOR)) };
  return r;
})();
const drawn = (r: Recipe, widthPx = 600) => renderFinish(r, SOURCES, { widthPx, maps: ['colour'], cache });
const composed = (part: Partial<Recipe['repeat']['composed']>): Recipe => ({
  ...BASE,
  repeat: { ...BASE.repeat, composed: { ...BASE.repeat.composed, ...part } },
});
let names = 0;
const newId = () => `n${names++}`;

/** Where two pictures differ, as shares. */
function differing(a: ColourPicture, b: ColourPicture): [number, number][] {
  return [...a.g.keys()]
    .filter((i) => a.g[i] !== b.g[i] || a.r[i] !== b.r[i])
    .map((i) => [((i % a.widthPx) + 0.5) / a.widthPx, (Math.floor(i / a.widthPx) + 0.5) / a.heightPx]);
}

test('a floor is composed of whole boards; anywhere, of copies; both close on whole courses', async () => {
  const { report, placed } = await drawn(BASE);
  expect(report.boards!.joints).toBeGreaterThanOrEqual(4);
  expect(report.boards!.laid).toBeGreaterThanOrEqual(placed.courses.up!);
  expect(report.repeatMm.height / PITCH_MM).toBeCloseTo(placed.courses.up!, 1);
  expect(report.seam.acrossHeight).toBeLessThan(1.15);
  const { report: plain } = await drawn(composed({ ends: 'anywhere' }));
  expect(plain.boards).toBeNull();
  expect(plain.copies).toBeGreaterThan(3);
});

test('boards are the same arrangement at every size, and larger than the sample', async () => {
  const large = composed({ widthMm: 1700, heightMm: 900 });
  const small = await drawn(large, 500);
  // Solved anew, without anything kept.
  const twice = await renderFinish(large, SOURCES, { widthPx: 1000, maps: ['colour'] });
  expect(twice.placed.map.cells!.placements).toEqual(small.placed.map.cells!.placements);
  expect(Buffer.from(twice.placed.map.cells!.copy.buffer)).toEqual(
    Buffer.from(small.placed.map.cells!.copy.buffer),
  );
  expect(small.report.boards!.laid).toBeGreaterThan(15);
});

test('an area laid anew changes the boards in it and no others', async () => {
  const before = await drawn(BASE);
  const area: [number, number][] = [
    [0.4, 0.1],
    [0.5, 0.1],
    [0.5, 0.16],
    [0.4, 0.16],
  ];
  const after = await drawn({ ...BASE, repeat: withAreasRedone(BASE.repeat, [area], [], 'a') });
  const courses = before.placed.courses.up!;
  const changed = differing(before.maps.colour, after.maps.colour);
  expect(changed.length).toBeGreaterThan(200);
  // All in the course that is marked.
  expect(new Set(changed.map(([, y]) => Math.floor(y * courses))).size).toBe(1);
  expect(changed.every(([, y]) => Math.floor(y * courses) === Math.floor(0.13 * courses))).toBe(true);
});

test('telltales of boards are gone after at most three presses', async () => {
  let now = BASE;
  const counts: number[] = [];
  for (let press = 0; press <= 3; press++) {
    const { telltales } = repetitionOf(await drawn(now), 6000);
    counts.push(telltales.length);
    if (telltales.length === 0) break;
    now = withReplaced(now, telltales, newId);
  }
  expect(counts.at(-1)).toBe(0);
});

test('that boards differ in tone gives nothing away, a knot does', async () => {
  const finish = await drawn(BASE);
  const {
    widthPx: w,
    maps: { colour },
    placed,
  } = finish;
  const cells = placed.map.cells!;
  // One blot more, in the middle of some board.
  const at = [Math.round(0.31 * w), Math.round((2.5 / placed.courses.up!) * finish.heightPx)] as const;
  const blotted = {
    ...finish,
    maps: { colour: { ...colour, r: colour.r.slice(), g: colour.g.slice(), b: colour.b.slice() } },
  };
  for (let v = -7; v <= 7; v++)
    for (let u = -7; u <= 7; u++)
      if (Math.hypot(u, v) < 7)
        for (const c of ['r', 'g', 'b'] as const) blotted.maps.colour[c][(at[1] + v) * w + at[0] + u]! *= 0.3;
  const isThere = (f: typeof finish) =>
    repetitionOf(f, 6000).telltales.some(
      (g) => Math.hypot(g.at[0] * w - at[0], g.at[1] * finish.heightPx - at[1]) < 8,
    );
  expect(isThere(blotted)).toBe(true);
  expect(isThere(finish)).toBe(false);
  // A board a quarter lighter is a board still.
  const board =
    cells.copy[
      Math.floor((2.5 / placed.courses.up!) * cells.heightPx) * cells.widthPx +
        Math.floor(0.31 * cells.widthPx)
    ];
  const toned = {
    ...finish,
    maps: { colour: { ...colour, r: colour.r.slice(), g: colour.g.slice(), b: colour.b.slice() } },
  };
  for (let y = 0; y < finish.heightPx; y++)
    for (let x = 0; x < w; x++) {
      const cell =
        Math.floor((y * cells.heightPx) / finish.heightPx) * cells.widthPx +
        Math.floor((x * cells.widthPx) / w);
      if (cells.copy[cell] === board)
        for (const c of ['r', 'g', 'b'] as const) toned.maps.colour[c][y * w + x]! *= 1.25;
    }
  const large = (f: typeof finish) => repetitionOf(f, 6000).telltales.filter((g) => g.share > 0.02).length;
  expect(large(toned)).toBeLessThanOrEqual(large(finish));
});
