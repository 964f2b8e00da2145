import { linearToLab, lrvOf, type Triple } from '@jossel/core/colour';
import { seededRandom } from '@jossel/core/raster';
import { benchSample } from '../capture/samples';
import { surfaceOf } from '../surfaces';

/** Opening of the reflectance meter, and length of the gloss meter's spot, mm. */
const APERTURE_MM = 8;
const SPOT_MM = { x: 9, y: 18 };

/** Mean of planes over a spot of a sample. */
function meanOver(
  data: readonly Float32Array[],
  { widthPx, heightPx }: { widthPx: number; heightPx: number },
  middle: readonly [number, number],
  half: readonly [number, number],
): number[] {
  const sums = data.map(() => 0);
  let n = 0;
  for (
    let y = Math.max(0, Math.floor(middle[1] - half[1]));
    y <= Math.min(heightPx - 1, middle[1] + half[1]);
    y++
  )
    for (
      let x = Math.max(0, Math.floor(middle[0] - half[0]));
      x <= Math.min(widthPx - 1, middle[0] + half[0]);
      x++
    ) {
      n++;
      for (let k = 0; k < data.length; k++) sums[k]! += data[k]![y * widthPx + x]!;
    }
  return sums.map((s) => s / Math.max(1, n));
}

/** One reading of the reflectance meter at a place of a sample, mm from its top left corner; null: no such sample. */
export function readReflectance(sampleId: string, xMm: number, yMm: number, seed: number) {
  const sample = benchSample(sampleId);
  if (!sample) return null;
  const { colour } = surfaceOf(sample.id, sample, sample.pxPerMm);
  const k = sample.pxPerMm;
  const half = (APERTURE_MM / 2) * k;
  const mean = meanOver(
    [colour.r, colour.g, colour.b],
    colour,
    [xMm * k, yMm * k],
    [half, half],
  ) as unknown as Triple;
  const random = seededRandom(seed * 7919 + Math.round(xMm * 10) * 31 + Math.round(yMm * 10));
  const lab = linearToLab(mean);
  // Repeatability of a good instrument: 0.1 in each coordinate, LRV within 0.2.
  const read = lab.map((v) => Number((v + 0.1 * random.normal()).toFixed(2)));
  return {
    lab: read as [number, number, number],
    lrv: Number((lrvOf(mean) + 0.15 * random.normal()).toFixed(2)),
  };
}

/** One reading of the gloss meter, GU at 60°; null: no such sample. */
export function readGloss(sampleId: string, xMm: number, yMm: number, seed: number) {
  const sample = benchSample(sampleId);
  if (!sample) return null;
  const { glossGu } = surfaceOf(sample.id, sample, sample.pxPerMm);
  const k = sample.pxPerMm;
  const [mean] = meanOver(
    [glossGu.data],
    glossGu,
    [xMm * k, yMm * k],
    [(SPOT_MM.x / 2) * k, (SPOT_MM.y / 2) * k],
  ) as [number];
  const random = seededRandom(seed * 104729 + Math.round(xMm * 10) * 17 + Math.round(yMm * 10));
  return { gu: Number(Math.max(0, mean * (1 + 0.012 * random.normal()) + 0.2 * random.normal()).toFixed(1)) };
}
