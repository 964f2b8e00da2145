import { blurWrapped, makeColourPicture, makePlane, seededRandom, type Plane } from '../raster';
import { normalsOfHeight } from '../relief';
import { isRefusal } from '../surface';
import { castShadows } from './cast-shadows';
import { faultOfLights, incident, type Light, type Vector } from './lights';
import { PixelSolver } from './pixel-solver';
import { unseenWalls } from './unseen-walls';
import { flattened } from './flattened';
import { doubtsOfMeasured, doubtsOfPictures, measureRelief, surfaceFromSlopes } from '.';
import { integrationSteps } from './surface-from-slopes';

const MM = { x: 0.5, y: 0.5 };
const SIDE = 96;

/** Far lights around a sample in two rings. */
const ring = (count: number): Light[] =>
  Array.from({ length: count }, (_, k) => {
    const azimuth = (2 * Math.PI * k) / count;
    const elevation = ((k % 2 ? 55 : 35) * Math.PI) / 180;
    return {
      directionTo: [
        Math.cos(elevation) * Math.cos(azimuth),
        Math.cos(elevation) * Math.sin(azimuth),
        Math.sin(elevation),
      ] as Vector,
    };
  });

/** A height by its place in mm from the upper left corner. */
function heightOf(at: (x: number, y: number) => number, side = SIDE): Plane {
  const plane = makePlane(side, side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) plane.data[y * side + x] = at((x + 0.5) * MM.x, (y + 0.5) * MM.y);
  return plane;
}

/** Pictures of a Lambertian surface whose colour runs from left to right, with the shadows that it throws. */
function pictures(height: Plane, lights: readonly Light[], noise = 0) {
  const { widthPx: w, heightPx: h } = height;
  const n = normalsOfHeight(height, MM);
  const random = seededRandom(5);
  const s = new Float64Array(3);
  return lights.map((light) => {
    const picture = makeColourPicture(w, h);
    const shadow = castShadows(height, light, MM);
    for (let y = 0, i = 0; y < h; y++)
      for (let x = 0; x < w; x++, i++) {
        incident(light, (x + 0.5 - w / 2) * MM.x, (h / 2 - y - 0.5) * MM.y, 0, 1, s, 0);
        const lit = shadow[i] ? 0 : Math.max(0, n.x[i]! * s[0]! + n.y[i]! * s[1]! + n.z[i]! * s[2]!);
        const off = noise * (random.next() + random.next() - 1);
        picture.r[i] = (0.3 + (0.4 * x) / w) * lit + off;
        picture.g[i] = 0.5 * lit + off;
        picture.b[i] = 0.2 * lit + off;
      }
    return { picture, light };
  });
}

/** Slopes of a height, to the right and up. */
function slopesOf(height: Plane) {
  const n = normalsOfHeight(height, MM);
  const of = (part: Float32Array) => ({ ...height, data: part.map((v, i) => -v / n.z[i]!) });
  return { x: of(n.x), y: of(n.y) };
}

/** Root mean square of the difference of two heights about their means. */
function apart(a: Plane, b: Plane, margin = 6): number {
  const pairs: [number, number][] = [];
  for (let y = margin; y < a.heightPx - margin; y++)
    for (let x = margin; x < a.widthPx - margin; x++)
      pairs.push([a.data[y * a.widthPx + x]!, b.data[y * a.widthPx + x]!]);
  const mean = (k: 0 | 1) => pairs.reduce((sum, p) => sum + p[k], 0) / pairs.length;
  const [ma, mb] = [mean(0), mean(1)];
  return Math.sqrt(pairs.reduce((sum, [p, q]) => sum + (p - ma - q + mb) ** 2, 0) / pairs.length);
}

describe('one pixel', () => {
  const light = new Float64Array(24);
  ring(8).forEach((l, k) => incident(l, 0, 0, 0, 1, light, 3 * k));
  const normal = [0.2, -0.3, Math.sqrt(1 - 0.13)];
  const readings = () =>
    Float64Array.from({ length: 8 }, (_, k) =>
      Math.max(
        0,
        0.4 * (normal[0]! * light[3 * k]! + normal[1]! * light[3 * k + 1]! + normal[2]! * light[3 * k + 2]!),
      ),
    );
  const all = new Float64Array(8).fill(1);
  const degreesOff = (m: Float64Array) => {
    const length = Math.hypot(m[0]!, m[1]!, m[2]!);
    return (
      (Math.acos(Math.min(1, (m[0]! * normal[0]! + m[1]! * normal[1]! + m[2]! * normal[2]!) / length)) *
        180) /
      Math.PI
    );
  };

  test('its normal and reflectance come back exactly', () => {
    const solver = new PixelSolver(8);
    expect(solver.solve(readings(), light, all)).toBe(true);
    expect(degreesOff(solver.m)).toBeLessThan(1e-3);
    expect(Math.hypot(...solver.m)).toBeCloseTo(0.4, 6);
  });

  test('three readings in shadow and one in glare change nothing', () => {
    const solver = new PixelSolver(8);
    const read = readings();
    for (const k of [0, 1, 2]) read[k] = 0.01;
    read[5]! += 0.5;
    solver.solve(read, light, all);
    expect(degreesOff(solver.m)).toBeLessThan(0.05);
    expect([...solver.weight].map((w) => w > 0.5)).toEqual([
      false,
      false,
      false,
      true,
      true,
      false,
      true,
      true,
    ]);
  });

  test('one reading alone tells nothing', () => {
    const one = new Float64Array(8);
    one[0] = 1;
    expect(new PixelSolver(8).solve(readings(), light, one)).toBe(false);
  });
});

