import { readColourReference } from './colour-reference';

const CGATS = `CGATS.17
ORIGINATOR "Test bench"
DESCRIPTOR "Card of spring"
NUMBER_OF_FIELDS 5
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B
END_DATA_FORMAT
NUMBER_OF_SETS 3
BEGIN_DATA
1 "Grey 1" 92.1 0.2 0.9
2 A1 77.8 4.1 18.3 # a remark
3 A2
66.2 10.1 25.8
END_DATA
`;

test('CGATS.17 is read: quoted names, remarks, rows over several lines', () => {
  const { name, patches } = readColourReference(CGATS, 'card.txt');
  expect(name).toBe('Card of spring');
  expect(patches).toEqual([
    { name: 'Grey 1', lab: [92.1, 0.2, 0.9] },
    { name: 'A1', lab: [77.8, 4.1, 18.3] },
    { name: 'A2', lab: [66.2, 10.1, 25.8] },
  ]);
});

test.each([
  ['comma', 'Name,L,a,b\nA,50,1,2\nB,60,3,4\nC,70,5,6\n'],
  ['semicolon and decimal comma', 'Name;L*;a*;b*\r\nA;50,0;1,0;2,0\r\nB;60;3;4\r\nC;70;5;6\r\n'],
  ['tab, other order', 'b\tL\ta\tPatch\n2\t50\t1\tA\n4\t60\t3\tB\n6\t70\t5\tC'],
])('a table with a heading is read: %s', (_what, text) => {
  expect(readColourReference(text, 'values.csv').patches).toEqual([
    { name: 'A', lab: [50, 1, 2] },
    { name: 'B', lab: [60, 3, 4] },
    { name: 'C', lab: [70, 5, 6] },
  ]);
});

test('XYZ stands in for Lab', () => {
  const { patches } = readColourReference(
    'Name,X,Y,Z\nW,95.05,100,108.9\nG,19.4,20.4,22.2\nK,3,3.2,3.4',
    'x.csv',
  );
  expect(patches[0]!.lab[0]).toBeCloseTo(100, 1);
  expect(patches[1]!.lab[0]).toBeCloseTo(52.3, 0);
});

test.each([
  ['a missing column', 'Name,L,a\nA,1,2\nB,1,2', /must name the columns|LAB_B are missing/],
  ['no b*', 'Name,L,a,c\nA,1,2,3\nB,1,2,3', /LAB_B are missing: there are Name, L, a, c/],
  ['no name', 'L,a,b,x\n1,2,3,4\n1,2,3,4', /No column names the patches/],
  ['a row that is short', 'Name,L,a,b\nA,1,2,3\nB,1,2', /Line 3 has 3 values, but the heading names 4/],
  ['what is no number', 'Name,L,a,b\nA,fifty,2,3', /Line 2, L: “fifty” is not a number/],
  ['L* above 100', 'Name,L,a,b\nA,140,2,3', /patch A: L\* of 140 is not between 0 and 100/],
  ['swapped columns', 'Name,a,L,b\nA,92,1,1\nB,95,2,4\nC,99,3,6', /columns seem to be swapped/],
  ['a name twice', 'Name,L,a,b\nA,50,2,3\nA,50,2,3', /the patch A is there twice/],
  ['nothing', '\n\n', /The file is empty/],
  ['no data', 'CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n', /no data/],
])('%s is refused with a sentence', (_what, text, sentence) => {
  expect(() => readColourReference(text, 'x.csv')).toThrow(sentence);
});
