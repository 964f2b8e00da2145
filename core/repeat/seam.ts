import { luminancePlane, type ColourPicture } from '../raster';

/** Contrast across the edges of a repeat over that inside: 1.00 is perfect. */
export interface SeamFigures {
  /** Across the left and right edge, where one repeat meets the next to its side. */
  acrossWidth: number;
  /** Across the top and bottom edge. */
  acrossHeight: number;
}

/**
 * Seam figure per edge: mean absolute step across the edge, over the mean for lines parallel to it inside, on
 * luminance to the power 1/3 in linear light.
 *
 * Where the repeat is a whole number of modules, its edge lies beside a joint, which has contrast of its own: it is
 * then compared with the same place beside all the other joints.
 *
 * @param picture one repeat
 * @param modules how many modules lie in the repeat across its width and its height, where counted
 */
export function seamFigures(
  picture: ColourPicture,
  modules: { across?: number | undefined; up?: number | undefined } = {},
): SeamFigures {
  const { widthPx: w, heightPx: h } = picture;
  const l = luminancePlane(picture).data;
  for (let i = 0; i < l.length; i++) l[i] = Math.cbrt(Math.max(0, l[i]!));
  // Mean step between each line and the one before it; line 0 meets the last line across the edge.
  const columns = new Float64Array(w);
  const rows = new Float64Array(h);
  for (let y = 0; y < h; y++) {
    const row = y * w;
    const above = (y === 0 ? h - 1 : y - 1) * w;
    columns[0]! += Math.abs(l[row]! - l[row + w - 1]!) / h;
    for (let x = 1; x < w; x++) columns[x]! += Math.abs(l[row + x]! - l[row + x - 1]!) / h;
    for (let x = 0; x < w; x++) rows[y]! += Math.abs(l[row + x]! - l[above + x]!) / w;
  }
  return {
    acrossWidth: edgeOverInside(columns, modules.across),
    acrossHeight: edgeOverInside(rows, modules.up),
  };
}

function edgeOverInside(steps: Float64Array, modules: number | undefined): number {
  let sum = 0;
  let count = 0;
  let edge = steps[0]!;
  if (modules && modules > 1) {
    // A joint's side may fall on either side of a pixel border: the steepest of three lines is taken everywhere.
    const n = steps.length;
    const steepest = (at: number) => Math.max(steps[(at - 1 + n) % n]!, steps[at % n]!, steps[(at + 1) % n]!);
    edge = steepest(0);
    for (let k = 1; k < modules; k++) sum += steepest(Math.round((k * n) / modules));
    count = modules - 1;
  } else {
    for (let i = 1; i < steps.length; i++) sum += steps[i]!;
    count = Math.max(1, steps.length - 1);
  }
  const inside = sum / count;
  return inside > 1e-9 ? edge / inside : edge > 1e-9 ? 99 : 1;
}
