import type { z } from 'zod';
import type { Bond } from './bond';
import { BOARDS } from './boards';
import { BRICKWORK } from './brickwork';
import { CLADDING } from './cladding';
import { SETTS } from './setts';
import { STONE } from './stone';
import { TILES } from './tiles';

/** Every bond, by families. Adding one is adding it to its family. */
export const BONDS: readonly Bond<z.ZodType>[] = [
  ...BOARDS,
  ...BRICKWORK,
  ...TILES,
  ...STONE,
  ...SETTS,
  ...CLADDING,
] as unknown as readonly Bond<z.ZodType>[];

/** The bond of a kind. @throws RangeError when there is none */
export function bondOf(kind: string): Bond<z.ZodType> {
  const found = BONDS.find((b) => b.kind === kind);
  if (found) return found;
  throw new RangeError(`There is no bond "${kind}". Bonds are ${BONDS.map((b) => b.kind).join(', ')}.`);
}

export { FAMILIES, moduleOf, type Bond, type Family, type Sizes, type SizesThatClose } from './bond';
