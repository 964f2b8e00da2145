import type { GlarePlace } from '@jossel/core/light';
import { makeFrame } from '@jossel/core/straighten';
import { unfilled } from './use-glare';

/** A square outline round a point, in shares of the picture. */
const around = (x: number, y: number, half = 0.01): [number, number][] => [
  [x - half, y - half],
  [x + half, y - half],
  [x + half, y + half],
  [x - half, y + half],
];
const place = (x: number, y: number): GlarePlace => ({
  points: around(x, y),
  share: 4e-4,
  times: 3,
  from: null,
});
const PLACES = [place(0.3, 0.4), place(0.7, 0.4)];
const SHAPE = { widthPx: 800, heightPx: 600 };

test('a place of glare that is filled is not shown again, however its outline was drawn', () => {
  const frame = makeFrame(SHAPE, { bowLines: [], frame: null });
  const filledNear = { points: around(0.31, 0.405, 0.03) };
  expect(unfilled(PLACES, [filledNear], frame)).toEqual([PLACES[1]]);
  expect(unfilled(PLACES, [{ points: around(0.5, 0.4) }], frame)).toEqual(PLACES);
});

test('how close counts as one place is measured on the straightened frame', () => {
  // A frame round a quarter of the picture: what is 0.02 apart in the picture is 0.04 apart in it.
  const small = makeFrame(SHAPE, {
    bowLines: [],
    frame: [
      [0.25, 0.25],
      [0.75, 0.25],
      [0.75, 0.75],
      [0.25, 0.75],
    ],
  });
  const near = { points: around(0.32, 0.4) };
  expect(unfilled(PLACES, [near], small)).toEqual(PLACES);
  expect(unfilled(PLACES, [near], makeFrame(SHAPE, { bowLines: [], frame: null }))).toEqual([PLACES[1]]);
});

test('all places are shown where nothing is filled, or the sample has no frame', () => {
  expect(unfilled(PLACES, [], makeFrame(SHAPE, { bowLines: [], frame: null }))).toBe(PLACES);
  expect(unfilled(PLACES, [{ points: around(0.3, 0.4) }], null)).toBe(PLACES);
});
