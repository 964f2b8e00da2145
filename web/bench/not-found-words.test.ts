import { notFoundWords } from './not-found-words';

test('what is no structure is said with its figure', () => {
  expect(notFoundWords(null)).toBe('No regular structure was found.');
  expect(notFoundWords({ why: 'wanders', amount: 0.071 })).toMatch(/wanders by 7 % of its period; up to 5 %/);
  expect(notFoundWords({ why: 'seldom seen', amount: 0.43 })).toMatch(/seen in 43 % of the picture only/);
  expect(notFoundWords({ why: 'few periods', amount: 1.84 })).toMatch(/shows 1\.8 times, which is too few/);
});
