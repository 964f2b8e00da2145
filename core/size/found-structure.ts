import type { Quad } from '../straighten';

/** A structure that repeats along one axis of a straightened sample. */
export interface FoundPeriod {
  /** Length of one period in shares of the frame on this axis. */
  period: number;
  /** How many periods the frame holds; need not be whole. */
  count: number;
  /** Share of the picture in which the structure is seen where it is expected. */
  confidence: number;
  /** Where the lines of the structure lie: share of the frame at which the first one stands, 0 ≤ first < period. */
  first: number;
}

/** Corners by which a picture is straightened. */
export interface ProposedFrame {
  /** Corners of the largest rectangle of the surface within the picture, in shares of it. */
  corners: Quad;
  /** By how much courses fall to the right in the middle of the picture, degrees; upwards where it is negative. */
  slopeDeg: number;
  /** How much longer the lower side of that rectangle is seen than the upper one, and the right one than the left, as shares. */
  converges: { across: number; up: number };
}

/** Why what repeats is not taken for a structure: it wanders, is not seen all over the picture, or shows too seldom. */
export interface NotAStructure {
  why: 'wanders' | 'seldom seen' | 'few periods';
  /** By how much of a period it wanders; in what share of the picture it is seen; how many times it shows. */
  amount: number;
}

export interface FoundStructure {
  /** Period along the courses; null: no regular structure on this axis. */
  across: FoundPeriod | null;
  /** Height of one course, or of as many as come before the pattern stands as it did. */
  up: FoundPeriod | null;
  /** Shift of one course against the one above it in shares of the period across, 0–1, where both axes repeat. */
  stagger: number | null;
  /** The two shortest vectors by which the picture repeats, in shares of its width and height, y downwards. */
  lattice: readonly [readonly [number, number], readonly [number, number]] | null;
  /** How the picture would be straightened by the structure; null: it is straight already, or nothing repeats. */
  straighten: ProposedFrame | null;
  /** Why the best candidate is not taken; null: one was taken, or nothing repeats. */
  refused: NotAStructure | null;
}

/** Nothing repeats. */
export const NO_STRUCTURE: FoundStructure = {
  across: null,
  up: null,
  stagger: null,
  lattice: null,
  straighten: null,
  refused: null,
};
