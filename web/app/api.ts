import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { PaletteColour } from '@jossel/core/light';
import type { Category, PublishedSheet, Recipe, ReportWithLikeness } from '@jossel/core/finish';
import type { Orientation, RecognisedMap, SourceMap } from '@jossel/core/sample';
import type { Basis, Figure } from '@jossel/core/units';

import { everyPage, nextOffset, SHOWN_AT_ONCE, type PageAnswer, type PageOf } from './pages';

/** What the server says, and the calls to it. */

export type FinishState = 'draft' | 'checked' | 'issued' | 'withdrawn';
export interface Origin {
  supplier: string;
  line: string;
  code: string;
  batch: string;
  permission: string;
  note: string;
}
export interface Product {
  id: string;
  supplier: string;
  line: string;
  code: string;
  name: string;
  category: string;
  sheet: PublishedSheet & { permission?: string };
}
export interface Addresses {
  supplier: string;
  captureBench: string;
  meters: string;
}
export interface RecognisedFile extends RecognisedMap {
  sampleId: string;
  fileName: string;
  orientation?: Orientation;
}
export interface Sample {
  id: string;
  fileName: string;
  widthPx: number;
  heightPx: number;
  bitDepth: number;
  profile: string;
  pxPerMm: number | null;
  lrv: number;
  sha256: string;
  report: ReportWithLikeness;
  receivedAt: string;
  focalPx: number | null;
  cameFrom: 'file' | 'supplier' | 'capture bench' | 'light set';
  sheet: PublishedSheet;
  /** Which physical sample lay on the capture bench. */
  benchSampleId: string | null;
  origin: Origin;
  /** When it was put into the bin; null: it is not there. */
  removedAt: string | null;
  /** Finishes on the rack that use it; only in lists of samples. */
  usedIn?: { id: string; name: string }[];
}
export interface Revision {
  letter: string;
  note: string;
  issuedAt: string;
  sameAsDraft: boolean;
}
export interface Finish {
  id: string;
  name: string;
  category: Category;
  state: FinishState;
  updatedAt: string;
  /** When it was put into the bin; null: it is on the rack. */
  removedAt: string | null;
  /** Of name, category and state. */
  detailsEtag: string;
  draft: { recipe: Recipe; etag: string };
  samples: Sample[];
  revisions: Revision[];
}
export interface Issued {
  revision: string;
}
export interface FinishItem {
  id: string;
  name: string;
  category: Category;
  state: FinishState;
  etag: string;
  /** Of name, category and state. */
  detailsEtag: string;
  revisions: string[];
  headline: {
    repeatMm: { width: number; height: number };
    sizeBasis: Basis;
    /** As it measures; where it was never drawn, as given, else as received. */
    lrv: number;
    lrvMeasured: boolean;
    lrvBasis: Basis;
    lrvGiven: Figure<'LRV'> | null;
    /** Of glass: share of the light that it lets through, percent; null: it is none. */
    passesPercent: number | null;
    glossGu: number;
    depthMm: number;
    supplier: string;
    line: string;
    code: string;
  } | null;
  /** Why the finish cannot be read; null: it can. */
  fault: string | null;
}
/** A surface that a finish lies on. */
export interface SurfaceOfFinish {
  id: string;
  name: string;
  room: string;
  project: string;
  widthMm: number;
  heightMm: number;
}
/** What a colour measures, as the server reads it. */
export interface ColourReadingAnswer {
  lrv: number;
  lab: readonly [number, number, number];
  meanLinear: readonly [number, number, number];
  spread: readonly [number, number, number];
}
/** A finish in a package, by its headline figures. */
export interface PackedFinish {
  repeatMm: { width: number; height: number };
  sizeBasis: Basis | null;
  lrv: number;
  lrvBasis: Basis | null;
  glossGu: number;
  glossBasis: Basis | null;
  reliefMm: number;
  reliefBasis: Basis | null;
  splitMm?: number | null;
  px: { width: number; height: number } | null;
  files: number;
}
/** What is ordered as a package. */
export interface PackageOrder {
  items?: { finishId: string; revision?: string; way?: string; splitMm?: number }[];
  /** All that lies in a project, in place of items. */
  projectId?: string;
  profile: string;
  colourways?: boolean;
  splitMm?: number;
}
export interface Handover {
  id: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'stopped';
  progress: number;
  step: string;
  error?: string;
  createdAt: string;
  profile: string;
  /** Its project, or what is in it. */
  title: string;
  items: { finishId: string; revision: string; name: string; way: { id: string; name: string } | null }[];
  file?: { url: string; fileName: string; bytes: number };
  contents?: PackedFinish[] | null;
}

