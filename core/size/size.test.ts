import fc from 'fast-check';
import { checkSize } from '../sources';
import { frameOfQuad, makeFrame, NO_BOW, toPicture, type Frame, type Point, type Quad } from '../straighten';
import { figure } from '../units';
import {
  countedLength,
  doubtsAboutSize,
  NO_SIZE,
  resolveSize,
  sizeKnownBy,
  sizeSchema,
  type SizeSettings,
} from './index';

const flat = (widthPx: number, heightPx: number) =>
  makeFrame({ widthPx, heightPx }, { bowLines: [], frame: null });
const TILTED = frameOfQuad({ widthPx: 1600, heightPx: 1200 }, NO_BOW, [
  [0.2, 0.15],
  [0.82, 0.22],
  [0.9, 0.88],
  [0.12, 0.8],
] as Quad);

describe('counting', () => {
  const boards = { modules: 17, moduleMm: 145, jointMm: 3 };
  test('17 boards of 145 mm with 3 mm joints are 2513 mm flush and 2516 mm from joint to joint', () => {
    expect(countedLength({ ...boards, ends: 'flush' })).toBe(2513);
    expect(countedLength({ ...boards, ends: 'joint' })).toBe(2516);
  });

  test('parts of a board at the ends add themselves and a joint each', () => {
    expect(countedLength({ ...boards, ends: 'inside', before: 0.4, after: 0 })).toBeCloseTo(2513 + 58 + 3, 9);
    expect(countedLength({ ...boards, ends: 'inside', before: 0.4, after: 1 })).toBeCloseTo(
      2513 + 61 + 148,
      9,
    );
  });

  test.each([[0], [-3], [2.5], [1e6], [NaN]])('a count of %s is refused', (modules) => {
    expect(() => countedLength({ ...boards, modules, ends: 'flush' })).toThrow(
      /whole number from 1 to 100 000/,
    );
  });
});

const count = {
  count: {
    modules: 17,
    moduleMm: figure(145, 'mm', 'published', 0.5),
    jointMm: 3,
    ends: 'flush',
  },
} as const;

test('the axis that follows has square pixels and is inferred; the counted one keeps basis and tolerance', () => {
  const size = resolveSize(sizeKnownBy('follows', count), flat(1600, 1256));
  expect(size.height).toMatchObject({
    mm: 2513,
    basis: 'published',
    toleranceMm: 8.5,
    module: { pitchMm: 148, count: 16 },
  });
  expect(size.width.basis).toBe('inferred');
  expect(size.width.mm).toBeCloseTo((2513 * 1600) / 1256, 6);
  expect(size.axesDiffer).toBeCloseTo(0, 9);
});

describe('what is not known of the lens widens a tolerance', () => {
  const SEEN: Quad = [
    [0.2, 0.15],
    [0.82, 0.18],
    [0.97, 0.85],
    [0.06, 0.82],
  ];
  const frameBy = (focalPx: number | null, bowLines: [number, number][][] = []) =>
    makeFrame({ widthPx: 1600, heightPx: 1200, focalPx }, { bowLines, frame: SEEN });
  const overall = { overall: figure(1000, 'mm', 'measured', 1) };

  test('a height that follows holds every height that a lens from 14 to 200 mm would give', () => {
    const unknown = resolveSize(sizeKnownBy(overall, 'follows'), frameBy(null)).height;
    for (const mmOnFullFrame of [14, 24, 35, 50, 85, 135, 200]) {
      const frame = frameBy((mmOnFullFrame / 43.27) * 2000);
      const known = resolveSize(sizeKnownBy(overall, 'follows'), frame).height;
      expect(Math.abs(known.mm - unknown.mm)).toBeLessThan(unknown.toleranceMm + known.toleranceMm);
      expect(known.toleranceMm).toBeLessThan(unknown.toleranceMm);
    }
    expect(unknown.toleranceMm / unknown.mm).toBeGreaterThan(0.02);
  });

  test('rulers hold their length under a lens that bows by 1 %, until its distortion is corrected', () => {
    const at = (frame: Frame, x0: number, x1: number): [Point, Point] => [
      toPicture(frame, [x0, 0.5]) as Point,
      toPicture(frame, [x1, 0.5]) as Point,
    ];
    const frame = frameBy(1800);
    const bowed = frameOfQuad(frame.picture, { k1: 0.01, k2: 0 }, SEEN);
    // A ruler of 300 mm on a true width of 1000 mm.
    const settings = sizeKnownBy('follows', 'follows');
    settings.ruling.across = 'lines';
    const [from, to] = at(bowed, 0.35, 0.65);
    settings.lines = [{ from, to, lengthMm: figure(300, 'mm', 'measured') }] as typeof settings.lines;
    const { width } = resolveSize(settings, frame);
    expect(width.way).toBe('lines');
    expect(Math.abs(width.mm - 1000)).toBeGreaterThan(2);
    expect(Math.abs(width.mm - 1000)).toBeLessThan(width.toleranceMm);
    expect(checkSize(resolveSize(settings, frame), null).map((c) => c.code)).toContain('lens-width');
    const corrected = resolveSize(settings, bowed).width;
    expect(corrected.mm).toBeCloseTo(1000, 3);
    expect(corrected.toleranceMm).toBeLessThan(width.toleranceMm);
  });
});

