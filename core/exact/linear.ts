/**
 * The solution of A·x = b by elimination with pivots.
 * @param a n × n, row by row; destroyed
 * @param b n numbers; destroyed
 * @param leastPivot pivots that are not greater say that A is singular
 * @returns null where it is
 */
export function linearSolution(a: number[][], b: number[], leastPivot = 1e-300): number[] | null {
  const n = b.length;
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let r = k + 1; r < n; r++) if (Math.abs(a[r]![k]!) > Math.abs(a[pivot]![k]!)) pivot = r;
    if (!(Math.abs(a[pivot]![k]!) > leastPivot)) return null;
    [a[k], a[pivot]] = [a[pivot]!, a[k]!];
    [b[k], b[pivot]] = [b[pivot]!, b[k]!];
    for (let r = k + 1; r < n; r++) {
      const factor = a[r]![k]! / a[k]![k]!;
      if (factor === 0) continue;
      for (let c = k; c < n; c++) a[r]![c]! -= factor * a[k]![c]!;
      b[r]! -= factor * b[k]!;
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let k = n - 1; k >= 0; k--) {
    let sum = b[k]!;
    for (let c = k + 1; c < n; c++) sum -= a[k]![c]! * x[c]!;
    x[k] = sum / a[k]![k]!;
  }
  return x;
}

/** As `linearSolution`. @throws RangeError when A is singular */
export function solveLinear(a: number[][], b: number[]): number[] {
  const x = linearSolution(a, b);
  if (!x) throw new RangeError('The equations have no single solution.');
  return x;
}
