import { figure } from '../units';
import { coatOver } from './coat';
import { glossOfRoughness, roughnessOfGloss } from './index';

const coat = (gu: number, index = 1.5) => ({
  glossGu: figure(gu, 'GU' as const, 'measured'),
  index: figure(index, '1' as const, 'published'),
});

test('a coat of the index of what is below hides its gloss: only the coat is read', () => {
  const matt = roughnessOfGloss(8, { kind: 'dielectric', index: 1.5 }).roughness;
  const { readsGu, roughness, factor } = coatOver(coat(80), matt, { kind: 'dielectric', index: 1.5 });
  expect(readsGu).toBeCloseTo(80, 0);
  expect(glossOfRoughness(roughness, { kind: 'dielectric', index: 1.5 })).toBeCloseTo(80, 0);
  expect(factor).toBe(1);
});

test('metal under a coat is read through it, weaker than bare', () => {
  const bare = glossOfRoughness(0.3, { kind: 'metal', f0: 0.7 });
  const { readsGu } = coatOver(coat(60), 0.3, { kind: 'metal', f0: 0.7 });
  expect(readsGu).toBeGreaterThan(60);
  expect(readsGu - 60).toBeLessThan(bare);
  expect(readsGu - 60).toBeGreaterThan(0.7 * bare);
});

test('a coat of a lower index than receivers assume has a lower share', () => {
  const { factor } = coatOver(coat(40, 1.35), 0.4, { kind: 'dielectric', index: 1.5 });
  // ((0.35 / 2.35)² / 0.04)
  expect(factor).toBeCloseTo(0.5545, 3);
  expect(coatOver(coat(40, 1.7), 0.4, { kind: 'dielectric', index: 1.5 }).factor).toBe(1);
});