test('two axes of their own: the difference of their scales is told', () => {
  const overall = (mm: number) => ({ overall: figure(mm, 'mm', 'measured') });
  expect(resolveSize(sizeKnownBy(overall(1000), overall(515)), flat(2000, 1000)).axesDiffer).toBeCloseTo(
    0.03,
    9,
  );
});

test('with nothing known the size is assumed and says so', () => {
  const size = resolveSize(NO_SIZE, flat(400, 300));
  expect(size.width).toMatchObject({ mm: 1000, basis: 'assumed' });
  expect(size.height.basis).toBe('assumed');
});

test('pixels per mm times mm are the pixels again', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20000 }),
      fc.integer({ min: 1, max: 20000 }),
      fc.double({ min: 0.1, max: 1e5, noNaN: true }),
      (w, h, mm) => {
        const size = resolveSize(
          sizeKnownBy({ overall: figure(mm, 'mm', 'measured') }, 'follows'),
          flat(w, h),
        );
        expect(size.pxPerMm.x * size.width.mm).toBeCloseTo(w, 4);
        expect(size.pxPerMm.y * size.height.mm).toBeCloseTo(h, 4);
      },
    ),
  );
});

describe('ruler lines', () => {
  /** Lines between places of the tilted frame, of the length they would have on a sheet of 700 × 430 mm. */
  const line = (id: string, from: readonly [number, number], to: readonly [number, number], off = 1) => ({
    id,
    from: [...toPicture(TILTED, from)] as [number, number],
    to: [...toPicture(TILTED, to)] as [number, number],
    lengthMm: figure(Math.hypot((to[0] - from[0]) * 700, (to[1] - from[1]) * 430) * off, 'mm', 'measured'),
  });
  const ruled = (lines: SizeSettings['lines']): SizeSettings => ({
    ...NO_SIZE,
    ruling: { across: 'lines', up: 'lines' },
    lines,
  });

  test('two lines of clearly different slope, neither along an axis, give both axes of a sheet seen at a slant', () => {
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: 0, max: 0.25, noNaN: true }),
          fc.double({ min: 0, max: 0.25, noNaN: true }),
        ),
        fc.tuple(
          fc.double({ min: 0.75, max: 1, noNaN: true }),
          fc.double({ min: 0, max: 0.25, noNaN: true }),
        ),
        ([a, b], [c, d]) => {
          const size = resolveSize(ruled([line('a', [a, b], [c, d]), line('b', [a, b], [d, c])]), TILTED);
          expect(size.width.mm).toBeCloseTo(700, 1);
          expect(size.height.mm).toBeCloseTo(430, 1);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('two lines of nearly one slope say nothing about the axis both run away from: it follows', () => {
    const nearlyAcross = [line('a', [0, 0.3], [0.6, 0.4]), line('b', [0, 0.3], [0.4, 0.5])];
    const size = resolveSize(ruled(nearlyAcross), TILTED);
    expect(size.width.mm).toBeCloseTo(700, 1);
    expect(size.height).toMatchObject({ way: 'follows', basis: 'inferred' });
  });

  test('the best fit lies between lines that contradict each other, and their spread becomes the tolerance', () => {
    const size = resolveSize(
      ruled([
        line('a', [0, 0.2], [1, 0.2], 1.02),
        line('b', [0, 0.8], [1, 0.8], 0.98),
        line('c', [0.5, 0], [0.5, 1]),
      ]),
      TILTED,
    );
    expect(size.width.mm).toBeGreaterThan(690);
    expect(size.width.mm).toBeLessThan(710);
    expect(size.width.toleranceMm / size.width.mm).toBeGreaterThan(0.015);
    expect(size.height.mm).toBeCloseTo(430, 0);
    expect(size.height.toleranceMm / size.height.mm).toBeLessThan(0.006);
  });

  test('a line along one axis says nothing about the other; that follows', () => {
    const size = resolveSize(ruled([line('a', [0.1, 0.5], [0.9, 0.5])]), TILTED);
    expect(size.width.way).toBe('lines');
    expect(size.height).toMatchObject({ way: 'follows', basis: 'inferred' });
  });

  test('a line of no length is refused with a sentence', () => {
    const fault = sizeSchema.safeParse(
      ruled([{ id: 'a', from: [0.3, 0.3], to: [0.3, 0.3], lengthMm: figure(100, 'mm', 'measured') }]),
    );
    expect(fault.error?.issues[0]?.message).toMatch(/has no length/);
  });
});

