import { ciede2000, type Triple } from '../colour';
import { labOfSpectrum, lrvOfSpectrum, spectrumOf, type SpectralReading } from './colour';
import { ILLUMINANTS, type Illuminant } from './illuminants';

/** A reading under each light. */
export interface ReadUnder {
  name: string;
  under: Readonly<Record<Illuminant, { lrv: number; lab: Triple }>>;
}

/** LRV and CIELAB of a spectrum under each light, 2° observer. */
export function readUnder(name: string, reading: SpectralReading): ReadUnder {
  const spectrum = spectrumOf(reading);
  const of = (light: Illuminant) => ({
    lrv: lrvOfSpectrum(spectrum, light),
    lab: labOfSpectrum(spectrum, light),
  });
  return { name, under: { D65: of('D65'), A: of('A'), LED: of('LED') } };
}

/** Two that match under one light and not under another. */
export interface Metamers {
  names: readonly [string, string];
  match: { light: Illuminant; deltaE: number };
  apart: { light: Illuminant; deltaE: number };
}

/** CIEDE2000 up to which two match, and from which they do not. */
export const MATCHES_BELOW = 1;
export const APART_ABOVE = 2;

/** Pairs that match under one light and differ under another, the furthest apart first. */
export function metamersAmong(readings: readonly ReadUnder[]): Metamers[] {
  const found: Metamers[] = [];
  for (const [i, a] of readings.entries())
    for (const b of readings.slice(i + 1)) {
      const off = ILLUMINANTS.map((light) => ({
        light,
        deltaE: ciede2000(a.under[light].lab, b.under[light].lab),
      })).sort((x, y) => x.deltaE - y.deltaE);
      const [match, apart] = [off[0]!, off.at(-1)!];
      if (match.deltaE <= MATCHES_BELOW && apart.deltaE >= APART_ABOVE)
        found.push({ names: [a.name, b.name], match, apart });
    }
  return found.sort((x, y) => y.apart.deltaE - x.apart.deltaE);
}
