import { endsMm, moved, withEnd } from './section-line';

const REPEAT = { width: 400, height: 200 };
const FIELD = { width: 800, height: 400 };

test('a level line runs over the whole field; an end that is moved makes it a line of its own', () => {
  expect(endsMm(0.25, REPEAT, FIELD.width)).toEqual({ from: [0, 50], to: [800, 50] });
  const line = withEnd(0.25, 'to', [300, 150], REPEAT, FIELD);
  expect(endsMm(line, REPEAT, FIELD.width)).toEqual({ from: [0, 50], to: [300, 150] });
});

test('ends stay on the field, and a line never shrinks to a point', () => {
  const line = withEnd(0.25, 'to', [9000, -40], REPEAT, FIELD);
  expect(endsMm(line, REPEAT, FIELD.width).to).toEqual([800, 0]);
  expect(withEnd(line, 'to', [1, 50], REPEAT, FIELD)).toBe(line);
});

test('a line moved as a whole keeps its length and its slope, and stops at the edge of the field', () => {
  const line = withEnd(withEnd(0.25, 'to', [300, 150], REPEAT, FIELD), 'from', [100, 100], REPEAT, FIELD);
  const { from, to } = endsMm(moved(line, [1000, 10], REPEAT, FIELD), REPEAT, FIELD.width);
  expect(from[0]).toBeCloseTo(600, 6);
  expect(from[1]).toBeCloseTo(110, 6);
  expect(to[0]).toBeCloseTo(800, 6);
  expect(to[1]).toBeCloseTo(160, 6);
  expect(moved(0.25, [50, -500], REPEAT, FIELD)).toBe(0.001);
});
