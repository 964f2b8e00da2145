import { halve, percentiles, type Plane } from '../raster';
import { atScaleOf } from '../relief';

/** What a mesh of a spacing leaves out of a relief. */
export interface ReliefDetail {
  /** Distance of the points of the mesh. */
  spacingMm: number;
  /** What heights differ by from the mesh, mm: the 99.5th percentile. */
  leftOutMm: number;
}

/** Heights beyond this percentile are single points that no picture shows. */
const SEEN = 0.995;
const COARSEST_PX = 2;

/**
 * What meshes of every octave of spacing leave out of a relief that repeats, from the finest to the coarsest: their points lie at the
 * mean height around them, and faces run straight between.
 * @param height mm
 * @param mmPerPx size of a pixel
 */
export function detailOf(height: Plane, mmPerPx: { x: number; y: number }): ReliefDetail[] {
  const { widthPx: w, heightPx: h, data } = height;
  const mm = Math.sqrt(mmPerPx.x * mmPerPx.y);
  const out: ReliefDetail[] = [{ spacingMm: mm, leftOutMm: 0 }];
  let small = height;
  while (Math.min(small.widthPx, small.heightPx) >= 2 * COARSEST_PX) {
    small = halve(small);
    const mesh = atScaleOf(small, w, h).data;
    const [leftOutMm] = percentiles(
      data.map((v, i) => Math.abs(v - mesh[i]!)),
      [SEEN],
    ) as [number];
    // Coarser never carries more.
    const before = out.at(-1)!.leftOutMm;
    out.push({ spacingMm: (mm * w) / small.widthPx, leftOutMm: Math.max(before, leftOutMm) });
  }
  return out;
}

/** What a mesh of any spacing leaves out, mm: in between octaves by their logarithm; 0 below the finest. */
export function leftOutAt(detail: readonly ReliefDetail[], spacingMm: number): number {
  const k = detail.findIndex((d) => d.spacingMm >= spacingMm);
  if (k === 0) return 0;
  if (k < 0) return detail.at(-1)!.leftOutMm;
  const [a, b] = [detail[k - 1]!, detail[k]!];
  const t = Math.log2(spacingMm / a.spacingMm) / Math.log2(b.spacingMm / a.spacingMm);
  return a.leftOutMm + t * (b.leftOutMm - a.leftOutMm);
}
