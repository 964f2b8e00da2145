import { fractalNoise, makePlane } from '@jossel/core/raster';
import { curvatureSteps, normalsOfHeight, occlusionOfHeight } from '@jossel/core/relief';
import { BENCH_SAMPLES, type BenchSample } from '../standins/capture/samples';
import { reliefFigures } from '../standins/light-rig/known';
import { UNSEEN_SAMPLES } from '../standins/light-rig/unseen';
import { atOnce } from '@jossel/core/steps';

type Print = (what: string, value: string, reach?: string) => void;

const SIDE_PX = 4096;

/** What follows from a height at the size of a large handover. */
function benchDerived(print: Print): void {
  const height = makePlane(SIDE_PX, SIDE_PX);
  for (let y = 0, i = 0; y < SIDE_PX; y++)
    for (let x = 0; x < SIDE_PX; x++, i++)
      height.data[i] = fractalNoise(x / SIDE_PX, y / SIDE_PX, 24, 24, 3, 0.5, 7);
  const mm = { x: 0.25, y: 0.25 };
  const started = performance.now();
  const normals = normalsOfHeight(height, mm);
  const afterNormals = performance.now();
  occlusionOfHeight(height, normals, mm, 12);
  const afterOcclusion = performance.now();
  atOnce(curvatureSteps(height, mm));
  const ended = performance.now();
  const s = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
  print(
    `normals, occlusion, curvature at ${SIDE_PX}², one core`,
    `${s(ended - started)} (${s(afterNormals - started)}, ${s(afterOcclusion - afterNormals)}, ${s(ended - afterOcclusion)})`,
    '≤ 6 s with the height, two cores',
  );
}

const GLOSSY = new Set(['tile-moss', 'tile-single', 'zinc-sheet']);

/** Relief measured under eight lights, against the truth of the stand-in. */
async function benchMeasured(print: Print, samples: readonly BenchSample[], widthPx: number): Promise<void> {
  for (const sample of samples) {
    const { id } = sample;
    const f = await reliefFigures(sample, 1, { widthPx });
    print(
      `measured relief, ${id}, ${widthPx} px`,
      [
        `normals ${f.meanNormalDeg.toFixed(2)}°`,
        `depth × ${f.depth.toFixed(2)}`,
        `height off ${f.heightMm.toFixed(3)} mm of ${f.trueMm.toFixed(3)} (from lightness ${f.lightnessMm.toFixed(3)})`,
        `tolerance ${f.toleranceMm.toFixed(2)} mm (95 % within ${f.within95Mm.toFixed(2)})`,
        `ΔE00 ${f.deltaE.toFixed(2)}`,
        `${(f.measureMs / 1000).toFixed(0)} s`,
      ].join(', '),
      `normals ≤ ${GLOSSY.has(id) ? 6 : 3}°, depth × 0.95–1.05, ΔE00 ≤ 1.5`,
    );
  }
}

/** The same of samples that nothing was tuned on, as a small picture. */
export const benchUnseen = (print: Print): Promise<void> => benchMeasured(print, UNSEEN_SAMPLES, 420);

export async function benchRelief(print: Print): Promise<void> {
  benchDerived(print);
  await benchMeasured(print, BENCH_SAMPLES, 1000);
  await benchUnseen(print);
}