describe('integration with free borders', () => {
  test.each([SIDE, 77, 101])('a dome that does not repeat comes back from %d pixels', (side) => {
    const dome = heightOf((x, y) => 3 * Math.exp(-((x - 30) ** 2 + (y - 20) ** 2) / 120), side);
    const steps = integrationSteps(slopesOf(dome), makePlane(side, side, 1), MM);
    let [count, next] = [0, steps.next()];
    for (; !next.done; next = steps.next()) count++;
    expect(apart(next.value, dome)).toBeLessThan(0.02);
    expect(count).toBeLessThan(8);
  });

  test.each([
    [40, 2],
    [2, 40],
    [3, 5],
    [1, 9],
  ])('an even slope over %d × %d pixels comes back', (w, h) => {
    const even = (value: number) => ({ ...makePlane(w, h), data: new Float32Array(w * h).fill(value) });
    const { data } = surfaceFromSlopes({ x: even(0.2), y: even(0.1) }, even(1), MM);
    // Rows run down the picture, the slope up.
    expect(data[w * h - 1]! - data[0]!).toBeCloseTo(0.2 * (w - 1) * MM.x - 0.1 * (h - 1) * MM.y, 3);
  });

  test('slopes that are not trusted do not bend what is around them', () => {
    const wave = heightOf((x, y) => Math.sin(x / 5) + Math.cos(y / 7));
    const slopes = slopesOf(wave);
    const weight = makePlane(SIDE, SIDE, 1);
    for (let y = 40; y < 50; y++)
      for (let x = 40; x < 50; x++) {
        slopes.x.data[y * SIDE + x] = 5;
        weight.data[y * SIDE + x] = 0;
      }
    const found = surfaceFromSlopes(slopes, weight, MM);
    const trusted = surfaceFromSlopes(slopes, makePlane(SIDE, SIDE, 1), MM);
    expect(apart(found, wave)).toBeLessThan(0.06);
    expect(apart(trusted, wave)).toBeGreaterThan(3 * apart(found, wave));
  });
});

