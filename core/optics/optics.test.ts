import fc from 'fast-check';
import { linearOfSpectrum } from '../spectrum';
import {
  absorptionOf,
  clearTransmittance,
  filmReflectance,
  fresnelDielectric,
  hazeOfRoughness,
  internalTransmittance,
  metalIndex,
  METALS,
  reflectanceOfIndex,
  roughnessOfHaze,
  throughPanes,
  type Pane,
} from '.';

const f0Of = (metal: (typeof METALS)[number]) =>
  linearOfSpectrum((nm) => reflectanceOfIndex(metalIndex(metal, nm)));

describe('metals', () => {
  it('reflect as is known of them', () => {
    // Reflectance of evaporated mirrors at 550 nm, as handbooks of optics give it.
    const at550 = {
      aluminium: 0.915,
      gold: 0.8,
      silver: 0.979,
      copper: 0.6,
      chromium: 0.63,
      nickel: 0.61,
    } as const;
    for (const [metal, share] of Object.entries(at550))
      expect(Math.abs(reflectanceOfIndex(metalIndex(metal as keyof typeof at550, 550)) - share)).toBeLessThan(
        0.035,
      );
  });

  it('have the hue one knows: gold and copper warm, silver and aluminium nearly neutral', () => {
    const [gold, copper, silver, aluminium] = [
      f0Of('gold'),
      f0Of('copper'),
      f0Of('silver'),
      f0Of('aluminium'),
    ];
    expect(gold[0]).toBeGreaterThan(0.95);
    expect(gold[1]).toBeGreaterThan(0.7);
    expect(gold[2]).toBeLessThan(0.42);
    expect(copper[0]).toBeGreaterThan(copper[1] + 0.2);
    for (const grey of [silver, aluminium]) expect(Math.max(...grey) - Math.min(...grey)).toBeLessThan(0.09);
  });

  it('absorb and reflect at all visible wavelengths, without jumps', () => {
    for (const metal of METALS)
      for (let nm = 380; nm < 780; nm += 5) {
        const [a, b] = [metalIndex(metal, nm), metalIndex(metal, nm + 5)];
        expect(a.k).toBeGreaterThan(0.5);
        expect(reflectanceOfIndex(a)).toBeLessThan(1);
        expect(Math.abs(reflectanceOfIndex(a) - reflectanceOfIndex(b))).toBeLessThan(0.06);
      }
  });
});

describe('thin films', () => {
  it('of no thickness, or of the index of what is below, change nothing', () => {
    for (const cos of [1, 0.6, 0.2]) {
      expect(filmReflectance({ thicknessNm: 0, index: 2.2 }, { n: 1.5, k: 0 }, 550, cos)).toBeCloseTo(
        fresnelDielectric(cos, 1.5),
        9,
      );
      expect(filmReflectance({ thicknessNm: 333, index: 1.5 }, { n: 1.5, k: 0 }, 550, cos)).toBeCloseTo(
        fresnelDielectric(cos, 1.5),
        9,
      );
    }
    const gold = metalIndex('gold', 600);
    expect(filmReflectance({ thicknessNm: 0, index: 1.7 }, gold, 600)).toBeCloseTo(
      reflectanceOfIndex(gold),
      9,
    );
  });

  it('of a quarter wave and the root of the index below reflect nothing', () => {
    const film = { index: Math.sqrt(1.5), thicknessNm: 550 / (4 * Math.sqrt(1.5)) };
    expect(filmReflectance(film, { n: 1.5, k: 0 }, 550)).toBeCloseTo(0, 12);
    // Half a wave of any index is not seen.
    expect(filmReflectance({ index: 2.3, thicknessNm: 550 / 4.6 }, { n: 1.5, k: 0 }, 550)).toBeCloseTo(
      0.04,
      9,
    );
  });

  it('never reflect more light than there is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1200, noNaN: true }),
        fc.double({ min: 1.01, max: 3, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        fc.integer({ min: 380, max: 780 }),
        fc.constantFrom(...METALS),
        (thicknessNm, index, cos, nm, metal) => {
          const share = filmReflectance({ thicknessNm, index }, metalIndex(metal, nm), nm, cos);
          expect(share).toBeGreaterThanOrEqual(0);
          expect(share).toBeLessThanOrEqual(1 + 1e-12);
        },
      ),
    );
  });
});

const clear = (thicknessMm: number): Pane => ({ index: 1.52, thicknessMm, absorptionPerMm: [0] });

