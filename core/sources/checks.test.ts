import type { ResolvedLength, ResolvedSize, SizeClaim } from '../size';
import { checkSize } from './checks';

const claim = (mm: number, change: Partial<SizeClaim> = {}): SizeClaim => ({
  way: 'overall',
  mm,
  basis: 'measured',
  toleranceMm: 1,
  from: '',
  ...change,
});
const length = (mm: number, others: SizeClaim[] = [], change: Partial<SizeClaim> = {}): ResolvedLength => {
  const ruling = claim(mm, change);
  return { ...ruling, claims: [ruling, ...others] };
};
const size = (change: Partial<ResolvedSize> = {}): ResolvedSize => ({
  width: length(1000),
  height: length(800),
  pxPerMm: { x: 2, y: 2 },
  axesDiffer: 0,
  ...change,
});
const codes = (of: ResolvedSize) => checkSize(of, null).map(({ weight, code }) => `${weight} ${code}`);

test('a measured size on which all ways agree has no checks', () => {
  expect(codes(size({ width: length(1000, [claim(1001, { way: 'count' })]) }))).toEqual([]);
});

test('scales of the axes may differ by two per cent; beyond, it is said which way pixels are stretched', () => {
  expect(codes(size({ axesDiffer: -0.02 }))).toEqual([]);
  const [narrow, wide] = [0.031, -0.031].map((axesDiffer) => checkSize(size({ axesDiffer }), null)[0]!);
  expect(narrow).toMatchObject({ weight: 'wrong', code: 'axes-differ' });
  expect(narrow!.text).toContain('3.1 % narrower than high');
  expect(wide!.text).toContain('wider than high');
});

test('ways that differ by more than both tolerances are said, with by how much', () => {
  const against = (mm: number, toleranceMm = 1) =>
    size({ width: length(1000, [claim(mm, { way: 'count', toleranceMm })]) });
  // Within their tolerances, and by less than half a per cent.
  expect(codes(against(1012, 11))).toEqual([]);
  expect(codes(against(1004))).toEqual([]);
  expect(codes(against(1012))).toEqual(['open size-width-count']);
  expect(codes(against(970))).toEqual(['wrong size-width-count']);
  expect(checkSize(against(970), null)[0]!.text).toMatch(
    /^Width: the count says 970.mm, 3 % less than the 1000.mm by the overall size\.$/,
  );
});

test('what is owed to the lens is said with what would narrow it', () => {
  const loose = (way: 'follows' | 'overall', lens: number) =>
    size({ height: length(800, [], { way, lens, toleranceMm: 800 * lens }) });
  expect(codes(loose('overall', 0.004))).toEqual([]);
  expect(checkSize(loose('overall', 0.01), null)[0]!.text).toMatch(/distortion of the lens is not corrected/);
  expect(checkSize(loose('follows', 0.05), null)[0]!.text).toMatch(
    /focal length, which is not known: ± 5 %\. Give the height by itself/,
  );
  // Most of the tolerance comes from elsewhere: there the lens is not to blame.
  expect(codes(size({ height: length(800, [], { lens: 0.01, toleranceMm: 40 }) }))).toEqual([]);
});

test('one assumed axis makes the size assumed; what is unlikely for the category is asked about', () => {
  expect(codes(size({ height: length(800, [], { basis: 'assumed' }) }))).toEqual(['open size-assumed']);
  const tiny = size({ width: length(1.2), height: length(1), pxPerMm: { x: 1700, y: 1700 } });
  expect(checkSize(tiny, 'brick').map(({ code }) => code)).toEqual([
    'unlikely-density-across',
    'unlikely-density-up',
  ]);
  expect(checkSize(tiny, null)).toEqual([]);
});
