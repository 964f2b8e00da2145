import fc from 'fast-check';
import { figure } from '../units';
import { internalTransmittance } from '../optics';
import { glassOf, laminateOf, shadowBetween } from './glass';
import type { GlassSettings, Laminate } from './settings';

const glass = (changes: Partial<GlassSettings> = {}): GlassSettings => ({
  kind: 'glass',
  index: figure(1.52, '1', 'published'),
  thicknessMm: figure(6, 'mm', 'measured'),
  lightPercent: figure(88, '%', 'published'),
  ofThicknessMm: figure(6, 'mm', 'published'),
  tint: [0, 0],
  ...changes,
});

test('a pane lets through what it was asked to, in the hue it was asked for', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 5, max: 80, noNaN: true }),
      fc.double({ min: -8, max: 8, noNaN: true }),
      fc.double({ min: -8, max: 8, noNaN: true }),
      (percent, a, b) => {
        const made = glassOf(glass({ lightPercent: figure(percent, '%', 'measured'), tint: [a, b] }));
        if (made.beyond) return;
        expect(Math.abs(100 * made.transmitted - percent)).toBeLessThan(0.5);
        expect(made.lab[1]).toBeCloseTo(a, 1);
        expect(made.lab[2]).toBeCloseTo(b, 1);
      },
    ),
    { numRuns: 60 },
  );
});

test('a laminate lets through what its glasses and the film between let through, with two outer surfaces alone', () => {
  const clear = glass();
  const grey = { ...glass({ lightPercent: figure(44, '%', 'published'), tint: [-1, -3] }) };
  const bonded = (laminate: Partial<Laminate>) =>
    glassOf({ ...clear, laminate: { ...laminateOf(grey), ...laminate } });
  const film = {
    interlayerMm: figure(0.76, 'mm', 'assumed'),
    interlayerPercent: figure(100, '%', 'assumed'),
  };
  const made = bonded(film);
  expect(made.thicknessMm).toBeCloseTo(12.76, 9);
  // The reference: the laminate of two of the same glass is one pane of twice the thickness.
  const twice = glassOf({
    ...clear,
    laminate: { ...laminateOf(clear), ...film, interlayerMm: figure(0, 'mm', 'assumed') },
  });
  expect(twice.transmitted).toBeCloseTo(
    glassOf(glass({ thicknessMm: figure(12, 'mm', 'measured') })).transmitted,
    9,
  );
  // Internal transmittances multiply.
  const inner = internalTransmittance(0.88, 1.52) * internalTransmittance(0.44, 1.52);
  expect(internalTransmittance(made.transmitted, 1.52)).toBeCloseTo(inner, 2);
  expect(
    bonded({ ...film, interlayerPercent: figure(60, '%', 'published') }).transmitted / made.transmitted,
  ).toBeCloseTo(0.6, 1);
  expect(made.panes.map(({ name }) => name)).toContain('this laminate');
});

test('the same glass is darker in thicker panes, and its absorption is what glTF attenuates by', () => {
  const grey = glass({
    lightPercent: figure(44, '%', 'published'),
    ofThicknessMm: figure(6, 'mm', 'published'),
    thicknessMm: figure(10, 'mm', 'measured'),
  });
  const made = glassOf(grey);
  const { panes } = made;
  expect(panes.map(({ name }) => name)).toEqual([
    '4 mm',
    '6 mm',
    '10 mm',
    '19 mm',
    'two of this pane, air between',
  ]);
  expect(panes[1]!.transmitted).toBeCloseTo(0.44, 3);
  expect(panes[2]!.transmitted).toBeCloseTo(made.transmitted, 9);
  expect(panes[0]!.transmitted).toBeGreaterThan(panes[1]!.transmitted);
  // What is left within 10 mm, with what the two surfaces leave, is what is let through.
  const r = Math.pow(0.52 / 2.52, 2);
  const tau = made.attenuation[1];
  expect(((1 - r) * (1 - r) * tau) / (1 - r * r * tau * tau)).toBeCloseTo(made.transmitted, 6);
});

test('its shadow is darker the more the light grazes; the curve for receivers is off by no more than it says', () => {
  const { shadow, angles } = glassOf(glass());
  expect(shadow.at.map(([deg]) => deg)).toEqual([0, 60, 80]);
  expect(shadow.at[0]![1]).toBeCloseTo(0.12, 2);
  const dark = shadow.at.map(([, darkness]) => darkness);
  expect([...dark].sort((a, b) => a - b)).toEqual(dark);
  for (const { angleDeg, transmitted } of angles)
    expect(Math.abs(shadowBetween(shadow.at, angleDeg) - (1 - transmitted))).toBeLessThanOrEqual(
      shadow.offAtMost + 1e-9,
    );
  expect(shadow.offAtMost).toBeLessThan(0.1);
  expect(shadowBetween(shadow.at, 90)).toBeCloseTo(1, 9);
});

test('more than the surfaces leave is said, and the most is taken', () => {
  const made = glassOf(glass({ lightPercent: figure(97, '%', 'published') }));
  expect(made.beyond).toBe(true);
  expect(made.transmitted).toBeCloseTo(made.clear, 6);
  expect(glassOf(glass({ lightPercent: figure(91.8, '%', 'published') })).beyond).toBe(false);
});

test('a satin side is rough', () => {
  expect(glassOf(glass()).roughness).toBe(0);
  const satin = glassOf(glass({ hazePercent: figure(85, '%', 'published') }));
  expect(satin.roughness).toBeGreaterThan(0.3);
  expect(glassOf(glass({ hazePercent: figure(100, '%', 'published') })).roughness).toBeLessThanOrEqual(1);
});
