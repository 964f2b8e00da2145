/**
 * A figure: a number that says where it comes from and how far it can be trusted.
 */
import { z } from 'zod';

export const BASES = ['measured', 'published', 'inferred', 'assumed'] as const;
export type Basis = (typeof BASES)[number];

export const UNITS = ['mm', 'LRV', 'GU', 'deg', 'px/mm', '1'] as const;
export type FigureUnit = (typeof UNITS)[number];

const REACH: Readonly<Record<FigureUnit, { min: number; max: number; minExcluded?: boolean; what: string }>> =
  {
    mm: { min: 0, max: 1e6, minExcluded: true, what: 'a length above 0 and up to 1 000 000 mm' },
    LRV: { min: 0, max: 100, minExcluded: true, what: 'a light reflectance value above 0 and up to 100' },
    GU: { min: 0, max: 2000, what: 'gloss units from 0 to 2000 (dielectrics end near 100)' },
    deg: { min: -360, max: 360, what: 'an angle from −360 to 360 degrees' },
    'px/mm': {
      min: 0,
      max: 10000,
      minExcluded: true,
      what: 'a resolution above 0 and up to 10 000 px per mm',
    },
    '1': { min: 1, max: 4, what: 'a refractive index from 1 to 4' },
  };

/**
 * Zod schema of a figure in one unit, with that unit's sensible reach.
 * @param unit the only unit accepted at this place
 * @param description what the figure is, for the JSON Schema
 */
export function figureSchema<U extends FigureUnit>(unit: U, description: string) {
  const reach = REACH[unit];
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