describe('a whole set', () => {
  const joints = heightOf((x) => {
    const off = ((x + 4) % 16) - 8;
    return -1.5 * Math.exp((-off * off) / 3);
  });

  test('relief, colour and brightness of the lights come back from noisy pictures with shadows', async () => {
    const lights = ring(8).map((light, k) => ({ ...light, strength: k === 3 ? 1.1 : 1 }));
    const set = pictures(joints, lights, 0.004).map((lit, k) => ({
      ...lit,
      light: { ...lit.light, strength: k === 3 ? 1 : 1 },
    }));
    const found = await measureRelief(set, MM, null);
    expect(apart(found.height, joints)).toBeLessThan(0.1);
    expect(found.toleranceMm).toBeGreaterThan(apart(found.height, joints));
    expect(found.ofLights[3]!.gain).toBeGreaterThan(1.05);
    const middle = (SIDE / 2) * SIDE + SIDE / 2;
    expect(found.colour.g[middle]!).toBeCloseTo(0.5, 1);
    expect(doubtsOfMeasured(set, found, MM)).toEqual([]);
  });

  test('a near light is told from a far one: a flat sample stays flat', async () => {
    const near: Light[] = ring(8).map((light) => ({
      positionMm: ('directionTo' in light ? light.directionTo : [0, 0, 1]).map(
        (v) => 60 * v,
      ) as unknown as Vector,
    }));
    const set = pictures(makePlane(SIDE, SIDE), near);
    const found = await measureRelief(set, MM, 1000);
    expect(apart(found.height, makePlane(SIDE, SIDE))).toBeLessThan(0.01);
  });

  test('a picture that is shifted, and one under another light, are pointed out', async () => {
    const bumps = heightOf((x, y) => 0.6 * Math.sin(x / 2.1) * Math.sin(y / 2.7 + x / 9));
    const set = pictures(bumps, ring(8), 0.002);
    const shifted = set.map((lit, k) => {
      if (k !== 2) return lit;
      const move = (data: Float32Array) => data.map((_, i) => data[Math.max(0, i - 2)]!);
      const { r, g, b } = lit.picture;
      return { ...lit, picture: { ...lit.picture, r: move(r), g: move(g), b: move(b) } };
    });
    const moved = await measureRelief(shifted, MM, null);
    expect(doubtsOfMeasured(shifted, moved, MM).join(' ')).toMatch(/Picture 3 lies about/);
    const swapped = set.map((lit, k) => ({ ...lit, light: set[k === 0 ? 4 : k]!.light }));
    const wrong = await measureRelief(swapped, MM, null);
    expect(doubtsOfMeasured(swapped, wrong, MM).join(' ')).toMatch(/Light 1 /);
  });

  test('overexposed pictures are pointed out', () => {
    const set = pictures(joints, ring(6));
    set[1]!.picture.r.fill(1, 0, SIDE * 10);
    expect(doubtsOfPictures(set)).toEqual([expect.stringMatching(/^Picture 2 is overexposed in 10 %/)]);
  });

  test('lights that tell no relief are refused with what would do', async () => {
    const set = pictures(joints, ring(8));
    const refused = async (lights: Light[]) => {
      const error = await measureRelief(
        lights.map((light, k) => ({ picture: set[k]!.picture, light })),
        MM,
        null,
      ).catch((e: unknown) => e);
      expect(isRefusal(error)).toBe(true);
      return (error as Error).message;
    };
    expect(await refused(ring(8).slice(0, 2))).toMatch(/2 lights are not enough/);
    expect(
      await refused(
        [
          [1, 0.1, 1],
          [1, -0.1, 1],
          [1, 0, 0.5],
        ].map((d) => ({ directionTo: d as unknown as Vector })),
      ),
    ).toMatch(/on one side/);
    expect(faultOfLights([...ring(5), { directionTo: [0, 0, -1] }])).toMatch(/Light 6 stands behind/);
    expect(faultOfLights([...ring(5), { directionTo: [0, 0, 0] }])).toMatch(/Light 6 has no direction/);
    expect(faultOfLights(ring(8))).toBeNull();
  });
});

type Span = readonly [fromMm: number, toMm: number];
const WIDE: Span = [18, 30];
/** Pictures of a trench with upright walls: every pixel that a camera above it sees is level, and some lie in shadow, or partly. */
function trench(depthMm: number, [left, right]: Span, lights: readonly Light[], blurPx = 0) {
  const overlap = (a: number, b: number, c: number, d: number) =>
    Math.max(0, Math.min(b, d) - Math.max(a, c));
  return lights.map((light) => {
    const plane = makePlane(SIDE, SIDE);
    const [dx, , dz] = (light as { directionTo: Vector }).directionTo;
    const longMm = Math.min(right - left, (depthMm * Math.abs(dx)) / dz);
    const shade = dx > 0 ? [right - longMm, right] : [left, left + longMm];
    for (let i = 0; i < SIDE * SIDE; i++) {
      const x = (i % SIDE) * MM.x;
      const lit = 1 - overlap(x, x + MM.x, shade[0]!, shade[1]!) / MM.x;
      plane.data[i] = 0.4 * dz * lit;
    }
    const { data } = blurWrapped(plane, blurPx, blurPx);
    return { picture: { ...plane, r: data, g: data, b: data }, light };
  });
}
/** Mean of the height inside the trench below that of the level beside it. */
function depthOfTrench({ widthPx, data }: Plane, [left, right]: Span): number {
  const mean = (fromMm: number, toMm: number) => {
    let [sum, n] = [0, 0];
    for (let y = 16; y < SIDE - 16; y++)
      for (let x = Math.round(fromMm / MM.x); x < toMm / MM.x; x++, n++) sum += data[y * widthPx + x]!;
    return sum / n;
  };
  const inset = (right - left) / 4;
  return (mean(left - 8, left - 2) + mean(right + 2, right + 8)) / 2 - mean(left + inset, right - inset);
}

test.each([
  [2, WIDE, 0],
  [3, WIDE, 0],
  [4, WIDE, 0],
  [5, WIDE, 0],
  // A joint of 6 pixels through the blur of a lens.
  [2, [22, 25] as Span, 0.7],
])(
  'walls that no pixel sees: a trench %d mm deep, from %p mm, is as deep as its shadows say',
  async (depthMm, span, blurPx) => {
    const set = trench(depthMm, span, ring(8), blurPx);
    const { height, toleranceMm } = await measureRelief(set, MM, null);
    const truth = flattened(heightOf((x) => (x > span[0] && x < span[1] ? -depthMm : 0)));
    expect(Math.abs(depthOfTrench(height, span) / depthOfTrench(truth, span) - 1)).toBeLessThan(0.115);
    expect(toleranceMm).toBeLessThan(depthMm);
  },
);