describe('several ways at once', () => {
  const both: SizeSettings = {
    ...sizeKnownBy(count, 'follows'),
    overall: { across: figure(2600, 'mm', 'published', 1), up: null },
    resolution: figure(0.8, 'px/mm', 'inferred'),
    structure: { across: { periods: 17, pitchMm: figure(148, 'mm', 'published') }, up: null },
  };

  test('the ruling way gives the size, all others stay as claims', () => {
    const { width } = resolveSize(both, flat(2010, 1000));
    expect(width).toMatchObject({ way: 'count', mm: 2513 });
    expect(width.claims.map((c) => [c.way, c.mm])).toEqual([
      ['count', 2513],
      ['overall', 2600],
      ['structure', 2516],
      ['resolution', 2512.5],
    ]);
  });

  test('modules known by another way are fitted to the ruling length, if the two agree within 2 %', () => {
    const overall = (mm: number) =>
      resolveSize(
        {
          ...both,
          ruling: { ...both.ruling, across: 'overall' },
          overall: { across: figure(mm, 'mm', 'measured'), up: null },
        },
        flat(2010, 1000),
      ).width;
    // 2515 mm lie nearest to the 2516 mm of 17 periods.
    expect(overall(2515).module!.pitchMm).toBeCloseTo((148 * 2515) / 2516, 9);
    expect(overall(2515).module!.count).toBe(17);
    expect(overall(2600).module).toBeUndefined();
  });

  test('a way that has nothing to say cannot rule', () => {
    const fault = sizeSchema.safeParse({ ...both, ruling: { across: 'card', up: 'count' } });
    expect(fault.error?.issues.map((i) => i.path.join('.'))).toEqual(['ruling.across', 'ruling.up']);
  });
});

describe('plausibility', () => {
  const sizeOf = (modules: number, moduleMm: number) =>
    resolveSize(
      sizeKnownBy(
        { count: { modules, moduleMm: figure(moduleMm, 'mm', 'assumed'), jointMm: 0, ends: 'flush' } },
        'follows',
      ),
      flat(2000, 1000),
    );
  test('a board 1200 mm wide is questioned, one of 145 mm is not', () => {
    expect(doubtsAboutSize(sizeOf(2, 1200), 'timber').map((d) => d.question)).toEqual([
      'A board 1200\u2009mm wide? Usual is 20\u2009mm to 450\u2009mm.',
    ]);
    expect(doubtsAboutSize(sizeOf(10, 145), 'timber')).toEqual([]);
  });
  test('a picture of a hundred metres is questioned in any category', () => {
    expect(doubtsAboutSize(sizeOf(1000, 1000), 'other')[0]!.question).toMatch(/0\.002 pixels per mm/);
  });
});