/** Light through one pane, ray by ray: which surface it meets next, and whether it passes, is told by random numbers. */
function traced(pane: Pane, angleDeg: number, rays: number): { transmitted: number; reflected: number } {
  let seed = 12345;
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
  const cosIn = Math.cos((angleDeg * Math.PI) / 180);
  const sin2 = (1 - cosIn * cosIn) / (pane.index * pane.index);
  const cosT = Math.sqrt(1 - sin2);
  const s = (cosIn - pane.index * cosT) / (cosIn + pane.index * cosT);
  const p = (cosT - pane.index * cosIn) / (cosT + pane.index * cosIn);
  const kept = Math.exp((-pane.absorptionPerMm[0]! * pane.thicknessMm) / cosT);
  let [transmitted, reflected] = [0, 0];
  for (let i = 0; i < rays; i++) {
    const r = i % 2 === 0 ? s * s : p * p;
    if (random() < r) {
      reflected++;
      continue;
    }
    for (let atBack = true; random() < kept; atBack = !atBack)
      if (random() >= r) {
        if (atBack) transmitted++;
        else reflected++;
        break;
      }
  }
  return { transmitted: transmitted / rays, reflected: reflected / rays };
}

describe('glass', () => {
  it('gives back the light transmittance it was asked for within half a percent', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.91, noNaN: true }),
        fc.double({ min: 1.45, max: 1.6, noNaN: true }),
        fc.double({ min: 1, max: 25, noNaN: true }),
        (share, index, thicknessMm) => {
          const total = share * clearTransmittance(index);
          const pane = { index, thicknessMm, absorptionPerMm: [absorptionOf(total, index, thicknessMm)] };
          expect(throughPanes([pane], 0).transmitted[0]).toBeCloseTo(total, 6);
        },
      ),
    );
    expect(internalTransmittance(clearTransmittance(1.52), 1.52)).toBeCloseTo(1, 9);
    expect(internalTransmittance(0.95, 1.52)).toBeGreaterThan(1);
  });

  it('loses nothing where nothing is absorbed, and leaves nothing at grazing light', () => {
    for (const panes of [[clear(4)], [clear(4), clear(6)], [clear(4), clear(4), clear(4)]])
      for (let deg = 0; deg < 90; deg += 7) {
        const { transmitted, reflected } = throughPanes(panes, deg);
        expect(transmitted[0]! + reflected[0]!).toBeCloseTo(1, 9);
      }
    expect(throughPanes([clear(4)], 0).transmitted[0]).toBeCloseTo(0.9183, 3);
    expect(throughPanes([clear(4), clear(4)], 0).transmitted[0]).toBeCloseTo(0.8488, 3);
    expect(throughPanes([clear(4)], 89.9).transmitted[0]).toBeLessThan(0.03);
  });

  it('is darker the thicker it is, in a double pane the same from both sides', () => {
    const tinted = (thicknessMm: number): Pane => ({ index: 1.52, thicknessMm, absorptionPerMm: [0.08] });
    const shares = [4, 6, 10, 19].map((mm) => throughPanes([tinted(mm)], 40).transmitted[0]!);
    expect([...shares].sort((a, b) => b - a)).toEqual(shares);
    const there = throughPanes([clear(4), tinted(8)], 55);
    const back = throughPanes([tinted(8), clear(4)], 55);
    expect(there.transmitted[0]).toBeCloseTo(back.transmitted[0]!, 12);
    expect(there.reflected[0]).toBeGreaterThan(back.reflected[0]!);
  });

  it('agrees with light traced ray by ray', () => {
    for (const [deg, absorption] of [
      [0, 0.05],
      [60, 0.05],
      [80, 0],
    ] as const) {
      const pane = { index: 1.52, thicknessMm: 6, absorptionPerMm: [absorption] };
      const [sum, rays] = [throughPanes([pane], deg), traced(pane, deg, 200000)];
      expect(Math.abs(sum.transmitted[0]! - rays.transmitted)).toBeLessThan(0.005);
      expect(Math.abs(sum.reflected[0]! - rays.reflected)).toBeLessThan(0.005);
    }
  });

  it('finds the roughness of a satin side from its haze and back', () => {
    for (const haze of [0.02, 0.3, 0.8, 0.97])
      expect(hazeOfRoughness(roughnessOfHaze(haze, 1.52), 1.52)).toBeCloseTo(haze, 9);
    expect(roughnessOfHaze(0, 1.52)).toBe(0);
    expect(roughnessOfHaze(0.5, 1.52)).toBeGreaterThan(0.25);
    expect(roughnessOfHaze(0.5, 1.52)).toBeLessThan(0.35);
  });
});
