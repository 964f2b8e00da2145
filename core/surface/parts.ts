import type { Plane } from '../raster';
import type { Pending } from './pending';

/** A part of a surface by its weight, 0–1, and what it is called. */
export interface Part extends Pending<Plane> {
  name: string;
}
/** Names a part within a recipe. */
export type PartId = string;
export type Parts = ReadonlyMap<PartId, Part>;

export const namedPart = (name: string, { key, get }: Pending<Plane>): Part => ({ name, key, get });

/** What can be done about a part that is not there. */
export const insteadOfPart = (parts: Parts): string =>
  parts.size > 0
    ? `Choose one of: ${[...parts.values()].map(({ name }) => name).join(', ')}.`
    : 'Mark parts by colour in Sample, or lay the finish of pieces.';
