import { makePlane, seededRandom } from '../raster';
import { segmentedByJoints } from './segment';

/** A grey surface with lines every 20 pixels, 2 wide, darker by so much of L*, and a little noise. */
function ruled(darkerBy: number) {
  const random = seededRandom(3);
  const [lightness, a, b] = [makePlane(160, 120), makePlane(160, 120), makePlane(160, 120)];
  lightness.data.forEach((_, i) => {
    const [x, y] = [i % 160, Math.floor(i / 160)];
    lightness.data[i] = 50 - (x % 20 < 2 || y % 20 < 2 ? darkerBy : 0) + 0.05 * random.normal();
  });
  return [lightness, a, b];
}

test.each([2.5, 20])('joints darker by %s of L* part a surface into its pieces', (darkerBy) => {
  const found = segmentedByJoints(ruled(darkerBy), [2, 4])!;
  expect(found.look).toMatchObject({ channel: 0, sign: -1 });
  expect(found.pieces.pieces.filter(({ cutOff }) => !cutOff).length).toBeGreaterThanOrEqual(24);
});

test('a grid fainter than one can see, as compressed pictures have it, is no joints', () => {
  expect(segmentedByJoints(ruled(0.5), [2, 4])).toBeNull();
});
