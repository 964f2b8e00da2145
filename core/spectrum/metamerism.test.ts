import { readSpectralTable } from '../formats';
import { metamersAmong, readUnder } from './metamerism';
import type { SpectralReading } from './colour';

const even = (value: (nm: number) => number): SpectralReading => ({
  fromNm: 380,
  stepNm: 10,
  values: Array.from({ length: 36 }, (_, k) => value(380 + 10 * k)),
});

test('an even grey has one LRV under every light', () => {
  const { under } = readUnder(
    'grey',
    even(() => 0.18),
  );
  for (const { lrv, lab } of Object.values(under)) {
    expect(lrv).toBeCloseTo(18, 5);
    expect(Math.hypot(lab[1], lab[2])).toBeLessThan(0.01);
  }
});

test('a reddish surface is lighter under the lamp than under daylight', () => {
  const { under } = readUnder(
    'brick',
    even((nm) => (nm > 590 ? 0.5 : 0.12)),
  );
  expect(under.A.lrv).toBeGreaterThan(under.D65.lrv + 3);
  expect(under.LED.lrv).toBeGreaterThan(under.D65.lrv);
});

test('two greys of other pigments match by daylight and not by lamplight, and are found', () => {
  // Three narrow bands, mixed so that under D65 they look as the even grey does.
  const bands = (nm: number) => {
    const bell = (centre: number, width: number) => Math.exp(-0.5 * ((nm - centre) / width) ** 2);
    return [bell(450, 22), bell(540, 24), bell(610, 24)] as const;
  };
  const mixed = mixToGrey(bands);
  const readings = [
    readUnder(
      'even',
      even(() => 0.2),
    ),
    readUnder('three pigments', even(mixed)),
    readUnder(
      'dark',
      even(() => 0.05),
    ),
  ];
  const [pair, ...others] = metamersAmong(readings);
  expect(others).toEqual([]);
  expect(pair!.names).toEqual(['even', 'three pigments']);
  expect(pair!.match.light).toBe('D65');
  expect(pair!.apart.deltaE).toBeGreaterThan(2);
});

/** Amounts of three bands over a dark base that look like a grey of 20 % under D65, found by trying. */
function mixToGrey(bands: (nm: number) => readonly [number, number, number]): (nm: number) => number {
  const amounts = [0.3, 0.3, 0.3];
  const of = (nm: number) => 0.06 + bands(nm).reduce((sum, b, k) => sum + b * amounts[k]!, 0);
  for (let round = 0; round < 300; round++) {
    const { lab, lrv } = readUnder('', even(of)).under.D65;
    amounts[1]! *= 1 + 0.02 * (20 - lrv) * 0.1 + 0.002 * lab[1];
    amounts[2]! *= 1 + 0.02 * (20 - lrv) * 0.1 - 0.003 * lab[1];
    amounts[0]! *= 1 + 0.02 * (20 - lrv) * 0.1 + 0.004 * lab[2];
  }
  return of;
}

const CGATS = `CGATS.17
DESCRIPTOR "Moss and clay"
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME ${Array.from({ length: 36 }, (_, k) => `SPECTRAL_NM${380 + 10 * k}`).join(' ')}
END_DATA_FORMAT
BEGIN_DATA
1 "Moss" ${Array.from({ length: 36 }, (_, k) => (5 + k * 0.5).toFixed(2)).join(' ')}
2 "Clay" ${Array.from({ length: 36 }, (_, k) => (8 + k).toFixed(2)).join(' ')}
END_DATA
`;

test('a CGATS.17 table in percent is read, and says that it was in percent', () => {
  const { name, readings, notes } = readSpectralTable(CGATS, 'x.txt');
  expect(name).toBe('Moss and clay');
  expect(readings.map((r) => r.name)).toEqual(['Moss', 'Clay']);
  expect(readings[0]!.spectrum).toMatchObject({ fromNm: 380, stepNm: 10 });
  expect(readings[0]!.spectrum.values[2]).toBeCloseTo(0.06, 9);
  expect(notes).toEqual(['The values are in percent; they were divided by 100.']);
});

test.each([
  [
    'a gap in the wavelengths',
    'Name,430 nm,440 nm,460 nm\nx,0.1,0.2,0.3\n',
    /not in even steps: 440 nm is followed by 460 nm/,
  ],
  ['a gap in the values', CGATS.replace('8.50', '-'), /450 nm: “-” is not a number/],
  ['no wavelengths', 'Name,L,a,b\nx,1,2,3\n', /No columns of wavelengths/],
  [
    'a short range',
    `Name,${[450, 460, 470].map((n) => `${n} nm`).join(',')}\nx,0.1,0.2,0.3\n`,
    /must reach from 400 to 700 nm/,
  ],
  [
    'less than nothing',
    CGATS.replace('8.50', '-8.5'),
    /-8\.5 % at 450 nm is no reflectance|−8\.5 % at 450 nm is no reflectance/,
  ],
])('%s is refused with a sentence', (_, text, sentence) => {
  expect(() => readSpectralTable(text, 'x.txt')).toThrow(sentence);
});
