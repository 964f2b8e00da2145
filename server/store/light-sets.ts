import type { Light } from '@jossel/core/photometric';
import type { Database } from './database';

/** Pictures of one sample under several lights, and what was measured from them. */

export interface LightSetPicture {
  sampleId: string;
  fileName: string;
  light: Light;
}

/** What a light set came to at a size. */
export interface Measurement {
  /** Size of the whole picture that it was measured at. */
  overallMm: { width: number; height: number };
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
