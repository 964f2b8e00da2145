import type { Plane } from '../../raster';

/**
 * Whether lines stand where a period says they do. A period read from a correlation may be a chance similarity of a few lines;
 * then steps of lightness stand at some of the places where it expects them, and between them as well.
 */

/** Bands along the lines that are looked at by themselves: a board may end, a line may fade. */
const BANDS = 5;
/** A line may lie so far from its place, as a share of the period. */
const ASIDE = 0.04;
const ASIDE_PX = 1.5;
/** It is seen there when it is higher than this share of the places of a period. */
const HIGHER_THAN = 0.93;

/** The mean step from each line of pixels to the next, without its sign, over one band. */
function stepsOf(
  { widthPx: w, heightPx: h, data }: Plane,
  usable: Plane,
  axis: 'rows' | 'columns',
  band: number,
): Float64Array {
  const [along, length, by] = axis === 'rows' ? [w, h, w] : [h, w, 1];
  const [from, to] = [Math.floor((band * along) / BANDS), Math.floor(((band + 1) * along) / BANDS)];
  const out = new Float64Array(length);
  for (let t = from; t < to; t++)
    for (let s = 1; s < length; s++) {
      const i = axis === 'rows' ? s * w + t : t * w + s;
      if (usable.data[i]! >= 1 && usable.data[i - by]! >= 1) out[s]! += data[i]! - data[i - by]!;
    }
  return out.map((v) => Math.abs(v));
}

/** Share of the expected places at which a line is seen, where the first of them lies at a phase. */
function seenFrom(bands: readonly Float64Array[], phase: number, periodPx: number): number {
  const reach = Math.max(ASIDE_PX, ASIDE * periodPx);
  const n = bands[0]!.length;
  let [seen, all] = [0, 0];
  for (const steps of bands)
    for (let at = phase; at < n; at += periodPx) {
      const [a, b] = [Math.max(0, Math.floor(at - periodPx / 2)), Math.min(n, Math.ceil(at + periodPx / 2))];
      if (b - a < 0.75 * periodPx) continue;
      const near = Math.max(
        ...steps.subarray(Math.max(0, Math.round(at - reach)), Math.round(at + reach) + 1),
      );
      let lower = 0;
      for (let k = a; k < b; k++) if (steps[k]! < near) lower++;
      all++;
      if (lower >= HIGHER_THAN * (b - a)) seen++;
    }
  return all ? seen / all : 0;
}

/**
 * At what share of the multiples of a period a line stands, from the best first place on. Beds of boards come to 1, chance
 * periods to 0.8 where they are few and to less where they are many.
 * @param rectified lightness, of mean 0
 * @param axis 'rows' for lines along the rows, one above the other
 */
export function linesStanding(
  lightness: Plane,
  usable: Plane,
  axis: 'rows' | 'columns',
  periodPx: number,
): number {
  const bands = Array.from({ length: BANDS }, (_, k) => stepsOf(lightness, usable, axis, k));
  let best = 0;
  for (let phase = 0; phase < periodPx; phase++) best = Math.max(best, seenFrom(bands, phase, periodPx));
  return best;
}
