import { figure } from '../units';
import { checkColour } from './checks';
import type { ColourClaim } from './finished';
import type { ColourReport, ColourStageSettings } from './report';
import { plainColour } from './settings';

const USUAL_COLOUR = plainColour();

const settings = (change: Partial<ColourStageSettings> = {}): ColourStageSettings => ({
  colour: { ...USUAL_COLOUR, ruling: 'lrv', lrv: figure(40, 'LRV', 'measured', 2) },
  balanced: false,
  metal: false,
  glass: false,
  ...change,
});
const report = (change: Partial<ColourReport> = {}): ColourReport => ({
  lrv: 40,
  meanLab: [69, 0, 0],
  before: { lrv: 38, meanLab: [68, 0, 0] },
  factors: [1, 1, 1],
  claims: [],
  hand: null,
  way: null,
  wayOff: null,
  clipped: { high: 0, low: 0 },
  luminance: { p1: 0.1, p50: 0.4, p99: 0.7 },
  ...change,
});
const codes = (s: ColourStageSettings, r: ColourReport) =>
  checkColour(s, r).map(({ weight, code }) => `${weight} ${code}`);
const claim = (change: Partial<ColourClaim>): ColourClaim => ({
  way: 'colour',
  lrv: 40,
  lab: null,
  lrvOff: 0,
  deltaE: null,
  tolerance: 2,
  ...change,
});

test('a finish of measured reflectance with nothing amiss has no checks', () => {
  expect(checkColour(settings(), report())).toEqual([]);
});

test('clipping is passed over up to a thousandth above and five below, and then said with its share', () => {
  expect(codes(settings(), report({ clipped: { high: 0.001, low: 0.005 } }))).toEqual([]);
  const [high, low] = checkColour(settings(), report({ clipped: { high: 0.012, low: 0.03 } }));
  expect([high!.code, low!.code]).toEqual(['clipped-high', 'out-of-gamut']);
  expect(high!.text).toMatch(/^1\.2 % of the repeat is brighter than white/);
  expect(low!.text).toContain('3 %');
});

test('a claim is open when it is off by more than its tolerance, and wrong by far more', () => {
  const off = (deltaE: number) => codes(settings(), report({ claims: [claim({ deltaE })] }));
  expect(off(2)).toEqual([]);
  expect(off(3)).toEqual([expect.stringMatching(/^open colour-colour$/)]);
  expect(off(5.1)).toEqual([expect.stringMatching(/^wrong colour-colour$/)]);
});

test('a claim of reflectance says by how much the finish is lighter or darker', () => {
  const text = (lrvOff: number) =>
    checkColour(settings(), report({ claims: [claim({ lrvOff, lrv: 40 - lrvOff })] }))[0]!.text;
  expect(text(3)).toMatch(/3 more than the given colour of 37/);
  expect(text(-3)).toMatch(/3 less than the given colour of 43/);
});

test('what rules is only questioned once it was corrected by hand', () => {
  const ruled = report({ claims: [claim({ way: 'lrv', lrvOff: 4 })] });
  expect(codes(settings(), ruled)).toEqual([]);
  const { colour } = settings();
  const byHand = settings({ colour: { ...colour, hand: { ...colour.hand, lightness: 3 } } });
  expect(codes(byHand, ruled)).toEqual(['open colour-lrv']);
});

test('hardly anything but snow or velvet: not where the reflectance is not known, nor of metal', () => {
  const extreme = report({ luminance: { p1: 0.01, p50: 0.5, p99: 0.95 } });
  expect(codes(settings(), extreme)).toEqual(['wrong too-light', 'open too-dark']);
  expect(codes(settings({ metal: true }), extreme)).toEqual([]);
  const asPictured = settings({ colour: { ...USUAL_COLOUR, ruling: 'picture' } });
  expect(codes(asPictured, extreme)).toEqual(['open reflectance-open']);
  expect(codes({ ...asPictured, balanced: true }, extreme)).toEqual(['wrong too-light', 'open too-dark']);
});

test('an assumed reflectance is said to be; glass has none of its own', () => {
  const assumed = settings();
  assumed.colour = { ...assumed.colour, lrv: figure(40, 'LRV', 'assumed') };
  expect(codes(assumed, report())).toEqual(['open reflectance-assumed']);
  expect(codes({ ...assumed, glass: true }, report({ clipped: { high: 1, low: 1 } }))).toEqual([]);
});
