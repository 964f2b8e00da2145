import { wholePower } from '../exact';
import { D65, TABLE } from './observer';
import { valueAt } from './interpolate';

/** Lights under which a colour is computed. */

export const ILLUMINANTS = ['D65', 'A', 'LED'] as const;
export type Illuminant = (typeof ILLUMINANTS)[number];

export const ILLUMINANT_NAMES: Readonly<Record<Illuminant, string>> = {
  D65: 'D65, average daylight',
  A: 'A, incandescent lamp',
  LED: 'warm white LED, about 2 900 K',
};

/** CIE standard illuminant A: black-body radiation at 2848 K by its own radiation constant (CIE 015:2018). */
const ofA = (nm: number): number =>
  (100 * wholePower(560 / nm, 5) * (Math.exp(1.435e7 / (2848 * 560)) - 1)) /
  (Math.exp(1.435e7 / (2848 * nm)) - 1);

/**
 * A phosphor-converted white LED of a blue emitter at 452 nm and a phosphor about 595 nm: not a product and no CIE
 * illuminant, but of their usual shape. Each band falls off as a Gaussian.
 */
function ofLed(nm: number): number {
  const bell = (centre: number, widthNm: number) => Math.exp(-0.5 * wholePower((nm - centre) / widthNm, 2));
  return 50 * bell(452, 10) + 100 * bell(595, 56);
}

/** Relative spectral power of a light at a wavelength, nm. */
export const powerOf = (illuminant: Illuminant, nm: number): number =>
  illuminant === 'D65'
    ? valueAt(D65, TABLE.fromNm, TABLE.stepNm, nm)
    : illuminant === 'A'
      ? ofA(nm)
      : ofLed(nm);
