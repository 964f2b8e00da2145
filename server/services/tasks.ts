import { mapsOf, hasSource, type MapName } from '@jossel/core/finish';
import type { Manifest } from '@jossel/core/formats';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Context } from './context';
import { contentsOf, type PackedFinish } from './contents';
import { estimatePackage, type PackageEstimate } from './estimates';
import { finishesOfProject } from './projects';
import { recipeOf, wayOf } from './recipes';
import { refuseWithoutPermission } from './permission';

/** Kinds of receiver a handover can be made for. */
export const PROFILES = {
  'draft-1024': { name: 'Draft, longer side 1024 px', longSidePx: 1024 },
  'general-2048': { name: 'General, longer side 2048 px', longSidePx: 2048 },
  'close-4096': { name: 'Close-up, longer side 4096 px', longSidePx: 4096 },
  'large-8192': { name: 'Large surface, longer side 8192 px', longSidePx: 8192 },
} as const;
export type ProfileId = keyof typeof PROFILES;
export const PROFILE_IDS = Object.keys(PROFILES) as [ProfileId, ...ProfileId[]];

export interface RenderRequest {
  finishId: string;
  revision: string | null;
  /** Of a draft as it was when it was ordered; null: a revision, which does not change. */
  recipe?: unknown;
  widthPx: number;
  maps: MapName[];
  /** A colourway; null: the finish itself. */
  way: string | null;
}
export interface HandoverRequest {
  items: {
    finishId: string;
    revision: string;
    name: string;
    way: { id: string; name: string } | null;
    /** Wavelength at which relief is shared between mesh and normals, mm; null: height and normals each hold all of it. */
    splitMm?: number | null;
  }[];
  /** What the package is for, as a project; null: only what is in it. */
  title?: string | null;
  profile: ProfileId;
}
export interface StoredMap {
  sha256: string;
  widthPx: number;
  heightPx: number;
  bitDepth: number;
  colourSpace: string;
}
export interface RenderResult {
  report: unknown;
  maps: Record<string, StoredMap>;
}
export interface HandoverResult {
  sha256: string;
  bytes: number;
  fileName: string;
  /** In a list it is left out. */
  manifest?: Manifest;
  /** Packages of former versions have none. */
  contents?: PackedFinish[];
  /** How long it took, and what had been estimated on the machine of docs/measured.md. Packages of former versions do not know. */
  took?: { seconds: number; estimatedSeconds: number };
}

const common = (row: store.TaskRow) => ({
  id: row.id,
  state: row.state,
  progress: row.progress,
  step: row.step,
  ...(row.error ? { error: row.error } : {}),
  createdAt: row.created_at,
  finishedAt: row.finished_at,
});

export function describeRender(row: store.TaskRow) {
  const result = row.result as RenderResult | null;
  const maps = Object.entries(result?.maps ?? {}).map(([name, { sha256: _, ...map }]) => [
    name,
    { url: `/api/renders/${row.id}/maps/${name}.png`, ...map },
  ]);
  return { ...common(row), report: result?.report ?? null, maps: Object.fromEntries(maps) };
}

/** What a package is called by what is in it: its project, or the first finishes with their revisions. */
export function titleOf({ title, items }: Pick<HandoverRequest, 'title' | 'items'>): string {
  if (title) return title;
  const names = [...new Set(items.map((i) => `${i.name} ${i.revision}`))];
  return names.length <= 3
    ? names.join(', ')
    : `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`;
}

export function describeHandover(row: store.TaskRow) {
  const request = row.request as HandoverRequest;
  const result = row.result as HandoverResult | null;
  return {
    ...common(row),
    profile: request.profile,
    items: request.items,
    title: titleOf(request),
    ...(result
      ? {
          file: { url: `/api/handovers/${row.id}/file`, fileName: result.fileName, bytes: result.bytes },
          contents: result.contents ?? (result.manifest ? contentsOf(result.manifest) : null),
          ...(result.manifest ? { manifest: result.manifest } : {}),
        }
      : {}),
  };
}

async function start(context: Context, kind: store.TaskKind, request: unknown): Promise<store.TaskRow> {
  const row = await store.addTask(context.database, kind, request);
  await context.call(kind, row.id);
  return row;
}

export async function orderRender(
  context: Context,
  wanted: {
    finishId: string;
    revision?: string | undefined;
    widthPx: number;
    maps?: MapName[] | undefined;
    way?: string | undefined;
  },
) {
  const { recipe } = await recipeOf(context, wanted.finishId, wanted.revision);
  if (!hasSource(recipe))
    throw new Problem(409, 'Nothing to render', 'This finish has no sample yet. Add a picture to it first.');
  const request: RenderRequest = {
    finishId: wanted.finishId,
    revision: wanted.revision ?? null,
    recipe: wanted.revision ? null : recipe,
    widthPx: wanted.widthPx,
    maps: wanted.maps ?? mapsOf(recipe),
    way: wanted.way ? wayOf(recipe, wanted.way).id : null,
  };
  return describeRender(await start(context, 'render', request));
}

