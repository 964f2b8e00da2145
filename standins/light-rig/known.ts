import { measureRelief } from '@jossel/core/photometric';
import { benchSample } from '../capture/samples';
import { surfaceOf } from '../surfaces';
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
 */
export async function reliefFigures(
  id: string,
  density: number,
  settings: Partial<RigSettings>,
): Promise<ReliefFigures> {
  const sample = benchSample(id)!;
  const surface = surfaceOf(id, sample, sample.pxPerMm * density);
  const rig = { ...CAREFUL_RIG, ...settings };
  const started = performance.now();
  const { shots, truth, coveredMm } = captureUnderLights(surface, rig);
  const captured = performance.now();
  const mm = coveredMm.width / rig.widthPx;
  const set = shots.map(({ picture, positionMm, strength }) => ({
    picture,
    light: { positionMm, strength },
  }));
  const measured = await measureRelief(set, { x: mm, y: mm }, (RIG_FOCAL_MM / FILM_MM) * sample.widthMm);
  return {
    ...judgedRelief(surface, truth, measured),
    toleranceMm: measured.toleranceMm,
    captureMs: captured - started,
    measureMs: performance.now() - captured,
  };
}
