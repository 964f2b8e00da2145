import { linearToLab, lrvOf, srgbToLinear, type Triple } from '@jossel/core/colour';
import type { Drawn } from '../../workers/render.worker';

/** What the repeat reads at a spot. */
export interface ProbeReading {
  lrv: number;
  lab: Triple;
  /** Pixels that were read. */
  pixels: number;
}

const LINEAR = Float64Array.from({ length: 256 }, (_, code) => srgbToLinear(code / 255));

/**
 * Mean colour of a round spot of the repeat, in linear light; the repeat goes on beyond its edge.
 * @param at place in shares of the repeat
 * @param radiusMm at least half a pixel is read
 */
export function probe(
  { colour, widthPx: w, heightPx: h, report }: Pick<Drawn, 'colour' | 'widthPx' | 'heightPx' | 'report'>,
  [u, v]: readonly [number, number],
  radiusMm: number,
): ProbeReading {
  const r = Math.max(0.5, radiusMm * report.pxPerMm.x);
  const [cx, cy] = [u * w, v * h];
  const sums: [number, number, number] = [0, 0, 0];
  let pixels = 0;
  for (let y = Math.floor(cy - r); y <= Math.floor(cy + r); y++)
    for (let x = Math.floor(cx - r); x <= Math.floor(cx + r); x++) {
      if (r > 0.75 && (x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 > r * r) continue;
      const k = 4 * ((((y % h) + h) % h) * w + (((x % w) + w) % w));
      for (const c of [0, 1, 2] as const) sums[c] += LINEAR[colour[k + c]!]!;
      pixels++;
    }
  const mean: Triple = [sums[0] / pixels, sums[1] / pixels, sums[2] / pixels];
  return { lrv: lrvOf(mean), lab: linearToLab(mean), pixels };
}
