import { linearToLab, lrvOf, type Triple } from '@jossel/core/colour';
import { seededRandom } from '@jossel/core/raster';
import { glossOfRoughness, METER_ANGLES, roughnessOfGloss, type MeterAngle } from '@jossel/core/response';
import { benchSample } from '../capture/samples';
import { surfaceOf } from '../physical/surface';

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
export async function readReflectance(sampleId: string, xMm: number, yMm: number, seed: number) {
  const sample = benchSample(sampleId);
  if (!sample) return null;
  const { colour } = await surfaceOf(sample.id, sample, sample.pxPerMm);
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

/** What the samples are made of, as far as gloss goes. */
const SURFACE = { kind: 'dielectric', index: 1.5 } as const;
/** Roughness of the wide lobe of samples with a haze. */
const HAZE_ROUGHNESS = 0.62;

/** What the meter reads at an angle where it reads a gloss at 60°, of a surface whose wide lobe has a share of the light. */
function glossAt(angle: MeterAngle, gu60: number, hazeShare: number): number {
  const wide = (at: MeterAngle) => hazeShare * glossOfRoughness(HAZE_ROUGHNESS, SURFACE, at);
  const { roughness } = roughnessOfGloss(Math.max(0, gu60 - wide(60)) / (1 - hazeShare), SURFACE);
  return (1 - hazeShare) * glossOfRoughness(roughness, SURFACE, angle) + wide(angle);
}

/** One reading of the gloss meter at 20°, 60° and 85°, GU; null: no such sample. */
export async function readGloss(sampleId: string, xMm: number, yMm: number, seed: number) {
  const sample = benchSample(sampleId);
  if (!sample) return null;
  const { glossGu } = await surfaceOf(sample.id, sample, sample.pxPerMm);
  const k = sample.pxPerMm;
  const [mean] = meanOver(
    [glossGu.data],
    glossGu,
    [xMm * k, yMm * k],
    [(SPOT_MM.x / 2) * k, (SPOT_MM.y / 2) * k],
  ) as [number];
  const random = seededRandom(seed * 104729 + Math.round(xMm * 10) * 17 + Math.round(yMm * 10));
  const [at20, at60, at85] = METER_ANGLES.map((angle) => {
    const gu = angle === 60 ? mean : glossAt(angle, mean, sample.hazeShare ?? 0);
    return Number(Math.max(0, gu * (1 + 0.012 * random.normal()) + 0.2 * random.normal()).toFixed(1));
  });
  return { gu: at60!, gu20: at20!, gu85: at85! };
}
