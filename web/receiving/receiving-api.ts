import { api, type Addresses, type Product, type RecognisedFile, type Sample } from '../app/api';
import type { ColourFigure } from '@jossel/core/light';
import type { Light } from '@jossel/core/photometric';
import type { Figure } from '@jossel/core/units';

export interface BenchSample {
  id: string;
  name: string;
  category: string;
}

/** A light set that has arrived. */
export interface TakenLightSet {
  id: string;
  sampleIds: string[];
  lights: { fileName: string; light: Light }[];
  /** What the pictures show, where the device that took them says so. */
  overallMm?: { width: number; height: number };
}

/** Calls to suppliers, capture bench and meters, and for sets of maps. */
export const receivingApi = api.injectEndpoints({
  endpoints: (build) => ({
    addresses: build.query<Addresses, void>({
      query: () => 'settings/addresses',
      providesTags: ['Addresses'],
    }),
    setAddresses: build.mutation<Addresses, Partial<Addresses>>({
      query: (body) => ({ url: 'settings/addresses', method: 'PUT', body }),
      invalidatesTags: ['Addresses', 'Outside'],
    }),
    products: build.query<{ items: Product[] }, void>({
      query: () => 'suppliers/products',
      providesTags: ['Outside'],
    }),
    receiveProduct: build.mutation<Sample, string>({
      query: (id) => ({ url: `suppliers/products/${encodeURIComponent(id)}/receive`, method: 'POST' }),
      invalidatesTags: ['Samples'],
    }),
    benchSamples: build.query<{ items: BenchSample[] }, void>({
      query: () => 'capture/samples',
      providesTags: ['Outside'],
    }),
    takePicture: build.mutation<Sample, { sampleId: string } & Record<string, unknown>>({
      query: (body) => ({ url: 'capture/pictures', method: 'POST', body }),
      invalidatesTags: ['Samples'],
    }),
    takeLightSet: build.mutation<TakenLightSet, { sampleId: string } & Record<string, unknown>>({
      query: (body) => ({ url: 'capture/light-sets', method: 'POST', body }),
      invalidatesTags: ['Samples'],
    }),
    sendLightSet: build.mutation<TakenLightSet, FormData>({
      query: (body) => ({ url: 'light-sets', method: 'POST', body }),
      invalidatesTags: ['Samples'],
    }),
    readMeter: build.mutation<
      {
        readings: { xMm: number; yMm: number; value: number }[];
        figure: Figure;
        colour?: ColourFigure;
        /** Of the gloss meter. */
        otherAngles?: Record<20 | 85, Figure<'GU'>>;
      },
      { kind: 'reflectance' | 'gloss'; sampleId: string; placesMm: { x: number; y: number }[] }
    >({ query: ({ kind, ...body }) => ({ url: `meters/${kind}`, method: 'POST', body }) }),
    recogniseSet: build.mutation<{ maps: RecognisedFile[] }, string[]>({
      query: (sampleIds) => ({ url: 'sample-sets', method: 'POST', body: { sampleIds } }),
    }),
  }),
});
