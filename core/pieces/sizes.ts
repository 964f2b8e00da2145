/** Lengths are of one size within this, in natural logarithms. */
const SAME_SIZE = 0.15;
/** A size is one when so many pieces have it. */
const LEAST_OF_SIZE = 3;
/** A bond has so many sizes at most, and nearly all of its pieces have one of them. */
const FEW_SIZES = 3;
const NEARLY_ALL = 0.85;

/** Whether lengths come in a few sizes, as those of stretchers and headers do, and are not just any. */
export function inFewSizes(lengths: readonly number[]): boolean {
  const logs = lengths.map(Math.log).sort((a, b) => a - b);
  const groups: number[][] = [];
  for (const [k, log] of logs.entries()) {
    if (k === 0 || log - logs[k - 1]! > SAME_SIZE / 2) groups.push([]);
    groups.at(-1)!.push(log);
  }
  const sizes = groups.filter((g) => g.length >= LEAST_OF_SIZE && g.at(-1)! - g[0]! <= SAME_SIZE);
  const held = sizes.reduce((sum, g) => sum + g.length, 0);
  return sizes.length <= FEW_SIZES && held >= NEARLY_ALL * lengths.length;
}
