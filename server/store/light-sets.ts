import type { Light } from '@jossel/core/photometric';
import type { StraightenSettings } from '@jossel/core/straighten';
import type { Database } from './database';

/** Pictures of one sample under several lights, and what was measured from them. */

export interface LightSetPicture {
  sampleId: string;
  fileName: string;
  light: Light;
}

/** What a light set came to at a size. */
export interface Measurement {
  /** Size of what was measured, the whole picture or the frame that was straightened. */
  overallMm: { width: number; height: number };
  /** How all pictures were straightened first; null, or of before: they were measured as they are. */
  straightened?: StraightenSettings | null;
  colourId: string;
  heightId: string;
  confidenceId: string;
  /** Height of what is white in the height map over what is black. */
  rangeMm: number;
  toleranceMm: number;
  lrv: number;
  lights: { gain: number; residual: number; used: number }[];
  doubts: string[];
}

export interface LightSetRow {
  id: string;
  lights: LightSetPicture[];
  measured: Measurement | null;
  received_at: Date;
}

export async function addLightSet(database: Database, lights: LightSetPicture[]): Promise<LightSetRow> {
  const [added] = await database('light_sets')
    .insert({ lights: JSON.stringify(lights) })
    .returning('*');
  return added as LightSetRow;
}

export const getLightSet = (database: Database, id: string) =>
  database('light_sets').where({ id }).first<LightSetRow | undefined>();

export const keepMeasurement = (database: Database, id: string, measured: Measurement) =>
  database('light_sets')
    .where({ id })
    .update({ measured: JSON.stringify(measured) });
