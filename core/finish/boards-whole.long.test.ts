import { coursesOfFloor, FLOOR_ENDS, FLOOR_MM, knownFloor, onePicture, standing } from '../test-pictures';
import { luminancePlane, type ColourPicture } from '../raster';
import type { Arrangement, ComposedSettings } from '../repeat';
import { sizeKnownBy } from '../size';
import { StageCache } from '../surface';
import { figure } from '../units';
import { defaultRecipe, lead, renderFinish, STAGE_VERSIONS, type Recipe } from './index';

/** Every board of the floor has a tone of its own: whatever changes along a course without a joint is a board made of parts. */
const LIES = knownFloor(FLOOR_ENDS, (course, board) => 0.2 + 0.05 * course + 0.12 * board);
function recipeOf(picture: ColourPicture, composed: Partial<ComposedSettings> = {}): Recipe {
  const recipe = defaultRecipe(['floor'], 'timber', picture);
  const lies = picture.widthPx > picture.heightPx;
  const width = picture.widthPx / FLOOR_MM.perMm;
  lead(recipe).size = sizeKnownBy({ overall: figure(width, 'mm', 'measured', 1) }, 'follows');
  const { pitchPx, firstPx } = coursesOfFloor();
  const side = lies ? picture.heightPx : picture.widthPx;
  const axis = { period: pitchPx / side, first: firstPx / side };
  const structure = { across: lies ? null : axis, up: lies ? axis : null, stagger: 0 };
  return {
    ...recipe,
    repeat: {
      ...recipe.repeat,
      method: 'composed',
      structure,
      composed: { ...recipe.repeat.composed, ...composed },
    },
  };
}

/** Most tests begin with the same repeat. */
const cache = new StageCache(5e8);

async function rendered(recipe: Recipe, picture = LIES, versions?: Record<string, number>) {
  const { repeatMm } = (await drawn(64)).report;
  return drawn(Math.round(repeatMm.width * FLOOR_MM.perMm));
  function drawn(widthPx: number) {
    const maps = ['colour', 'piece'] as const;
    return renderFinish(recipe, onePicture(picture), {
      widthPx,
      maps,
      cache,
      ...(versions ? { versions } : {}),
    });
  }
}

/** Places along its courses, clear of knots, where the tone changes and no joint lies near. */
function stepsWithoutJoint(repeat: ColourPicture): number {
  const { widthPx: w, heightPx: h, data } = luminancePlane(repeat);
  const courses = Math.round(h / (FLOOR_MM.pitchMm * FLOOR_MM.perMm));
  let steps = 0;
  for (let course = 0; course < courses; course++) {
    const row = Math.round((course + 0.2) * FLOOR_MM.pitchMm * FLOOR_MM.perMm) * w;
    const at = (x: number) => data[row + ((x + w) % w)]!;
    const isJoint = (x: number) => [-3, -2, -1, 0, 1, 2, 3, 4].some((d) => at(x + d) < 0.1);
    for (let x = 0; x < w; x++) if (Math.abs(at(x + 1) - at(x)) > 0.015 && !isJoint(x)) steps++;
  }
  return steps;
}

test('a composed repeat of boards is laid of whole ones: no board changes its tone but in a joint, at any size', async () => {
  for (const composed of [
    {},
    { widthMm: 2300, heightMm: 640 },
    { turning: 'half', mirrored: true },
  ] as const) {
    const { maps, report } = await rendered(recipeOf(LIES, composed));
    expect(report.boards!.laid).toBeGreaterThan(4);
    expect(stepsWithoutJoint(maps.colour)).toBe(0);
    expect(report.checks.map((c) => c.code)).not.toContain('courses-cut');
  }
  // As it was before, copies meet inside boards.
  const before = await rendered(recipeOf(LIES), LIES, { ...STAGE_VERSIONS, repeat: 6 });
  expect(before.report.boards).toBeNull();
  expect(stepsWithoutJoint(before.maps.colour)).toBeGreaterThan(0);
});

