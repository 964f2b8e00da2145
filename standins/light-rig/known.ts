import { measureRelief, straightenerOf, type MeasuredSurface } from '@jossel/core/photometric';
import type { BenchSample } from '../capture/samples';
import type { PhotographTruth } from '../camera/photograph';
import { surfaceOf } from '../physical/surface';
import { judgedRelief, type Judged } from './judged';
import { CAREFUL_RIG, captureUnderLights, RIG_FOCAL_MM, type RigSettings } from './rig';

/** Width of the film that focal lengths are stated for, mm. */
const FILM_MM = 36;

export interface ReliefFigures extends Judged {
  toleranceMm: number;
  captureMs: number;
  measureMs: number;
}

/**
 * Captures a sample under the lights of the rig, measures its relief from the pictures, and compares that with what the sample is.
 * @param density of the sample over that at which it lies on the bench
 * @param straightened the pictures are straightened to the corners of the sample first, as a person who sees them would
 */
export async function reliefFigures(
  sample: BenchSample,
  density: number,
  settings: Partial<RigSettings>,
  straightened = false,
): Promise<ReliefFigures> {
  const surface = await surfaceOf(sample.id, sample, sample.pxPerMm * density);
  const rig = { ...CAREFUL_RIG, ...settings };
  const started = performance.now();
  const captured = captureUnderLights(surface, rig);
  const capturedAt = performance.now();
  const { measured, truth } = await (straightened
    ? straightenedFirst(captured, rig)
    : asTaken(captured, rig));
  return {
    ...judgedRelief(surface, truth, measured),
    toleranceMm: measured.toleranceMm,
    captureMs: capturedAt - started,
    measureMs: performance.now() - capturedAt,
  };
}

type Captured = ReturnType<typeof captureUnderLights>;
/** What was measured, and where places of the sample lie in it. */
interface MeasuredWithTruth {
  measured: MeasuredSurface;
  truth: PhotographTruth;
}

const litPictures = ({ shots }: Captured) =>
  shots.map(({ picture, positionMm, strength }) => ({ picture, light: { positionMm, strength } }));

async function asTaken(captured: Captured, rig: RigSettings): Promise<MeasuredWithTruth> {
  const { truth, coveredMm } = captured;
  const mm = coveredMm.width / rig.widthPx;
  const cameraMm = (RIG_FOCAL_MM / FILM_MM) * truth.sampleMm.width;
  return { measured: await measureRelief(litPictures(captured), { x: mm, y: mm }, cameraMm), truth };
}

async function straightenedFirst(captured: Captured, rig: RigSettings): Promise<MeasuredWithTruth> {
  const { truth } = captured;
  const set = litPictures(captured);
  const { widthPx, heightPx } = set[0]!.picture;
  const { straighten, mmPerPx, cameraMm } = straightenerOf(
    { widthPx, heightPx, focalPx: truth.focalPx },
    { settings: { bowLines: [], frame: truth.sampleCorners }, sizeMm: truth.sampleMm },
    rig.widthPx,
  );
  const { width, height } = truth.sampleMm;
  return {
    measured: await measureRelief(set.map(straighten), mmPerPx, cameraMm),
    truth: { ...truth, place: (xMm, yMm) => [xMm / width, yMm / height] },
  };
}
