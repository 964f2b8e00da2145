import fc from 'fast-check';
import { makeColourPicture, seededRandom, type ColourPicture } from '../raster';
import { edgeFigures, seamFigures, stepsOf } from './seam';

/** Luminance whose cube root is what is given: steps are then known. */
function picture(w: number, h: number, at: (x: number, y: number) => number): ColourPicture {
  const out = makeColourPicture(w, h);
  for (let p = 0; p < w * h; p++) out.r[p] = out.g[p] = out.b[p] = at(p % w, Math.floor(p / w)) ** 3;
  return out;
}
const random = seededRandom(2);

describe('an irregular repeat', () => {
  test('columns that alternate by 0.1 and meet by 0.3 have a seam of 3', () => {
    const stripes = picture(40, 10, (x) => (x === 39 ? 0.8 : x % 2 ? 0.6 : 0.5));
    const { acrossWidth, acrossHeight } = seamFigures(stripes);
    // 38 steps of 0.1 and one, before the last column, of 0.3.
    expect(acrossWidth).toBeCloseTo(0.3 / ((38 * 0.1 + 0.3) / 39), 4);
    expect(acrossHeight).toBe(1);
  });

  test('the lines inside say how much lines differ by nature, and a cut is beyond them', () => {
    // Rows of very different contrast, as in wood along its grain.
    const strength = Array.from({ length: 200 }, () => random.between(0.01, 0.05));
    const grain = picture(300, 200, (_, y) => 0.5 + strength[y]! * random.between(-1, 1));
    const { inside, acrossHeight } = seamFigures(grain);
    expect(inside.acrossHeight.from).toBeLessThan(0.8);
    expect(inside.acrossHeight.to).toBeGreaterThan(1.2);
    expect(acrossHeight).toBeGreaterThan(inside.acrossHeight.from * 0.8);
    expect(acrossHeight).toBeLessThan(inside.acrossHeight.to * 1.2);
    // Across it they are all alike.
    expect(inside.acrossWidth.to - inside.acrossWidth.from).toBeLessThan(0.4);
    const cut = picture(300, 200, (x, y) => (y < 100 ? 0.4 : 0.7) + strength[y]! * ((x * 7919) % 13) * 0.1);
    const torn = seamFigures(cut);
    expect(torn.acrossHeight).toBeGreaterThan(3 * torn.inside.acrossHeight.to);
  });

  test('the stretch that shows most is found where it is', () => {
    const torn = picture(100, 200, (x, y) =>
      x < 50 && y >= 120 && y < 130 ? 0.9 : 0.5 + 0.02 * (((x * 31 + y * 17) % 7) - 3),
    );
    const { worst } = seamFigures(torn);
    expect(worst.acrossWidth.at).toBeCloseTo(125 / 200, 2);
    expect(worst.acrossWidth.figure).toBeGreaterThan(5);
  });
});

test('modules of less than three pixels are not looked for: the figures are those of an irregular repeat', () => {
  const noise = picture(120, 90, () => 0.5 + 0.1 * random.between(-1, 1));
  expect(seamFigures(noise, { across: 30_000, up: 31 })).toEqual(seamFigures(noise));
  expect(seamFigures(noise, { across: 40 })).not.toEqual(seamFigures(noise));
});

describe('a regular repeat', () => {
  const PITCH = 60;
  /** Tiles with a dark joint at each line of the lattice, laid so far off as is told. */
  const tiles = (count: number, off: (k: number) => number, more = (_x: number) => 0) => {
    const joints = Array.from(
      { length: count },
      (_, k) => (k * PITCH + off(k) + count * PITCH) % (count * PITCH),
    );
    return picture(count * PITCH, 50, (x) => {
      const near = Math.min(...joints.map((j) => Math.min(Math.abs(x - j), count * PITCH - Math.abs(x - j))));
      return (near <= 2 ? 0.3 : 0.6) + more(x) + 0.004 * random.between(-1, 1);
    });
  };

  test('joints that stray by a sixteenth of a period are joints all the same', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -3, max: 3 }), { minLength: 8, maxLength: 8 }), (strays) => {
        const { acrossWidth, inside } = seamFigures(
          tiles(8, (k) => strays[k]!),
          { across: 8 },
        );
        expect(acrossWidth).toBeGreaterThan(0.9);
        expect(acrossWidth).toBeLessThan(1.1);
        expect(inside.acrossWidth.to).toBeLessThan(1.15);
      }),
      { numRuns: 30 },
    );
  });

  test('an edge with more about it than the joints have is no joint', () => {
    const { acrossWidth } = seamFigures(
      tiles(
        8,
        () => 0,
        (x) => (x > 2 && x < 40 ? 0.3 : 0),
      ),
      { across: 8 },
    );
    expect(acrossWidth).toBeGreaterThan(1.15);
  });

  test('an edge in the middle of a tile is compared with the middles of the others', () => {
    // Half a pitch off: no joint near the edge, and no step.
    const half = tiles(8, () => PITCH / 2);
    expect(seamFigures(half, { across: 8 }).acrossWidth).toBeLessThan(1.15);
    const torn = tiles(
      8,
      () => PITCH / 2,
      (x) => (x < PITCH / 2 - 4 ? 0.05 : 0),
    );
    expect(seamFigures(torn, { across: 8 }).acrossWidth).toBeGreaterThan(1.5);
  });
});

test('steps are those of each line with the one before it, and of the first with the last', () => {
  const ramp = picture(5, 4, (x, y) => 0.1 * x + 0.01 * y);
  const { columns, rows } = stepsOf(ramp);
  expect(Array.from(columns, (v) => Number(v.toFixed(4)))).toEqual([0.4, 0.1, 0.1, 0.1, 0.1]);
  expect(Array.from(rows, (v) => Number(v.toFixed(4)))).toEqual([0.03, 0.01, 0.01, 0.01]);
});

test('modules finer than lines are compared as coarser ones are: an edge with all joints inside', () => {
  const steps = Float64Array.from({ length: 40 }, (_, i) => 0.1 + 0.05 * (i % 7) + (i === 12 ? 1 : 0));
  for (const modules of [35, 41, 97, 4000]) {
    const figureAt = edgeFigures(steps, modules);
    // Steps up to two lines away are those of one joint.
    const about = (line: number) =>
      [-2, -1, 0, 1, 2].reduce((sum, d) => sum + steps[(line + d + 40) % 40]!, 0);
    for (const line of [0, 11, 12, 30]) {
      let inside = 0;
      for (let k = 1; k < modules; k++) inside += about((line + Math.round((k * 40) / modules)) % 40);
      expect(figureAt(line)).toBeCloseTo(about(line) / (inside / (modules - 1)), 9);
    }
  }
});
