import { defaultRecipe, lead } from '@jossel/core/finish';
import { sampleGeometry } from '@jossel/core/sources';
import { sizeKnownBy } from '@jossel/core/size';
import { toFrame, type Point, type Quad } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import { benchSlice, type BenchState } from '../../bench-slice';
import { drawnNext, outcomeOf, type Drawn, type Hand } from './drawn';

const SHAPE = { widthPx: 2000, heightPx: 1000 };
/** A frame that leans, 600 × 400 mm. */
const FRAME: Quad = [
  [0.2, 0.2],
  [0.8, 0.25],
  [0.85, 0.8],
  [0.15, 0.75],
];
function hand(change: Partial<BenchState['brush']> = {}): Hand {
  const source = lead(defaultRecipe(['s'], 'stone'));
  source.preparation.frame = FRAME.map((p) => [...p]) as never;
  source.size = sizeKnownBy(
    { overall: figure(600, 'mm', 'measured') },
    { overall: figure(400, 'mm', 'measured') },
  );
  return {
    source,
    sample: SHAPE,
    geometry: sampleGeometry(source, null, SHAPE),
    brush: { kind: 'stroke', widthMm: 10, erase: false, ...change },
    newId: () => 'new',
  };
}
const bench = (change: Partial<BenchState>) =>
  benchSlice.reducer(undefined, benchSlice.actions.changed(change));

describe('what the next track draws', () => {
  test.each<[Partial<BenchState>, Drawn | null]>([
    [{ section: 'size', drawing: 'ruler' }, 'ruler'],
    [{ section: 'size', tool: 'keep-outs' }, null],
    [{ section: 'sample', tool: 'frame' }, null],
    [{ section: 'sample', tool: 'frame', drawing: 'bow' }, 'bow'],
    [{ section: 'sample', tool: 'keep-outs' }, 'keep-outs'],
    [{ section: 'sample', tool: 'parts' }, null],
    [{ section: 'sample', tool: 'parts', dropper: 'take' }, 'parts'],
    [{ section: 'colour', tool: 'keep-outs' }, null],
  ])('%o draws %s', (state, drawn) => expect(drawnNext(bench(state))).toBe(drawn));
});

test('a ruler line begins with the length it has by the present size, as assumed', () => {
  const { size, bench: after } = outcomeOf('ruler', hand(), [FRAME[0], FRAME[1]]);
  expect(size!.lines![0]!.lengthMm).toEqual({ value: 600, unit: 'mm', basis: 'assumed' });
  expect(after).toEqual({ drawing: null, selected: 'new' });
});

test('an area begins at its top left corner, from whichever corner it was drawn', () => {
  const h = hand();
  const [p, q] = [
    [0.4, 0.35],
    [0.6, 0.6],
  ] as [Point, Point];
  const drawn = [
    [p, q],
    [q, p],
    [
      [0.6, 0.35],
      [0.4, 0.6],
    ] as [Point, Point],
  ].map((track) =>
    outcomeOf('area', h, track).preparation!.areas![0]!.corners.map((c) => toFrame(h.geometry.frame, c)),
  );
  for (const corners of drawn) {
    expect(corners[0]![0]).toBeLessThan(corners[2]![0]);
    expect(corners[0]![1]).toBeLessThan(corners[2]![1]);
  }
  // Its edges follow the frame, not the picture.
  expect(drawn[0]![1]![1]).toBeCloseTo(drawn[0]![0]![1], 9);
  drawn[1]!.flat().forEach((v, i) => expect(v).toBeCloseTo(drawn[0]!.flat()[i]!, 9));
});

test('a bow line gets five points along it; a line along the grain turns the frame', () => {
  const bow = outcomeOf('bow', hand(), [
    [0.2, 0.2],
    [0.6, 0.4],
  ]);
  expect(bow.preparation!.bowLines).toEqual([
    [
      [0.2, 0.2],
      [expect.closeTo(0.3), expect.closeTo(0.25)],
      [expect.closeTo(0.4), expect.closeTo(0.3)],
      [0.5, expect.closeTo(0.35)],
      [expect.closeTo(0.6), expect.closeTo(0.4)],
    ],
  ]);
  const h = hand();
  const along: [Point, Point] = [
    [0.3, 0.5],
    [0.6, 0.6],
  ];
  const turned = outcomeOf('grain', h, along).preparation!.frame as Quad;
  const preparation = { ...h.source.preparation, frame: turned as never };
  const after = sampleGeometry({ ...h.source, id: 'p1', preparation }, null, SHAPE);
  const [a, b] = along.map((p) => toFrame(after.frame, p)) as [Point, Point];
  // Along the grain is now one of the frame's axes.
  expect(Math.min(Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1]))).toBeLessThan(0.02);
});

test('strokes are kept in shares of the picture, as wide as the brush in mm', () => {
  const { preparation } = outcomeOf('keep-outs', hand(), [
    [0.4, 0.4],
    [0.45, 0.4],
  ]);
  const stroke = preparation!.keepOuts![0]!;
  expect(stroke).toMatchObject({ id: 'new', kind: 'stroke', erase: false });
  // 600 mm lie over a good half of the picture's 2000 px.
  expect((stroke as { width: number }).width).toBeCloseTo(10 / 1000, 2);
});

test.each<[string, Exclude<Drawn, 'parts'>, Partial<BenchState['brush']>, Point[], RegExp]>([
  ['a ruler line without length', 'ruler', {}, [[0.4, 0.4]], /ruler line has no length/],
  ['a bow line without length', 'bow', {}, [[0.4, 0.4]], /line has no length/],
  ['a continuity line without length', 'continuity-lines', {}, [[0.4, 0.4]], /continuity line has no length/],
  [
    'an area without extent',
    'area',
    {},
    [
      [0.4, 0.4],
      [0.7, 0.4251],
    ],
    /no extent/,
  ],
  [
    'an outline of two points',
    'keep-outs',
    { kind: 'outline' },
    [
      [0.3, 0.3],
      [0.4, 0.4],
    ],
    /needs some extent/,
  ],
  [
    'a keep-out of everything',
    'keep-outs',
    { kind: 'outline' },
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ],
    /keep out the whole sample/,
  ],
])('%s is refused with a sentence', (_what, drawn, brush, track, sentence) => {
  expect(() => outcomeOf(drawn, hand(brush), track)).toThrow(sentence);
});
