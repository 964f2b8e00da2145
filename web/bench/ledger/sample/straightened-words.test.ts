import { NO_STRUCTURE } from '@jossel/core/size';
import { leanWords, straightenedWords } from './straightened-words';

const COURSES = { ...NO_STRUCTURE, up: { period: 0.1, count: 10, confidence: 0.9, first: 0 } };

const leans = (slopeDeg: number, across: number, up: number) =>
  straightenedWords({
    ...COURSES,
    straighten: {
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
    'Straightened: courses fell by 1.6° to the right; the upper side was 4.5 % longer; the right side was 3 % longer. Undo brings the frame back.',
  );
  expect(leans(-0.7, 0, 0)).toMatch(/courses rose by 0.7° to the right\. Undo/);
  expect(leans(0.01, 0, 0)).toMatch(/sides leaned by a little/);
});

test('where nothing is straightened it says why, and what can be done', () => {
  expect(straightenedWords(COURSES)).toMatch(/already straight/);
  expect(straightenedWords(NO_STRUCTURE)).toMatch(
    /No regular structure was found\. Drag the corners by hand/,
  );
});

test('while it is not straightened yet it is said as it is', () => {
  const frame = { corners: [] as never, slopeDeg: 0.7, converges: { across: 0.02, up: 0 } };
  expect(leanWords(frame, 'is')).toBe('courses fall by 0.7° to the right; the lower side is 2 % longer');
});