test('boards that stand are laid as those that lie', async () => {
  const upright = standing(LIES);
  const { maps, report } = await rendered(recipeOf(upright), upright);
  expect(report.boards!.laid).toBeGreaterThan(4);
  expect(stepsWithoutJoint(standing(maps.colour))).toBe(0);
});

test('joints between boards stay as dark in a small picture as in a large one', async () => {
  const recipe = recipeOf(LIES);
  const { maps, report } = await rendered(recipe);
  const small = await renderFinish(recipe, onePicture(LIES), { widthPx: 250, maps: ['colour'] });
  expect(report.boards!.laid).toBeGreaterThan(report.boards!.whole);
  const [inSmall, large] = [luminancePlane(small.maps.colour), luminancePlane(maps.colour)];
  const times = large.widthPx / inSmall.widthPx;
  expect(times).toBe(5);
  // The small one is about what the large one is seen from afar.
  let [off, dark, n] = [0, 0, 0];
  for (let y = 0; y < inSmall.heightPx; y++)
    for (let x = 0; x < inSmall.widthPx; x++) {
      let [sum, least] = [0, 1];
      for (let k = 0; k < times * times; k++) {
        const v = large.data[(times * y + Math.floor(k / times)) * large.widthPx + times * x + (k % times)]!;
        sum += v / (times * times);
        least = Math.min(least, v);
      }
      if (least > 0.05) continue;
      off += Math.abs(inSmall.data[y * inSmall.widthPx + x]! - sum);
      dark += 0.4 - sum;
      n++;
    }
  expect(n).toBeGreaterThan(1000);
  expect(off / n).toBeLessThan(0.2 * (dark / n));
});

test('a board is one piece, also where it goes on over the edge of the repeat', async () => {
  const { maps, report } = await rendered(recipeOf(LIES));
  const { widthPx: w } = maps.colour;
  const pieces = maps.piece as Int32Array;
  expect(new Set(pieces).size).toBe(report.boards!.laid);
  const course = Math.round(0.5 * FLOOR_MM.pitchMm * FLOOR_MM.perMm) * w;
  expect(pieces[course]).toBe(pieces[course + w - 1]);
});

test('boards in an area are laid anew whole, and those taken out of the sample are not used any more', async () => {
  const base = recipeOf(LIES);
  const area = [
    [0.4, 0.3],
    [0.6, 0.3],
    [0.6, 0.5],
    [0.4, 0.5],
  ] as [number, number][];
  const withRedone = (taken: Arrangement['redone'][number]['taken']): Recipe => ({
    ...base,
    repeat: {
      ...base.repeat,
      arrangements: [{ number: 1, seed: 1, redone: [{ id: 'a', seed: 3, areas: [area], taken }] }],
      arrangement: 1,
    },
  });
  const [before, after] = [
    await rendered({
      ...base,
      repeat: { ...base.repeat, arrangements: [{ number: 1, seed: 1, redone: [] }], arrangement: 1 },
    }),
    await rendered(withRedone([])),
  ];
  const { widthPx: w, heightPx: h } = before.maps.colour;
  let [changed, outside] = [0, 0];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      if (before.maps.colour.r[y * w + x] === after.maps.colour.r[y * w + x]) continue;
      changed++;
      // Courses that the area does not touch stay as they are.
      if (y < 0.1 * h || y > 0.9 * h) outside++;
    }
  expect(changed).toBeGreaterThan(0);
  expect(outside).toBe(0);
  expect(stepsWithoutJoint(after.maps.colour)).toBe(0);
  // All of the sample but its first two courses is taken out.
  const all = [
    [0, 0.4],
    [1, 0.4],
    [1, 1],
    [0, 1],
  ] as [number, number][];
  const { id } = lead(base);
  const left = await rendered(withRedone([{ source: id, points: all }]));
  expect(stepsWithoutJoint(left.maps.colour)).toBe(0);
  const everything = withRedone([
    {
      source: id,
      points: [
        [-0.1, -0.1],
        [1.1, -0.1],
        [1.1, 1.1],
        [-0.1, 1.1],
      ],
    },
  ]);
  await expect(rendered(everything)).rejects.toThrow(/No other boards are left to lay/);
});
