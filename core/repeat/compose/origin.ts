import { FEATURES } from './atlas';
import type { Torus } from './torus';

/**
 * The same repeat, begun elsewhere: where it begins makes no difference to the surface, but its edges are what is looked
 * at. A regular structure begins in a joint, so that its pieces lie whole in the repeat; all else begins where neighbours
 * differ as much as they do on average.
 */
export function begunWell(torus: Torus): Torus {
  const { widthPx: W, heightPx: H, closed, place, off, atlas } = torus;
  const { features } = atlas;
  const columns = new Float64Array(W);
  const rows = new Float64Array(H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const here = features[place[y * W + x]! * FEATURES]!;
      const left = features[place[y * W + (x > 0 ? x - 1 : W - 1)]! * FEATURES]!;
      const above = features[place[(y > 0 ? y - 1 : H - 1) * W + x]! * FEATURES]!;
      columns[x]! += Math.abs(here - left);
      rows[y]! += Math.abs(here - above);
    }
  const dx = closed.across ? beginning(columns, off.column) : 0;
  const dy = closed.up ? beginning(rows, off.row) : 0;
  const rolled = (line: Int32Array, d: number) => line.map((_, i) => line[(i + d) % line.length]!);
  const begun = new Int32Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) begun[y * W + x] = place[((y + dy) % H) * W + ((x + dx) % W)]!;
  return { ...torus, place: begun, off: { row: rolled(off.row, dy), column: rolled(off.column, dx) } };
}

/** The line before which a repeat begins: among joints, where there are any, the one that differs least from the mean. */
function beginning(steps: Float64Array, off: Int32Array): number {
  const n = steps.length;
  const jointed = off.some((more) => more > 0);
  let candidates = Array.from(steps, (_, i) => i);
  if (jointed) {
    // The middle of each run of lines that lie in a joint.
    const inJoint = (i: number) => off[(i - 1 + n) % n] === 0;
    candidates = candidates.filter((i) => {
      if (!inJoint(i)) return false;
      let [before, after] = [0, 0];
      while (before < n && inJoint((i - before - 1 + n) % n)) before++;
      while (after < n && inJoint((i + after + 1) % n)) after++;
      return before === after || before === after + 1;
    });
  }
  if (candidates.length === 0) return 0;
  const mean = candidates.reduce((sum, i) => sum + steps[i]!, 0) / candidates.length;
  return candidates.reduce((best, i) =>
    Math.abs(steps[i]! - mean) < Math.abs(steps[best]! - mean) ? i : best,
  );
}
