import { benchSample } from './capture/samples';
import { reliefFigures } from './light-rig/known';
import { UNSEEN_SAMPLES } from './light-rig/unseen';

/** All samples are in the bench; here two with joints, and below one that is nearly flat and one that shines. */
test.each([
  // At this size arrises are as wide as two pixels: the depth of joints is told by their shadows.
  ['brick-panel', 0.45, 340, 0.1],
  // Nothing was tuned on these tiles.
  ['unseen-red-tiles', 0.6, 240, 0.1],
])('relief and colour of %s are measured under eight lights', async (id, density, widthPx, depthOff) => {
  const sample = benchSample(id) ?? UNSEEN_SAMPLES.find((s) => s.id === id)!;
  const figures = await reliefFigures(sample, density, { widthPx });
  expect(figures.meanNormalDeg).toBeLessThan(3);
  expect(figures.deltaE).toBeLessThan(1.5);
  expect(figures.heightMm).toBeLessThan(figures.toleranceMm);
  expect(figures.lightnessMm).toBeGreaterThan(4 * figures.heightMm);
  expect(Math.abs(figures.depth - 1)).toBeLessThan(depthOff);
});

test('pictures taken askew tell more of a sample when they are straightened first', async () => {
  const askew = { widthPx: 240, rollDeg: -6, tiltDeg: 8, overfill: -0.1 };
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
    widthPx: 320,
    rollDeg: 4,
    tiltDeg: 3,
    bow: 0.01,
    overfill: 0.12,
  });
  expect(figures.meanNormalDeg).toBeLessThan(6);
  expect(figures.lightnessMm).toBeGreaterThan(2.5 * figures.heightMm);
});
