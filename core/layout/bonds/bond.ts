import type { z } from 'zod';
import type { Random } from '../../raster';
import type { Steps } from '../../steps';
import type { LaidCells } from '../cell';

export const FAMILIES = ['Boards', 'Brickwork', 'Tiles', 'Stone', 'Setts', 'Roof and cladding'] as const;
export type Family = (typeof FAMILIES)[number];

/** A piece and its joints, mm. */
export interface Sizes {
  lengthMm: number;
  widthMm: number;
  joint: {
    /** Between courses: it runs along the pieces. */
    alongMm: number;
    /** Between pieces of a course: it runs across them. */
    acrossMm: number;
  };
}

/** What is asked of a bond. */
export interface AskedOfBond<Settings> extends Sizes {
  settings: Settings;
  /** Size of the repeat that is wanted; the nearest that closes is laid. */
  repeatMm: { width: number; height: number };
  random: Random;
}

/** Sizes by which a bond closes, where it cannot with those that were asked. */
export type SizesThatClose = Sizes;

/** A way of laying pieces that closes on both axes. */
export interface Bond<Schema extends z.ZodType = z.ZodType> {
  kind: string;
  /** As the trade calls it. */
  name: string;
  family: Family;
  settings: Schema;
  /** Typical sizes, which it is drawn with and which a new layout has, mm. */
  typical: Sizes & { repeatMm: { width: number; height: number } };
  /** Which of a piece's sizes mean something here; a hexagon has only its width. */
  sized: 'both' | 'width';
  /** Whether chance has a part in it. */
  random: boolean;
  /**
   * The nearest sizes by which it closes, the nearest first; undefined: it closes by any.
   * The asked sizes come first where they close.
   */
  closing?: (asked: Sizes, settings: z.output<Schema>) => SizesThatClose[];
  /** Size of the repeat that is laid, where that is known long before the pieces are; undefined: only laying tells. */
  sizeMm?: (asked: Omit<AskedOfBond<unknown>, 'settings' | 'random'>) => { width: number; height: number };
  /**
   * Lays it at once, or in steps where that takes long.
   * @throws RangeError with a sentence where that cannot be laid
   */
  lay: (asked: AskedOfBond<z.output<Schema>>) => LaidCells | Steps<LaidCells>;
}

/** Keeps the types of a bond's own settings. */
export const bond = <Schema extends z.ZodType>(definition: Bond<Schema>): Bond<Schema> => definition;

/** Piece and joint together. */
export const moduleOf = ({ lengthMm, widthMm, joint }: Sizes) => ({
  l: lengthMm + joint.acrossMm,
  w: widthMm + joint.alongMm,
});

/** Number of units nearest to a length, at least one. */
export const unitsIn = (mm: number, unitMm: number): number => Math.max(1, Math.round(mm / unitMm));

/** Sizes for the sheet and the start of a bond. */
export const typical = (
  lengthMm: number,
  widthMm: number,
  jointMm: number,
  width: number,
  height: number,
): Sizes & { repeatMm: { width: number; height: number } } => ({
  lengthMm,
  widthMm,
  joint: { alongMm: jointMm, acrossMm: jointMm },
  repeatMm: { width, height },
});
