import { straightenedWords } from './straightened-words';

const leans = (slopeDeg: number, across: number, up: number) =>
  straightenedWords({
    kind: 'leans',
    structure: { across: 0.1, up: 0.1, stagger: 0 },
    proposed: {
      corners: [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ],
      slopeDeg,
      converges: { across, up },
    },
  });

test('what was straightened is said by slope and sides, as seen in the picture', () => {
  expect(leans(1.6, -0.045, 0.03)).toBe(
    'Straightened: courses fell by 1.6° to the right; the upper side was 4.5\u2009% longer; the right side was 3\u2009% longer. Undo brings the frame back.'.replaceAll(
      '\u2009',
      ' ',
    ),
  );
  expect(leans(-0.7, 0, 0)).toMatch(/courses rose by 0.7° to the right\. Undo/);
  expect(leans(0.01, 0, 0)).toMatch(/sides leaned by a little/);
});

test('where nothing is straightened it says why, and what can be done', () => {
  expect(straightenedWords({ kind: 'true', structure: { across: 0.1, up: null, stagger: 0 } })).toMatch(
    /lies true/,
  );
  expect(straightenedWords({ kind: 'no-structure' })).toMatch(/Drag the corners by hand/);
});
