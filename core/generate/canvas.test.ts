import { atOnce } from '../steps';
import { Canvas } from './canvas';

const SIZE_MM = { width: 120, height: 80 };
const PX = { width: 60, height: 40 };

function canvas(px = PX) {
  let pauses = 0;
  const made = new Canvas(SIZE_MM, px, 3, async () => void pauses++);
  return { made, pauses: () => pauses };
}

test('what runs over an edge comes back at the other one, each pixel with its offset from the place', () => {
  const { made } = canvas();
  const seen = new Map<number, [number, number]>();
  // A corner of the repeat.
  made.around(1, 79, 4, 4, (i, dx, dy) => seen.set(i, [dx, dy]));
  const corners = [0, PX.width - 1, (PX.height - 1) * PX.width, PX.width * PX.height - 1];
  for (const i of corners) expect(seen.has(i)).toBe(true);
  for (const [i, [dx, dy]] of seen) {
    // Its middle lies where the offset says, but for whole repeats.
    const [x, y] = [((i % PX.width) + 0.5) * 2, (Math.floor(i / PX.width) + 0.5) * 2];
    expect((1 + dx - x) / SIZE_MM.width).toBeCloseTo(Math.round((1 + dx - x) / SIZE_MM.width), 9);
    expect((79 + dy - y) / SIZE_MM.height).toBeCloseTo(Math.round((79 + dy - y) / SIZE_MM.height), 9);
    expect(Math.max(Math.abs(dx), Math.abs(dy))).toBeLessThanOrEqual(5);
  }
});

test('small things are laid by the thousand between pauses, large ones a few', async () => {
  const small = canvas();
  await small.made.scatter(2000, 'dots', 1, (random) =>
    small.made.around(120 * random.next(), 80 * random.next(), 0.5, 0.5, () => undefined),
  );
  expect(small.pauses()).toBe(1);
  const large = canvas({ width: 600, height: 400 });
  await large.made.scatter(40, 'strokes', 1, (random) =>
    large.made.around(120 * random.next(), 80 * random.next(), 30, 30, () => undefined),
  );
  // Each covers 90 000 pixels.
  expect(large.pauses()).toBe(40);
});

test('one large thing that is laid in steps has pauses within it, and covers what it covers at once', async () => {
  const visited = async (inSteps: boolean) => {
    const { made, pauses } = canvas({ width: 600, height: 400 });
    const seen: number[] = [];
    const visit = (i: number) => seen.push(i);
    await made.scatter(1, 'strokes', 1, () =>
      inSteps ? made.aroundSteps(60, 40, 30, 30, visit) : made.around(60, 40, 30, 30, visit),
    );
    return { seen, pauses: pauses() };
  };
  const [steps, once] = [await visited(true), await visited(false)];
  expect(steps.seen).toEqual(once.seen);
  expect(once.pauses).toBe(1);
  expect(steps.pauses).toBeGreaterThan(4);
});

test('pauses change nothing of what is laid; the same seed lays the same, another another', async () => {
  const laid = async (px: typeof PX, seed: number) => {
    const places: number[] = [];
    const { made } = canvas(px);
    await made.scatter(30, 'strokes', seed, (random) => {
      places.push(random.next());
      made.around(60, 40, 50, 30, () => undefined);
    });
    return places;
  };
  expect(await laid(PX, 5)).toEqual(await laid({ width: 900, height: 600 }, 5));
  expect(await laid(PX, 6)).not.toEqual(await laid(PX, 5));
});

test('more than can be laid is refused with what would help, before anything is', async () => {
  const { made, pauses } = canvas();
  await expect(made.scatter(3e6, 'pores', 1, () => undefined)).rejects.toThrow(
    /About 3 million pores.*at most 2 million.*repeat smaller/,
  );
  expect(pauses()).toBe(0);
});

test('rows are visited from the top, each with the middle of its pixels', async () => {
  const { made, pauses } = canvas();
  const rows: [number, number, number][] = [];
  await made.rows((y, first, yMm) => rows.push([y, first, yMm]));
  expect(rows).toHaveLength(PX.height);
  expect(rows[0]).toEqual([0, 0, 1]);
  expect(rows.at(-1)).toEqual([39, 39 * 60, 79]);
  expect(pauses()).toBe(1);
});

test('colours are laid over, mixed and toned in linear light', () => {
  const { made } = canvas();
  const at = (i: number) =>
    [made.colour.r[i], made.colour.g[i], made.colour.b[i]].map((v) => Math.round(1e4 * v!));
  made.put(0, [0.2, 0.4, 0.6], 1);
  made.over(0, [1, 0, 0.6], 0.25);
  expect(at(0)).toEqual([4000, 3000, 6000]);
  made.mix(1, [0, 0, 0], [0.8, 0.4, 0.2], 0.5, 2);
  expect(at(1)).toEqual([8000, 4000, 2000]);
  made.tone(1, 0.5);
  expect(at(1)).toEqual([4000, 2000, 1000]);
});

test('painted finely and made smaller, a canvas keeps its means; a part is made once', () => {
  const { made } = canvas();
  const part = made.part('vein');
  expect(made.part('vein')).toBe(part);
  part.fill(0.5);
  made.height.data.forEach((_, i) => (made.height.data[i] = i % 2));
  const half = atOnce(made.paintedSteps(2));
  expect([half.height.widthPx, half.height.heightPx]).toEqual([30, 20]);
  expect(half.height.data.every((v) => Math.abs(v - 0.5) < 1e-6)).toBe(true);
  expect(half.parts.get('vein')!.data.every((v) => v === 0.5)).toBe(true);
  expect(atOnce(made.paintedSteps(1)).height).toBe(made.height);
});
