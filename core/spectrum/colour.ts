import { WHITE_D65, xyzToLab, xyzToLinear, type Triple } from '../colour';
import { powerOf, type Illuminant } from './illuminants';
import { valueAt } from './interpolate';
import { OBSERVER_2DEG, TABLE } from './observer';

/** Share of light that is reflected or let through, 0–1, at a wavelength in nm. */
export type Spectrum = (nm: number) => number;

/** A spectrum as it was read: shares 0–1 in even steps. */
export interface SpectralReading {
  fromNm: number;
  stepNm: number;
  values: readonly number[];
}

/** A reading at any wavelength. */
export const spectrumOf =
  ({ fromNm, stepNm, values }: SpectralReading): Spectrum =>
  (nm) =>
    valueAt(values, fromNm, stepNm, nm);

/** Step of the sums: fine enough for the fringes of films, which are narrower than the tables' 10 nm. */
const STEP_NM = 2;

interface Weights {
  nm: number[];
  xyz: Triple[];
}
const weights = new Map<Illuminant, Weights>();

/** What each wavelength adds to X, Y, Z under a light, so that a perfect diffuser has Y = 1. */
function weightsOf(illuminant: Illuminant): Weights {
  const known = weights.get(illuminant);
  if (known) return known;
  const at = (table: readonly number[], nm: number) => valueAt(table, TABLE.fromNm, TABLE.stepNm, nm);
  const nm: number[] = [];
  for (let w = TABLE.fromNm; w <= TABLE.toNm; w += STEP_NM) nm.push(w);
  const raw = nm.map((w): Triple => {
    const power = powerOf(illuminant, w);
    const { x, y, z } = OBSERVER_2DEG;
    return [power * at(x, w), power * at(y, w), power * at(z, w)];
  });
  const total = raw.reduce((sum, [, y]) => sum + y, 0);
  const made = { nm, xyz: raw.map(([x, y, z]): Triple => [x / total, y / total, z / total]) };
  weights.set(illuminant, made);
  return made;
}

/** XYZ under a light for the 2° observer; Y of a perfect diffuser is 1 (CIE 015:2018). */
export function xyzOfSpectrum(spectrum: Spectrum, illuminant: Illuminant = 'D65'): Triple {
  const { nm, xyz } = weightsOf(illuminant);
  const sum = [0, 0, 0];
  for (let i = 0; i < nm.length; i++) {
    const share = spectrum(nm[i]!);
    for (let c = 0; c < 3; c++) sum[c]! += share * xyz[i]![c]!;
  }
  return [sum[0]!, sum[1]!, sum[2]!];
}

/** XYZ of a perfect diffuser under a light. */
export const whiteOf = (illuminant: Illuminant): Triple => xyzOfSpectrum(() => 1, illuminant);

/** CIELAB under a light, against that light's white. */
export function labOfSpectrum(spectrum: Spectrum, illuminant: Illuminant = 'D65'): Triple {
  const white = whiteOf(illuminant);
  const xyz = xyzOfSpectrum(spectrum, illuminant);
  return xyzToLab([
    (xyz[0] / white[0]) * WHITE_D65[0],
    xyz[1] / white[1],
    (xyz[2] / white[2]) * WHITE_D65[2],
  ]);
}

/** Linear sRGB under D65, white as that of sRGB; outside 0–1 where the colour is outside of its range. */
export function linearOfSpectrum(spectrum: Spectrum): Triple {
  const white = whiteOf('D65');
  const [x, y, z] = xyzOfSpectrum(spectrum, 'D65');
  return xyzToLinear([(x / white[0]) * WHITE_D65[0], y / white[1], (z / white[2]) * WHITE_D65[2]]);
}

/** LRV under a light: 100·Y. */
export const lrvOfSpectrum = (spectrum: Spectrum, illuminant: Illuminant = 'D65'): number =>
  100 * xyzOfSpectrum(spectrum, illuminant)[1];
