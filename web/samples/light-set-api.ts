import type { MeasuredRelief } from '@jossel/core/finish';
import type { Light } from '@jossel/core/photometric';
import type { StraightenSettings } from '@jossel/core/straighten';
import { api } from '../app/api';

/** A light set, and what was measured from it. */
export interface LightSetAnswer {
  lights: { sampleId: string; fileName: string; light: Light }[];
  measured: LightSetMeasurement | null;
}
export interface LightSetMeasurement extends Omit<MeasuredRelief, 'lightSetId'> {
  confidenceId: string;
  lights: { gain: number; residual: number; used: number }[];
  doubts: string[];
}
export interface MeasureOrder {
  lightSetId: string;
  overallMm: { width: number; height: number };
  straighten: StraightenSettings;
}

export const lightSetApi = api.injectEndpoints({
  endpoints: (build) => ({
    lightSet: build.query<LightSetAnswer, string>({
      query: (id) => `light-sets/${id}`,
      providesTags: ['LightSets'],
    }),
    measureLightSet: build.mutation<LightSetMeasurement, MeasureOrder>({
      query: ({ lightSetId, ...body }) => ({
        url: `light-sets/${lightSetId}/measure`,
        method: 'POST',
        body,
      }),
      invalidatesTags: ['LightSets', 'Samples'],
    }),
  }),
});
