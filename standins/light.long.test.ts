import { lightFigures } from './known-light';

/** Twenty-four are in the bench; here the darkest, the lightest, a strongly patterned and a glossy one. */
const SEEDS = [8, 9, 4, 1];

test('levelled and balanced by the card, reflectance, light and patches are as true as they have to be', async () => {
  const all = [];
  for (const seed of SEEDS) all.push((await lightFigures(seed, 800))!);
  expect(all.map((f) => f.sample).sort()).toEqual(['board-lime', 'board-soot', 'brick-panel', 'tile-single']);
  expect(Math.min(...all.map((f) => f.trueLrv))).toBeLessThan(5);
  expect(Math.max(...all.map((f) => f.trueLrv))).toBeGreaterThan(86);
  for (const f of all) {
    expect(Math.abs(f.lrvOff)).toBeLessThan(1);
    expect(f.unevenAfter).toBeLessThan(1);
    expect(f.unevenBefore).toBeGreaterThan(1);
    expect(Math.abs(f.contrastChange)).toBeLessThan(0.03);
    expect(f.patches.mean).toBeLessThan(1.5);
    expect(f.patches.worst).toBeLessThan(4);
  }
});
