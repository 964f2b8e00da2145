import { figure } from '../units';
import { checkLayout } from './checks';
import type { LaidReport } from './report';
import type { LayoutSettings } from './settings';

const settings = (basis: 'measured' | 'assumed' = 'measured'): LayoutSettings =>
  ({
    piece: { lengthMm: figure(240, 'mm', 'measured'), widthMm: figure(71, 'mm', basis) },
    joint: { alongMm: figure(10, 'mm', 'measured'), acrossMm: figure(8, 'mm', 'measured') },
  }) as unknown as LayoutSettings;
const report = (change: Partial<LaidReport> = {}): LaidReport =>
  ({
    bond: 'Half bond',
    laid: { lengthMm: 240, widthMm: 71 },
    equalNeighbours: 0,
    continuedMm: 0,
    mirroredMm: 0,
    mirroredShare: 0,
    timesEach: 2,
    turnHeldDeg: null,
    ...change,
  }) as LaidReport;
const codes = (change: Partial<LaidReport>, basis?: 'assumed') =>
  checkLayout(settings(basis), report(change)).map(({ weight, code }) => `${weight} ${code}`);
const text = (change: Partial<LaidReport>) => checkLayout(settings(), report(change))[0]!.text;

test('a layout as asked, of faces enough, has no checks', () => {
  expect(codes({})).toEqual([]);
});

test('pieces laid at another size than asked for, so that the bond closes, are said with both sizes', () => {
  expect(codes({ laid: { lengthMm: 240.004, widthMm: 71 } as never })).toEqual([]);
  expect(codes({ laid: { lengthMm: 243.33, widthMm: 70 } as never })).toEqual([
    'open layout-length-changed',
    'open layout-width-changed',
  ]);
  expect(text({ laid: { lengthMm: 243.33, widthMm: 71 } as never })).toMatch(
    /Half bond does not close with pieces 240.mm in length; 243\.33.mm is laid/,
  );
});

test('neighbours of one face are counted in the right number', () => {
  expect(text({ equalNeighbours: 1 })).toMatch(/^1 pair of neighbouring/);
  expect(text({ equalNeighbours: 4 })).toMatch(/^4 pairs of neighbouring/);
});

test.each<[string, Partial<LaidReport>, string[]]>([
  ['continued by less than the edge is known', { continuedMm: 3 }, []],
  ['continued', { continuedMm: 60 }, ['open piece-continued']],
  ['mirrored along a narrow strip', { mirroredMm: 5, mirroredShare: 0.05 }, []],
  ['mirrored over much of it', { mirroredMm: 50, mirroredShare: 0.3 }, ['wrong piece-beyond-picture']],
  ['each face six times', { timesEach: 6 }, []],
  ['each face seven times', { timesEach: 7 }, ['open faces-repeat']],
  ['cut from the repeat, with no faces', { timesEach: null }, []],
  ['turns that were limited', { turnHeldDeg: 0.4 }, ['open turn-held']],
])('%s', (_name, change, expected) => {
  expect(codes(change)).toEqual(expected);
});

test('turns are limited by the narrower joint; an assumed size of the pieces is said to be', () => {
  expect(text({ turnHeldDeg: 0.4 })).toMatch(/0\.4°.*joints of 8.mm/);
  expect(codes({}, 'assumed')).toEqual(['open piece-assumed']);
});
