/**
 * Long work in steps: a generator that yields wherever it may be left for a while, or for good. It computes the same whether it is
 * done at once or in turns.
 */
export type Steps<T> = Generator<undefined, T, undefined>;

/** Numbers that are computed before others may have their turn: a few milliseconds' worth. */
const SPAN = 1 << 19;

/**
 * Many numbers in spans, each from one number to before another. A loop over pixels yields before each span; a function that is
 * called for each would read what it uses from outside anew for every pixel, and take half as long again.
 */
export function spans(count: number, span = SPAN): { from: number; to: number }[] {
  return Array.from({ length: Math.ceil(count / span) }, (_, k) => ({
    from: k * span,
    to: Math.min(count, (k + 1) * span),
  }));
}

/** Rows that hold about as many numbers as are computed before others may have their turn. */
export const rowsPerSpan = (rowLength: number): number =>
  Math.max(1, Math.ceil(SPAN / Math.max(1, rowLength)));

/** The same of the rows of a plane. @param rowLength numbers in a row */
export const rowSpans = (rows: number, rowLength: number) => spans(rows, rowsPerSpan(rowLength));

/** Does all of it now. */
export function atOnce<T>(steps: Steps<T>): T {
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
  }
}

/** Time after which others have their turn, where nothing else is said. */
const TURN_MS = 60;

/**
 * Does it with turns for others in between.
 * @param turn lets others in; may throw to stop
 * @param turnMs time after which others have their turn
 */
export async function inTurns<T>(steps: Steps<T>, turn: () => Promise<void>, turnMs = TURN_MS): Promise<T> {
  let last = Date.now();
  try {
    for (;;) {
      const next = steps.next();
      if (next.done) return next.value;
      if (Date.now() - last < turnMs) continue;
      await turn();
      last = Date.now();
    }
  } finally {
    // Work that is left for good clears up after itself.
    steps.return(undefined as T);
  }
}