test('shadows make steps higher only where slopes say less, and are taken at their word where slopes saw no wall', () => {
  // Slopes say 1 mm everywhere. Shadows say less in the first columns, a tenth more in the next, and twice as much in the last.
  const bySlopes = heightOf((_, y) => (y < 24 ? 1 : 0));
  const GROUP = 6;
  const said = [0.9, 1.1, 2];
  const columns = said.flatMap((_, group) => Array.from({ length: GROUP }, (_, k) => 4 + 40 * group + k));
  const at = (row: number) => Int32Array.from(columns, (x) => row * SIDE + x);
  const mm = Float32Array.from(columns, (_, k) => said[Math.floor(k / GROUP)]!);
  const steps = { edge: at(47), behind: at(48), end: at(52), mm };
  const { differences, slopes } = unseenWalls(steps, bySlopes, 1);
  expect([...differences.low]).toEqual([...steps.end.slice(GROUP)]);
  expect([...differences.high]).toEqual([...steps.edge.slice(GROUP)]);
  expect(differences.weight.every((v) => v > 0.9)).toBe(true);
  // Of a tenth more not all is due to walls.
  for (const step of differences.mm.slice(0, GROUP)) expect(Math.abs(step - 1.06)).toBeLessThan(0.01);
  expect([...differences.mm.slice(GROUP)]).toEqual([...mm.slice(2 * GROUP)]);
  expect(slopes[steps.behind[0]!]).toBe(1);
  expect(slopes[steps.behind.at(-1)!]).toBeLessThan(0.2);
});

test('where edges are crowded, as on threads, a tenth more is blur, and only more than that is a wall', () => {
  // A thread every six rows: slopes say 1 mm from its top to its foot.
  const bySlopes = heightOf((_, y) => (Math.round(y / MM.y) % 6 < 3 ? 1 : 0));
  const places = Array.from({ length: 15 * SIDE }, (_, k) => 6 * Math.floor(k / SIDE) * SIDE + (k % SIDE));
  const at = (row: number) => Int32Array.from(places, (place) => place + row * SIDE);
  const said = (mm: number, lights: number) => {
    const steps = { edge: at(0), behind: at(1), end: at(4), mm: new Float32Array(places.length).fill(mm) };
    return unseenWalls(steps, bySlopes, lights).differences.mm.length;
  };
  expect(said(1.1, 1)).toBe(0);
  expect(said(1.5, 1)).toBe(places.length);
  // As many from a hundred lights are far apart.
  expect(said(1.1, 100)).toBe(places.length);
});

test('known differences tell how high islands stand that slopes hardly join, and one that is wrong is doubted', () => {
  const flat = makePlane(SIDE, SIDE);
  const weight = heightOf((x) => (Math.abs(x - 24) < 0.6 ? 0 : 1));
  const at = (xMm: number, row: number) => row * SIDE + Math.floor(xMm / MM.x);
  const rows = Array.from({ length: 40 }, (_, k) => 20 + k);
  const { data } = surfaceFromSlopes({ x: flat, y: flat }, weight, MM, undefined, {
    high: Int32Array.from(rows, (row) => at(30, row)),
    low: Int32Array.from(rows, (row) => at(18, row)),
    mm: Float32Array.from(rows, (_, k) => (k % 8 === 0 ? 9 : 2)),
    weight: Float32Array.from(rows, () => 1),
  });
  expect(data[at(40, 48)]! - data[at(8, 48)]!).toBeGreaterThan(1.8);
  expect(data[at(40, 48)]! - data[at(8, 48)]!).toBeLessThan(2.4);
});

test('many known differences that reach far cost few steps more', () => {
  const slopes = slopesOf(heightOf((x, y) => 0.3 * Math.sin(x) + 0.2 * Math.cos(0.7 * y)));
  const weight = makePlane(SIDE, SIDE, 0.05);
  const reach = 24;
  const low = Int32Array.from({ length: SIDE * SIDE }, (_, i) => i).filter((i) => i % SIDE < SIDE - reach);
  const known = {
    high: low.map((i) => i + reach),
    low,
    mm: Float32Array.from(
      low,
      (i) => 0.3 * (Math.sin((i % SIDE) * MM.x + reach * MM.x) - Math.sin((i % SIDE) * MM.x)),
    ),
    weight: new Float32Array(low.length).fill(1),
  };
  const stepsOf = (steps: ReturnType<typeof integrationSteps>) => {
    let count = 0;
    while (!steps.next().done) count++;
    return count;
  };
  const alone = stepsOf(integrationSteps(slopes, weight, MM));
  // Differences are solved twice, and doubted in between.
  expect(stepsOf(integrationSteps(slopes, weight, MM, undefined, known))).toBeLessThan(8 * alone);
});
