import { ciede2000, type Triple } from '../colour';
import { hexOfLab, parseColour, parseColourList } from './index';

const SAND: Triple = [69.3, 8.8, 30.6];

test.each([
  ['Lab 69.3 8.8 30.6', 'Lab'],
  ['69,3 8,8 30,6', 'Lab'],
  ['L*a*b* 69.3; 8.8; 30.6', 'Lab'],
  ['69.3, 8.8, 30.6', 'Lab'],
  ['#C8A274', 'hex'],
  ['c8a274', 'hex'],
  ['XYZ 40.1 39.8 22.4', 'XYZ'],
  ['linear 0.578 0.361 0.174', 'linear'],
  ['L*=69.3 a*=8.8 b*=30.6', 'Lab'],
  ['L: 69.3, a: 8.8, b: 30.6', 'Lab'],
  ['LCh 69.3 31.84 73.9', 'LCh'],
  ['L*=69.3 C*ab=31.84 hab=73.9°', 'LCh'],
])('%s is read as %s', (text, form) => {
  const colour = parseColour(text);
  expect(colour.form).toBe(form);
  expect(ciede2000(colour.lab, SAND)).toBeLessThan(1.5);
});

test.each([
  ['sand', /is not a colour. Give a colour as Lab/],
  ['Lab 130 0 0', /L\* of 130/],
  ['linear 1.2 0 0', /outside linear light/],
  ['Lab 50 2', /not a colour/],
  ['Lab 50 300 2', /outside any colour/],
  ['LCh 50 -3 20', /chroma of -3/],
  ['L*=52 a*=8 h=22', /is not a colour/],
])('%s is refused with the forms there are', (text, sentence) => {
  expect(() => parseColour(text)).toThrow(sentence);
});

test('a hex comes back from its Lab', () => {
  expect(hexOfLab(parseColour('#c8a274').lab)).toBe('#c8a274');
});

test('a pasted list: names and codes, several forms, empty lines', () => {
  const list = parseColourList(
    'Moss; M-04; Lab 48 -12 18\n\nSand\t#C8A274\r\nDeep ink: 24 2 -14\nChalk 92 0 4\nClay;C-1;50;20;24',
  );
  expect(list.map((c) => [c.name, c.code])).toEqual([
    ['Moss', 'M-04'],
    ['Sand', ''],
    ['Deep ink', ''],
    ['Chalk', ''],
    ['Clay', 'C-1'],
  ]);
  expect(list[2]!.lab).toEqual([24, 2, -14]);
  expect(list[4]!.lab).toEqual([50, 20, 24]);
});

test('a line that is no colour is named; an empty list is said', () => {
  expect(() => parseColourList('Moss; Lab 48 -12 18\nSand; beige')).toThrow(/Line 2, “Sand; beige”/);
  expect(() => parseColourList(' \n')).toThrow(/The list is empty/);
});
