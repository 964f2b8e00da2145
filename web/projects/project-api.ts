import type { Category } from '@jossel/core/finish';
import type { MappingFigures, ProjectCamera, ReliefToPlan, SurfaceCamera } from '@jossel/core/schedule';
import type { Figure } from '@jossel/core/units';
import { api, nothingOrProblem, type FinishState } from '../app/api';

export interface ProjectItem {
  id: string;
  name: string;
  note: string;
  rooms: number;
  surfaces: number;
}
export interface Surface {
  id: string;
  name: string;
  widthMm: number;
  heightMm: number;
  directionDeg: 0 | 90 | 180 | 270;
  /** Where it is for the camera; null: as the project says. */
  camera: SurfaceCamera | null;
  finish: {
    id: string;
    name: string;
    category: Category;
    state: FinishState;
    revision: string;
    latest: string | null;
    lrv: number | null;
    lrvMeasured: boolean;
    lrvGiven: Figure<'LRV'> | null;
    /** Of glass: share of the light that it lets through, percent; null: it is none. */
    passesPercent: number | null;
    glossGu: number | null;
    code: string;
    supplier: string;
    /** Colourways of this revision, and the one that lies here; null: the finish itself. */
    ways: { id: string; name: string }[];
    way: { id: string; name: string } | null;
  } | null;
  mapping: MappingFigures | null;
}
export interface Project {
  id: string;
  name: string;
  note: string;
  /** For planning relief; null: nobody has set it. */
  camera: ProjectCamera | null;
  rooms: { id: string; name: string; surfaces: Surface[] }[];
}
/** What of a project can be removed, restored and copied. */
export type ProjectPart = 'projects' | 'rooms' | 'surfaces';

/** Calls for projects, their rooms and surfaces. */
export const projectApi = api.injectEndpoints({
  endpoints: (build) => ({
    projects: build.query<{ items: ProjectItem[] }, void>({
      query: () => 'projects',
      providesTags: ['Projects'],
    }),
    project: build.query<Project, string>({ query: (id) => `projects/${id}`, providesTags: ['Project'] }),
    createProject: build.mutation<{ id: string }, { name: string; note: string }>({
      query: (body) => ({ url: 'projects', method: 'POST', body }),
      invalidatesTags: ['Projects'],
    }),
    createRoom: build.mutation<{ id: string }, { projectId: string; name: string }>({
      query: ({ projectId, name }) => ({
        url: `projects/${projectId}/rooms`,
        method: 'POST',
        body: { name },
      }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    createSurface: build.mutation<
      { id: string },
      { roomId: string; name: string; widthMm: number; heightMm: number }
    >({
      query: ({ roomId, ...body }) => ({ url: `rooms/${roomId}/surfaces`, method: 'POST', body }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    changeSurface: build.mutation<
      unknown,
      {
        id: string;
        name?: string;
        widthMm?: number;
        heightMm?: number;
        directionDeg?: number;
        camera?: SurfaceCamera | null;
        finish?: { id: string; revision?: string; way?: string | null } | null;
      }
    >({
      query: ({ id, ...body }) => ({ url: `surfaces/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Project'],
    }),
    changeProject: build.mutation<
      Project,
      { id: string; name?: string; note?: string; camera?: ProjectCamera | null }
    >({
      query: ({ id, ...body }) => ({ url: `projects/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    renameRoom: build.mutation<unknown, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `rooms/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: ['Project'],
    }),
    removePart: build.mutation<unknown, { what: ProjectPart; id: string }>({
      query: ({ what, id }) => ({
        url: `${what}/${id}`,
        method: 'DELETE',
        responseHandler: nothingOrProblem,
      }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    restorePart: build.mutation<unknown, { what: ProjectPart; id: string }>({
      query: ({ what, id }) => ({
        url: `${what}/${id}/restore`,
        method: 'POST',
        responseHandler: nothingOrProblem,
      }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    duplicatePart: build.mutation<{ id: string }, { what: 'rooms' | 'surfaces'; id: string }>({
      query: ({ what, id }) => ({ url: `${what}/${id}/duplicate`, method: 'POST' }),
      invalidatesTags: ['Projects', 'Project'],
    }),
    takeNewest: build.mutation<
      { changed: { surfaceId: string; from: string; to: string }[] },
      { projectId: string; surfaceIds?: string[] }
    >({
      query: ({ projectId, ...body }) => ({
        url: `projects/${projectId}/newest-revisions`,
        method: 'POST',
        body,
      }),
      invalidatesTags: ['Project'],
    }),
    reliefDetail: build.query<ReliefToPlan, { id: string; revision: string }>({
      query: ({ id, revision }) => ({ url: `finishes/${id}/relief-detail`, params: { revision } }),
    }),
  }),
});
