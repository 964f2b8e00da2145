/** Rows that are compared when the one that shows most is looked for. */
const ROWS = 160;
const SAMPLES = 400;

/**
 * Where a section along the width shows most of a relief: the row whose profile has the largest mean deviation from its
 * median, so that it runs across joints and not along a board or within one. Of rows that are alike the one nearest to
 * the middle is taken.
 * @param height one repeat, row by row
 * @returns its middle, as a share of the height from the top
 */
export function rowThatShowsMost({
  widthPx,
  heightPx,
  data,
}: {
  widthPx: number;
  heightPx: number;
  data: ArrayLike<number>;
}): number {
  const rowStep = Math.max(1, Math.floor(heightPx / ROWS));
  const step = Math.max(1, Math.floor(widthPx / SAMPLES));
  const rows: { y: number; shows: number }[] = [];
  for (let y = Math.floor(rowStep / 2); y < heightPx; y += rowStep) {
    const profile: number[] = [];
    for (let x = 0; x < widthPx; x += step) profile.push(data[y * widthPx + x]!);
    const median = [...profile].sort((a, b) => a - b)[profile.length >> 1]!;
    rows.push({ y, shows: profile.reduce((sum, v) => sum + Math.abs(v - median), 0) / profile.length });
  }
  const most = Math.max(...rows.map((r) => r.shows));
  const apart = (y: number) => Math.abs(y - heightPx / 2);
  const best = rows.filter((r) => r.shows >= ALIKE * most).sort((a, b) => apart(a.y) - apart(b.y))[0];
  return best ? (best.y + 0.5) / heightPx : 0.5;
}

/** Rows that show at least this share of the most are alike. */
const ALIKE = 0.9;
