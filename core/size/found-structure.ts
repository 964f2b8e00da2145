/** A structure that repeats along one axis of a straightened sample. */
export interface FoundPeriod {
  /** Length of one period in shares of the frame on this axis. */
  period: number;
  /** How many periods the frame holds; need not be whole. */
  count: number;
  /** How far the peaks stand above what chance gives, 0–1; from `CONFIDENT` on it is taken for a structure. */
  confidence: number;
  /** Where the lines of the structure lie: share of the frame at which the first one stands, 0 ≤ first < period. */
  first: number;
}

export interface FoundStructure {
  /** null: no regular structure on this axis. */
  across: FoundPeriod | null;
  up: FoundPeriod | null;
  /** Confidence of the best candidate on each axis, also where it was not enough. */
  confidence: { across: number; up: number };
  /** Shift of one course against the next in shares of the period across, 0–1, where both axes repeat. */
  stagger: number | null;
  /** After how many periods the pattern comes back as it was: more than 1 where the period is that of a yarn. */
  whole: { across: number; up: number };
}
