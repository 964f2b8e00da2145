import { benchSample } from './capture/samples';
import { reliefFigures } from './light-rig/known';
import { UNSEEN_SAMPLES } from './light-rig/unseen';

/** All samples of the bench are in the bench; here one with joints, one that shines and one that is nearly flat. */
test.each([
  // At this size arrises are as wide as two pixels: the depth of joints is told by their shadows.
  ['brick-panel', 0.45, 3, 0.1],
  // Nothing was tuned on these tiles.
  ['unseen-red-tiles', 1, 3, 0.1],
  ['plaster-board', 0.3, 3, null],
])('relief and colour of %s are measured under eight lights', async (id, density, normalDeg, depthOff) => {
  const sample = benchSample(id) ?? UNSEEN_SAMPLES.find((s) => s.id === id)!;
  const figures = await reliefFigures(sample, density, { widthPx: 340 });
  expect(figures.meanNormalDeg).toBeLessThan(normalDeg);
  expect(figures.deltaE).toBeLessThan(1.5);
  expect(figures.heightMm).toBeLessThan(figures.toleranceMm);
  if (depthOff !== null) {
    expect(figures.lightnessMm).toBeGreaterThan(4 * figures.heightMm);
    expect(Math.abs(figures.depth - 1)).toBeLessThan(depthOff);
  }
});

test('pictures taken askew tell more of a sample when they are straightened first', async () => {
  const askew = { widthPx: 300, rollDeg: -6, tiltDeg: 8, overfill: -0.1 };
  const asTaken = await reliefFigures(benchSample('plaster-board')!, 0.3, askew);
  const straightened = await reliefFigures(benchSample('plaster-board')!, 0.3, askew, true);
  expect(straightened.meanNormalDeg).toBeLessThan(0.4);
  expect(straightened.meanNormalDeg).toBeLessThan(asTaken.meanNormalDeg / 4);
  expect(straightened.toleranceMm).toBeLessThan(asTaken.toleranceMm / 4);
  expect(straightened.heightMm).toBeLessThan(straightened.toleranceMm);
  expect(straightened.deltaE).toBeLessThan(1.5);
});

test('a sample that lies turned and tilted under a bowed lens is measured as well', async () => {
  const figures = await reliefFigures(benchSample('tile-moss')!, 0.35, {
    widthPx: 400,
    rollDeg: 4,
    tiltDeg: 3,
    bow: 0.01,
    overfill: 0.12,
  });
  expect(figures.meanNormalDeg).toBeLessThan(6);
  expect(figures.lightnessMm).toBeGreaterThan(2.5 * figures.heightMm);
});
