/**
 * A figure: a number that says where it comes from and how far it can be trusted.
 */
import { squared } from '../exact';
import { z } from 'zod';

export const BASES = ['measured', 'published', 'inferred', 'assumed'] as const;
export type Basis = (typeof BASES)[number];

export const UNITS = [
  'mm',
  'nm',
  'µm',
  'LRV',
  'GU',
  '%',
  'deg',
  'px/mm',
  '1/cm',
  '1/m²',
  'tex',
  '1',
] as const;
export type FigureUnit = (typeof UNITS)[number];

const REACH: Readonly<Record<FigureUnit, { min: number; max: number; minExcluded?: boolean; what: string }>> =
  {
    mm: { min: 0, max: 1e6, minExcluded: true, what: 'a length above 0 and up to 1 000 000 mm' },
    µm: { min: 0, max: 1e5, what: 'a thickness from 0 to 100 000 µm' },
    '1/cm': { min: 0, max: 1000, what: 'a number per centimetre from 0 to 1000' },
    '1/m²': { min: 0, max: 1e6, what: 'a number per square metre from 0 to 1 000 000' },
    tex: { min: 0, max: 1e5, minExcluded: true, what: 'a linear density above 0 and up to 100 000 tex' },
    nm: { min: 0, max: 1200, what: 'a thickness from 0 to 1 200 nm' },
    LRV: { min: 0, max: 100, minExcluded: true, what: 'a light reflectance value above 0 and up to 100' },
    GU: { min: 0, max: 2000, what: 'gloss units from 0 to 2000 (dielectrics end near 100)' },
    '%': { min: 0, max: 100, what: 'a share from 0 to 100 %' },
    deg: { min: -360, max: 360, what: 'an angle from −360 to 360 degrees' },
    'px/mm': {
      min: 0,
      max: 10000,
      minExcluded: true,
      what: 'a resolution above 0 and up to 10 000 px per mm',
    },
    '1': { min: 1, max: 4, what: 'a refractive index from 1 to 4' },
  };

/** A length that may be nothing: a depth of 0 mm is a flat finish. */
const LENGTH_OR_NONE = { ...REACH.mm, minExcluded: false, what: 'a length from 0 to 1 000 000 mm' };

/**
 * Zod schema of a figure in one unit, with that unit's sensible range.
 * @param unit the only unit accepted at this place
 * @param description what the figure is, for the JSON Schema
 * @param orNone a length may be 0
 */
export function figureSchema<U extends FigureUnit>(unit: U, description: string, orNone = false) {
  const reach = orNone && unit === 'mm' ? LENGTH_OR_NONE : REACH[unit];
  return z
    .object({
      value: z
        .number(`${description}: give ${reach.what}.`)
        .refine(
          (v) => (reach.minExcluded ? v > reach.min : v >= reach.min) && v <= reach.max,
          `${description}: give ${reach.what}.`,
        )
        .describe(`The number, in ${unit}`),
      unit: z.literal(unit).describe('Unit of value and tolerance'),
      basis: z.enum(BASES).describe('Where the number comes from: measured, published, inferred or assumed'),
      tolerance: z.number().min(0).max(1e6).optional().describe('Plus or minus, in the same unit'),
      note: z.string().max(2000).optional().describe('Where it was read, by whom, from which sheet'),
    })
    .describe(description);
}

export interface Figure<U extends FigureUnit = FigureUnit> {
  value: number;
  unit: U;
  basis: Basis;
  tolerance?: number | undefined;
  note?: string | undefined;
}

/** Makes a figure. */
export function figure<U extends FigureUnit>(
  value: number,
  unit: U,
  basis: Basis,
  tolerance?: number,
  note?: string,
): Figure<U> {
  return { value, unit, basis, ...(tolerance !== undefined ? { tolerance } : {}), ...(note ? { note } : {}) };
}

/** What rests on several figures is only as good as the weakest of them. */
export function weakestBasis(...bases: readonly Basis[]): Basis {
  return BASES[Math.max(0, ...bases.map((b) => BASES.indexOf(b)))]!;
}

/** Student's t for 95 % (two-sided) by degrees of freedom, 1 to 9; normal beyond. */
const T95 = [12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262];

/**
 * A measured figure from several readings: their mean, and as tolerance the 95 % confidence interval of the mean,
 * combined with the meter's own repeatability.
 * @param readings at least one
 * @param repeatability of the meter, in the same unit
 * @throws RangeError without readings
 */
export function figureOfReadings<U extends FigureUnit>(
  readings: readonly number[],
  unit: U,
  repeatability: number,
): Figure<U> {
  const n = readings.length;
  if (n === 0) throw new RangeError('A measured figure needs at least one reading.');
  const mean = readings.reduce((a, b) => a + b, 0) / n;
  const spread = n > 1 ? Math.sqrt(readings.reduce((s, v) => s + squared(v - mean), 0) / (n - 1)) : 0;
  const interval = n > 1 ? ((T95[n - 2] ?? 1.96) * spread) / Math.sqrt(n) : 0;
  const round = (v: number) => Number(v.toFixed(2));
  return figure(
    round(mean),
    unit,
    'measured',
    round(Math.hypot(interval, repeatability)),
    `Mean of ${n} ${n === 1 ? 'reading' : 'readings'}: ${readings.map((v) => round(v)).join(', ')}`,
  );
}