/** What a package is wanted of. */
export interface WantedPackage {
  items?:
    | {
        finishId: string;
        revision?: string | undefined;
        way?: string | undefined;
        splitMm?: number | undefined;
      }[]
    | undefined;
  /** All that lies on the surfaces of a project, in place of items. */
  projectId?: string | undefined;
  /** Each finish with all its colourways. */
  colourways?: boolean | undefined;
  /** For all finishes that have none of their own. */
  splitMm?: number | undefined;
  profile: ProfileId;
}

/** Orders a package. Only issued revisions of samples with a permission leave the house. */
export async function orderHandover(context: Context, wanted: WantedPackage) {
  return describeHandover(await start(context, 'handover', await requestOf(context, wanted)));
}

/** What a package would take of this machine. @throws Problem where it cannot be ordered */
export async function estimateHandover(context: Context, wanted: WantedPackage): Promise<PackageEstimate> {
  const { items } = await requestOf(context, wanted);
  const size = { longSidePx: PROFILES[wanted.profile].longSidePx };
  const finishes = new Map<string, Parameters<typeof estimatePackage>[1][number]>();
  for (const { finishId, revision, name } of items) {
    const key = `${finishId} ${revision}`;
    const known = finishes.get(key);
    if (known) finishes.set(key, { ...known, sets: known.sets + 1 });
    else {
      const { recipe, issued } = await recipeOf(context, finishId, revision);
      finishes.set(key, { name, recipe, issued, size, sets: 1 });
    }
  }
  return estimatePackage(context, [...finishes.values()]);
}

/** @throws Problem where something of it is not issued, withdrawn, or has no permission */
async function requestOf(context: Context, wanted: WantedPackage): Promise<HandoverRequest> {
  const items: HandoverRequest['items'] = [];
  const project = wanted.projectId ? await finishesOfProject(context, wanted.projectId) : null;
  const asked = project?.items ?? wanted.items ?? [];
  if (asked.length === 0)
    throw new Problem(
      409,
      'Nothing to hand over',
      project
        ? `No finish lies on a surface of ${project.name} yet. Lay one there first.`
        : 'Choose at least one finish.',
    );
  for (const item of asked) {
    const revisions = await store.listRevisions(context.database, [item.finishId]);
    const letter = item.revision ?? revisions.at(-1)?.letter;
    const { row, recipe } = await recipeOf(context, item.finishId, letter);
    if (!letter)
      throw new Problem(
        409,
        'Not issued',
        `${row.name} has no issued revision. Issue one on its Bench, under Revision, and hand that over.`,
      );
    if (row.state === 'withdrawn')
      throw new Problem(409, 'Withdrawn', `${row.name} is withdrawn and is not handed over.`);
    await refuseWithoutPermission(context, row.name, recipe);
    const splitMm = ('splitMm' in item ? item.splitMm : undefined) ?? wanted.splitMm ?? null;
    const base = { finishId: row.id, revision: letter, name: row.name, splitMm };
    if (item.way) items.push({ ...base, way: wayOf(recipe, item.way) });
    else items.push({ ...base, way: null });
    if (wanted.colourways && !item.way)
      for (const { id, name } of recipe.colour.ways) items.push({ ...base, way: { id, name } });
  }
  return { items, title: project?.name ?? null, profile: wanted.profile };
}

const row = async ({ database }: Context, kind: store.TaskKind, id: string) => {
  const found = await store.getTask(database, kind, id);
  if (!found) throw notFound(kind, id);
  return found;
};

export const showRender = async (context: Context, id: string) =>
  describeRender(await row(context, 'render', id));
export const showHandover = async (context: Context, id: string) =>
  describeHandover(await row(context, 'handover', id));
export const allHandovers = async (context: Context) =>
  (await store.listTasks(context.database, 'handover', 100)).map(describeHandover);

export async function stop(context: Context, kind: store.TaskKind, id: string) {
  const stopped = await store.stopTask(context.database, kind, id);
  if (!stopped) throw notFound(kind, id);
  return kind === 'render' ? describeRender(stopped) : describeHandover(stopped);
}

export async function renderedMap(context: Context, id: string, name: string) {
  const result = (await row(context, 'render', id)).result as RenderResult | null;
  const map = result?.maps[name];
  if (!map) throw notFound('map of this render', name);
  return (await store.streamBlob(context.database, map.sha256))!;
}

export async function handoverFile(context: Context, id: string) {
  const found = await row(context, 'handover', id);
  const result = found.result as HandoverResult | null;
  if (!result)
    throw new Problem(
      409,
      'Not ready',
      `This handover is ${found.state}; its file is there once it is done.`,
    );
  return { fileName: result.fileName, file: (await store.streamBlob(context.database, result.sha256))! };
}