/** What a list of finishes is narrowed to. */
export interface FinishFilter {
  search?: string;
  category?: Category;
  state?: FinishState;
  supplier?: string;
  /** Those in the bin. */
  removed?: boolean;
}
type FinishPage = PageOf<FinishItem> & { suppliers: string[] };

/** The sentence of a failed call. */
export function sentenceOf(error: unknown): string {
  const { status, data } = (error ?? {}) as FetchBaseQueryError & { data?: { detail?: string } };
  if (data?.detail) return data.detail;
  if (status === 'FETCH_ERROR')
    return "Jossel's server does not answer. What you made stays in this window; it is saved when the server is back.";
  return `The server answered in a way that was not expected (${String(status ?? error)}).`;
}

/** An answer that is one page of a list. */
const asPage = <T>(answer: {
  data?: unknown;
  error?: FetchBaseQueryError;
}): PageAnswer<T, FetchBaseQueryError> =>
  answer.error ? { error: answer.error } : { data: answer.data as PageOf<T> };

/** Answers of calls that have nothing to say when they go well. */
export const nothingOrProblem = (response: Response): Promise<unknown> =>
  response.status === 204 ? Promise.resolve(null) : response.json();

export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: [
    'Samples',
    'Finishes',
    'Finish',
    'Projects',
    'Project',
    'Handovers',
    'Addresses',
    'Outside',
    'LightSets',
  ],
  endpoints: (build) => ({
    /** All samples, for choosing from. */
    samples: build.query<PageOf<Sample>, void>({
      queryFn: (_, _api, _options, fetch) =>
        everyPage(async (page) => asPage<Sample>(await fetch({ url: 'samples', params: page }))),
      providesTags: ['Samples'],
    }),
    /** Those that arrived, or those in the bin. */
    samplePages: build.infiniteQuery<PageOf<Sample>, { removed: boolean }, number>({
      infiniteQueryOptions: { initialPageParam: 0, getNextPageParam: (_, pages) => nextOffset(pages) },
      query: ({ queryArg: { removed }, pageParam }) => ({
        url: 'samples',
        params: { limit: SHOWN_AT_ONCE, offset: pageParam, ...(removed ? { removed } : {}) },
      }),
      providesTags: ['Samples'],
    }),
    removeSample: build.mutation<unknown, string>({
      query: (id) => ({ url: `samples/${id}`, method: 'DELETE', responseHandler: nothingOrProblem }),
      invalidatesTags: ['Samples'],
    }),
    restoreSample: build.mutation<Sample, string>({
      query: (id) => ({ url: `samples/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Samples'],
    }),
    correctOrigin: build.mutation<Sample, { id: string; origin: Partial<Origin> }>({
      query: ({ id, origin }) => ({ url: `samples/${id}`, method: 'PATCH', body: origin }),
      invalidatesTags: ['Samples', 'Finish'],
    }),
    /** All finishes, or all issued ones, for choosing from. */
    finishes: build.query<PageOf<FinishItem>, { issued?: boolean }>({
      queryFn: (filter, _api, _options, fetch) =>
        everyPage(async (page) =>
          asPage<FinishItem>(await fetch({ url: 'finishes', params: { ...filter, ...page } })),
        ),
      providesTags: ['Finishes'],
    }),
    finishPages: build.infiniteQuery<FinishPage, FinishFilter, number>({
      infiniteQueryOptions: { initialPageParam: 0, getNextPageParam: (_, pages) => nextOffset(pages) },
      query: ({ queryArg, pageParam }) => ({
        url: 'finishes',
        params: { ...queryArg, limit: SHOWN_AT_ONCE, offset: pageParam },
      }),
      providesTags: ['Finishes'],
    }),
    finish: build.query<Finish, string>({
      query: (id) => `finishes/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Finish', id }],
    }),
    /** The recipe of a revision, which never changes. */
    revision: build.query<
      { recipe: Recipe; versions: Record<string, number> },
      { id: string; letter: string }
    >({ query: ({ id, letter }) => `finishes/${id}/revisions/${letter}` }),
    createFinish: build.mutation<
      Finish,
      {
        name: string;
        category: Category;
        sampleIds?: string[];
        maps?: SourceMap[];
        lightSetId?: string;
        generated?: { kind: string };
        overallMm?: { width: number; height?: number };
      }
    >({
      query: (body) => ({ url: 'finishes', method: 'POST', body }),
      invalidatesTags: ['Finishes', 'Samples'],
    }),
    duplicateFinish: build.mutation<Finish, string>({
      query: (id) => ({ url: `finishes/${id}/duplicate`, method: 'POST' }),
      invalidatesTags: ['Finishes'],
    }),
    deriveFinish: build.mutation<Finish, string>({
      query: (id) => ({ url: `finishes/${id}/derive`, method: 'POST' }),
      invalidatesTags: ['Finishes'],
    }),
    removeFinish: build.mutation<unknown, string>({
      query: (id) => ({ url: `finishes/${id}`, method: 'DELETE', responseHandler: nothingOrProblem }),
      invalidatesTags: (_r, _e, id) => ['Finishes', 'Samples', { type: 'Finish', id }],
    }),
    restoreFinish: build.mutation<Finish, string>({
      query: (id) => ({ url: `finishes/${id}/restore`, method: 'POST' }),
      invalidatesTags: (_r, _e, id) => ['Finishes', 'Samples', { type: 'Finish', id }],
    }),
    renameFinish: build.mutation<
      Finish,
      { id: string; detailsEtag: string; name?: string; category?: Category; state?: FinishState }
    >({
      query: ({ id, detailsEtag, ...body }) => ({
        url: `finishes/${id}`,
        method: 'PATCH',
        headers: { 'if-match': detailsEtag },
        body,
      }),
      // The next change has the new version, without waiting until all is read again.
      onQueryStarted: ({ id }, { dispatch, queryFulfilled }) =>
        queryFulfilled.then(
          ({ data }) => void dispatch(api.util.upsertQueryData('finish', id, data)),
          () => undefined,
        ),
      invalidatesTags: (_r, _e, { id }) => ['Finishes', { type: 'Finish', id }],
    }),
    issue: build.mutation<Issued, { id: string; note: string; etag: string }>({
      // Of one version of a draft one revision is issued, however often the button is pressed, in whatever window.
      query: ({ id, note, etag }) => ({
        url: `finishes/${id}/revisions`,
        method: 'POST',
        headers: { 'if-match': etag, 'idempotency-key': `draft ${etag.replaceAll('"', '')}` },
        body: { note },
      }),
      invalidatesTags: (_r, _e, { id }) => ['Finishes', 'Project', { type: 'Finish', id }],
    }),
    surfacesOf: build.query<{ items: SurfaceOfFinish[] }, string>({
      query: (id) => `finishes/${id}/surfaces`,
      providesTags: ['Project'],
    }),
    readFinishColour: build.mutation<
      { repeat: ColourReadingAnswer; spots: { lrv: number; lab: [number, number, number] }[] },
      { id: string; way?: string; spots: { xMm: number; yMm: number; radiusMm: number }[] }
    >({ query: ({ id, ...body }) => ({ url: `finishes/${id}/colour`, method: 'POST', body }) }),
    readSampleColour: build.mutation<ColourReadingAnswer, string>({
      query: (id) => `samples/${id}/colour`,
    }),
    readPalette: build.mutation<{ colours: PaletteColour[] }, { id: string; count: number }>({
      query: ({ id, count }) => ({ url: `samples/${id}/palette`, params: { count } }),
    }),
    handovers: build.query<{ items: Handover[]; profiles: { id: string; name: string }[] }, void>({
      query: () => 'handovers',
      providesTags: ['Handovers'],
    }),
    estimateHandover: build.query<
      { seconds: number; bytes: number; sets: number; tooLarge: string | null },
      PackageOrder
    >({ query: (body) => ({ url: 'handovers/estimate', method: 'POST', body }), keepUnusedDataFor: 5 }),
    orderHandover: build.mutation<Handover, PackageOrder>({
      query: (body) => ({ url: 'handovers', method: 'POST', body }),
      invalidatesTags: ['Handovers'],
    }),
    stopHandover: build.mutation<Handover, string>({
      query: (id) => ({ url: `handovers/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Handovers'],
    }),
  }),
});

/** Address of a finish's swatch; changes whenever the picture does. */
export const swatchUrl = (id: string, stamp: string, widthPx: number, revision?: string, way?: string) =>
  `/api/finishes/${id}/swatch.png?widthPx=${widthPx}&${revision ? `revision=${revision}` : `etag=${encodeURIComponent(stamp)}`}${way ? `&way=${encodeURIComponent(way)}` : ''}`;
