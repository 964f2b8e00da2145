import { figure } from '../units';
import { lrvOf } from '../colour';
import type { CoatTint } from './settings';
import { coatOver, passedOnce, underTint } from './coat';
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

const TINT: CoatTint = {
  lightPercent: figure(80, '%', 'measured'),
  ofThicknessMm: figure(0.1, 'mm', 'measured'),
  thicknessMm: figure(0.1, 'mm', 'measured'),
  hue: [2, 18],
};

test('a tinted coat lets through what was asked at its thickness, and the square of it at twice as much', () => {
  const once = passedOnce(TINT);
  expect(lrvOf(once)).toBeCloseTo(80, 1);
  expect(once[2]).toBeLessThan(once[0]);
  const twice = passedOnce({ ...TINT, thicknessMm: figure(0.2, 'mm', 'measured') });
  for (const c of [0, 1, 2] as const) expect(twice[c]).toBeCloseTo(once[c] * once[c], 9);
  for (const share of passedOnce({ ...TINT, lightPercent: figure(100, '%', 'measured') }))
    expect(share).toBeLessThanOrEqual(1);
});

test('light passes the coat on its way in and out', () => {
  const white = {
    widthPx: 1,
    heightPx: 1,
    r: Float32Array.of(1),
    g: Float32Array.of(1),
    b: Float32Array.of(1),
  };
  const once = passedOnce(TINT);
  const under = underTint(white, TINT);
  expect(under.b[0]).toBeCloseTo(once[2] * once[2], 6);
  expect(under.r[0]).toBeCloseTo(once[0] * once[0], 6);
});
