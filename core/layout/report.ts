import type { SizesThatClose } from './bonds';
import type { TakeOff } from './take-off';

/** What the layout stage came to. */
export interface LaidReport {
  /** As it is called in the trade. */
  bond: string;
  pieces: number;
  /** Kinds of piece that the bond has: header, dot, batten …; one: they are all alike. */
  kinds: string[];
  courses: number;
  repeatMm: { width: number; height: number };
  /** Sizes that were laid, mm. */
  laid: SizesThatClose;
  /** The nearest sizes that close; empty: it closes by any. */
  closing: SizesThatClose[];
  takeOff: TakeOff;
  /** Pairs of neighbours that show the same face. */
  equalNeighbours: number;
  /** How often each face, or each part of the repeat, is used. */
  timesEach: number | null;
  /** By how much the longest piece is longer than the picture it is cut from, mm: so much of it is continued. */
  continuedMm: number;
  /** By how much pieces are longer than their picture where it is mirrored at its edge, mm. */
  mirroredMm: number;
  /** The same as a share of the picture. */
  mirroredShare: number;
  /** Turns were held to this, degrees, so that pieces do not touch; null: they were not. */
  turnHeldDeg: number | null;
  /** Reflectance over everything, faces and joints. */
  overall: { lrv: number; meanLab: readonly [number, number, number] };
}

/** Null: the finish is not laid of pieces. */
export interface LayoutReport {
  layout: LaidReport | null;
}
