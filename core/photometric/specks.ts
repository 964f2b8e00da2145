import FlatQueue from 'flatqueue';
import { squared } from '../exact';
import type { Plane } from '../raster';
import type { Steps } from '../steps';

/** A peak or a pit of at most so many pixels may be a speck. */
const MOST_PX = 12;
/** A speck is steeper than this, as a tangent (60°): no light tells such slopes, and what they add up to is no height. */
const STEEPEST = 1.73;
/** A speck stands out of what lies so near to it, px. */
const NEAR_PX = 2;

/**
 * A height without specks: peaks and pits of a few pixels that stand out more steeply than light can tell are cut to what they stand on
 * (area opening and closing: Vincent, "Grayscale area openings and closings, their efficient implementation and applications",
 * 1993). Joints and arrises are long, and stay.
 * @param height mm, borders free; changed
 * @returns the same height
 */
export function* withoutSpecks(height: Plane, mmPerPx: { x: number; y: number }): Steps<Plane> {
  const leastMm = STEEPEST * Math.sqrt((MOST_PX * mmPerPx.x * mmPerPx.y) / Math.PI);
  for (const sign of [1, -1] as const) yield* cutPeaks(height, sign, leastMm);
  return height;
}

/** Cuts what rises by more than `leastMm` over fewer pixels than a speck has; with the sign turned, what falls. */
function* cutPeaks(height: Plane, sign: 1 | -1, leastMm: number): Steps<void> {
  const { widthPx: w, heightPx: h, data } = height;
  const region = new PeakRegion(height, sign);
  for (let y = 0; y < h; y++) {
    yield;
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (!standsOut(height, x, y, sign, leastMm)) continue;
      // One speck may stand on another.
      for (let base = region.grow(i); sign * (data[i]! - base) >= leastMm; base = region.grow(i))
        for (const p of region.pixels) if (sign * (data[p]! - base) > 0) data[p] = base;
    }
  }
}

/** Whether a pixel is the highest of those around it, and one nearby is lower by so much. */
function standsOut(
  { widthPx: w, heightPx: h, data }: Plane,
  x: number,
  y: number,
  sign: 1 | -1,
  leastMm: number,
): boolean {
  const own = sign * data[y * w + x]!;
  let lowest = own;
  for (let v = Math.max(0, y - NEAR_PX); v <= Math.min(h - 1, y + NEAR_PX); v++)
    for (let u = Math.max(0, x - NEAR_PX); u <= Math.min(w - 1, x + NEAR_PX); u++) {
      const other = sign * data[v * w + u]!;
      if (other > own && squared(u - x) <= 1 && squared(v - y) <= 1) return false;
      if (other < lowest) lowest = other;
    }
  return own - lowest >= leastMm;
}

/** The pixels about a peak, from the highest down. */
class PeakRegion {
  /** Those of the last peak. */
  readonly pixels: number[] = [];
  private readonly seen = new Set<number>();
  private readonly next = new FlatQueue<number>();

  constructor(
    private readonly height: Plane,
    private readonly sign: 1 | -1,
  ) {}

  /**
   * Gathers the pixels of a peak until there are too many for a speck, or it meets a higher one.
   * @returns the height it stands on: the one below the largest step down
   */
  grow(peak: number): number {
    const { data } = this.height;
    this.pixels.length = 0;
    this.seen.clear();
    this.next.clear();
    this.take(peak);
    let level = data[peak]!;
    let [base, largest] = [level, 0];
    while (this.next.length > 0 && this.pixels.length <= MOST_PX) {
      const p = this.next.pop()!;
      const down = this.sign * (level - data[p]!);
      if (down < 0) break;
      level = data[p]!;
      if (down > largest) [base, largest] = [level, down];
      this.take(p);
    }
    return base;
  }

  private take(p: number): void {
    const { widthPx: w, heightPx: h, data } = this.height;
    this.pixels.push(p);
    this.seen.add(p);
    const [x, y] = [p % w, Math.floor(p / w)];
    for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
        const q = v * w + u;
        if (this.seen.has(q)) continue;
        this.seen.add(q);
        this.next.push(q, -this.sign * data[q]!);
      }
  }
}
