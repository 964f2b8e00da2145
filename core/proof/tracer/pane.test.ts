import fc from 'fast-check';
import { bendThrough, PaneShares } from './pane';

const COSINE = fc.double({ min: 0.05, max: 1, noNaN: true });
const INDEX = fc.double({ min: 1.2, max: 2.2, noNaN: true });
const RAD = Math.PI / 180;

test('a clear pane loses nothing: what it does not mirror goes through', () => {
  const pane = new PaneShares();
  fc.assert(
    fc.property(COSINE, INDEX, (cos, index) => {
      pane.meet(cos, index, [1, 1, 1]);
      for (const through of [pane.r, pane.g, pane.b]) expect(pane.mirrored + through).toBeCloseTo(1, 9);
    }),
  );
});

test('met straight on, float glass lets through what two faces of 4 % leave, reflections between them included', () => {
  const pane = new PaneShares();
  pane.meet(1, 1.52, [1, 1, 1]);
  const face = (0.52 / 2.52) * (0.52 / 2.52);
  expect(pane.mirrored).toBeCloseTo((2 * face) / (1 + face), 9);
  expect(pane.g).toBeCloseTo((1 - face) / (1 + face), 9);
});

test('tinted glass takes more of a channel the less it lets through, and the more so aslant', () => {
  const pane = new PaneShares();
  pane.meet(1, 1.52, [0.9, 0.6, 0.3]);
  const straight = [pane.r, pane.g, pane.b] as const;
  expect(straight[0]).toBeGreaterThan(straight[1]);
  expect(straight[1]).toBeGreaterThan(straight[2]);
  pane.meet(Math.cos(50 * RAD), 1.52, [0.9, 0.6, 0.3]);
  expect(pane.b / pane.r).toBeLessThan(straight[2] / straight[0]);
});

test('the lower a ray meets it the more it mirrors, beyond the angle of Brewster', () => {
  const pane = new PaneShares();
  let before = 0;
  for (const deg of [57, 65, 75, 85, 89]) {
    pane.meet(Math.cos(deg * RAD), 1.52, [1, 1, 1]);
    expect(pane.mirrored).toBeGreaterThan(before);
    before = pane.mirrored;
  }
  expect(before).toBeGreaterThan(0.9);
});

test('a ray that goes in and out at facets that are parallel goes on as it came', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 80, noNaN: true }), INDEX, (deg, index) => {
      const d = [Math.sin(deg * RAD), 0, -Math.cos(deg * RAD)];
      const out = [0, 0, 0];
      expect(bendThrough(d, [0, 0, 1], [0, 0, 1], index, out)).toBe(true);
      d.forEach((v, k) => expect(out[k]).toBeCloseTo(v, 9));
    }),
  );
});

test('a thin prism turns a ray by the index less one, times its angle', () => {
  const prismDeg = 2;
  const out = [0, 0, 0];
  const second = [Math.sin(prismDeg * RAD), 0, Math.cos(prismDeg * RAD)];
  expect(bendThrough([0, 0, -1], [0, 0, 1], second, 1.5, out)).toBe(true);
  expect(Math.hypot(...out)).toBeCloseTo(1, 9);
  expect(Math.abs(Math.asin(out[0]!) / RAD)).toBeCloseTo(0.5 * prismDeg, 2);
});

test('a ray that meets the second facet too low is held within the glass', () => {
  // 60° within glass of index 1.5 is beyond the critical angle of 41.8°.
  const second = [Math.sin(60 * RAD), 0, Math.cos(60 * RAD)];
  expect(bendThrough([0, 0, -1], [0, 0, 1], second, 1.5, [0, 0, 0])).toBe(false);
  expect(bendThrough([0, 0, -1], [0, 0, 1], second, 1.1, [0, 0, 0])).toBe(true);
  // And one that comes from behind does not go in.
  expect(bendThrough([0, 0, 1], [0, 0, 1], [0, 0, 1], 1.5, [0, 0, 0])).toBe(false);
});
