/** Arrays by name. */
export type Arrays = Readonly<Record<string, Float32Array | Float64Array | Int32Array | Uint8Array>>;

/** Computes rows `from` to `to`, the last one exclusive; the arrays hold these rows alone. */
export type ComputeRows<ByRow extends Arrays, Out extends Arrays> = (
  byRow: ByRow,
  out: Out,
  from: number,
  to: number,
) => void;

/** A computation of rows, each of them by itself, so that several threads can do it together. */
export interface RowTask<Settings, Whole extends Arrays, ByRow extends Arrays, Out extends Arrays> {
  /** By which another thread knows it. */
  name: string;
  /**
   * Prepares what all rows need; done once in every thread.
   * @param settings plain data
   * @param whole arrays that every row may look at; not to be changed
   */
  begin(settings: Settings, whole: Whole): ComputeRows<ByRow, Out>;
}

/** A task with all that it needs. */
export interface RowWork<Settings, Whole extends Arrays, ByRow extends Arrays, Out extends Arrays> {
  settings: Settings;
  whole: Whole;
  /** Arrays of which a row needs only its own part: their length is a multiple of the rows. */
  byRow: ByRow;
  /** Where the results go, row by row; all zero. */
  out: Out;
  rows: number;
}

/** Some rows of arrays. */
export function rowsOf<A extends Arrays>(arrays: A, rows: number, from: number, to: number): A {
  const some = Object.entries(arrays).map(([name, array]) => {
    const perRow = array.length / rows;
    return [name, array.subarray(from * perRow, to * perRow)];
  });
  return Object.fromEntries(some) as A;
}
