import { finishSizeMm, namedSamples, type Recipe } from '@jossel/core/finish';
import { labToXyz } from '@jossel/core/colour';
import type { Colourway } from '@jossel/core/light';
import { leadOf, recipeOrFault, shapeOf, storedRecipe, wayOf } from './recipes';
import { measuredKey, reflectanceOf } from './headline';
import { mapOntoSurface, type ProjectCamera, type SurfaceCamera } from '@jossel/core/schedule';
import * as store from '../store';
import { notFound, Problem } from '../problem';
import type { Context } from './context';

export async function allProjects({ database }: Context) {
  return (await store.listProjects(database)).map((p) => ({
    id: p.id,
    name: p.name,
    note: p.note,
    rooms: Number(p.rooms),
    surfaces: Number(p.surfaces),
  }));
}

export const createProject = ({ database }: Context, wanted: { name: string; note: string }) =>
  store.addProject(database, wanted);

/** A project with its rooms and surfaces, and the mapping figures of every surface that has a finish. */
export async function showProject({ database }: Context, id: string) {
  const found = await store.getProject(database, id);
  if (!found) throw notFound('project', id);
  const finishIds = [...new Set(found.surfaces.flatMap((s) => (s.finish_id ? [s.finish_id] : [])))];
  const revisions = await store.listRevisions(database, finishIds);
  const finishes = new Map((await store.getFinishes(database, finishIds)).map((f) => [f.id, f]));
  const recipes = new Map(
    revisions.map((r) => [
      `${r.finish_id} ${r.letter}`,
      recipeOrFault(r.recipe, `Revision ${r.letter}`).recipe,
    ]),
  );
  const known = [...recipes.values()].flatMap((recipe) => recipe ?? []);
  const samples = await store.getSamples(database, known.flatMap(namedSamples));
  const keyOf = (r: store.RevisionRow, recipe: Recipe) => measuredKey(recipe, samples, r.stage_versions);
  const measured = await store.measuredOf(
    database,
    revisions.flatMap((r) => {
      const recipe = recipes.get(`${r.finish_id} ${r.letter}`);
      return recipe ? [keyOf(r, recipe)] : [];
    }),
  );
  const describe = (s: store.SurfaceRow) => {
    const finish = s.finish_id ? finishes.get(s.finish_id) : undefined;
    const recipe = recipes.get(`${s.finish_id} ${s.revision}`);
    const of = revisions.find((r) => r.finish_id === s.finish_id && r.letter === s.revision);
    const sample = leadOf(recipe, samples);
    const way = recipe?.colour.ways.find((w) => w.id === s.way);
    const repeat = recipe && sample ? finishSizeMm(recipe, shapeOf(sample)) : null;
    const latest = revisions.filter((r) => r.finish_id === s.finish_id).at(-1)?.letter ?? null;
    return {
      id: s.id,
      name: s.name,
      widthMm: s.width_mm,
      heightMm: s.height_mm,
      directionDeg: s.direction_deg,
      camera: s.camera,
      finish: finish
        ? {
            id: finish.id,
            name: finish.name,
            category: finish.category,
            state: finish.state,
            // A surface takes a finish at a revision, never at a draft.
            revision: s.revision!,
            latest,
            ways: (recipe?.colour.ways ?? []).map(({ id, name }) => ({ id, name })),
            way: way ? { id: way.id, name: way.name } : null,
            ...(way
              ? reflectanceOfWay(recipe!, way)
              : recipe && sample && of
                ? reflectanceOf(recipe, sample, measured.get(keyOf(of, recipe)))
                : { lrv: null, lrvMeasured: false, lrvBasis: null, lrvGiven: null, passesPercent: null }),
            glossGu: recipe?.response.glossGu.value ?? null,
            code: sample?.code ?? '',
            supplier: sample?.supplier ?? '',
          }
        : null,
      mapping: repeat
        ? mapOntoSurface(repeat, { widthMm: s.width_mm, heightMm: s.height_mm }, s.direction_deg)
        : null,
    };
  };
  return {
    id: found.project.id,
    name: found.project.name,
    note: found.project.note,
    camera: found.project.camera,
    rooms: found.rooms.map((room) => ({
      id: room.id,
      name: room.name,
      surfaces: found.surfaces.filter((s) => s.room_id === room.id).map(describe),
    })),
  };
}

/**
 * Reflectance of a colourway: that of its target where it recolours the whole finish. Where it recolours a part alone,
 * the whole is not known without drawing it.
 */
function reflectanceOfWay({ colour }: Recipe, way: Colourway) {
  const lrv = colour.recoloured ? null : 100 * labToXyz(way.target.lab)[1];
  return {
    lrv,
    lrvMeasured: false,
    lrvBasis: lrv === null ? null : way.target.basis,
    lrvGiven: null,
    passesPercent: null,
  };
}

export async function changeProject(
  { database }: Context,
  id: string,
  change: { name?: string | undefined; note?: string | undefined; camera?: ProjectCamera | null | undefined },
) {
  const wanted = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
  if (Object.keys(wanted).length > 0 && !(await store.changeProject(database, id, wanted)))
    throw notFound('project', id);
  return showProject({ database } as Context, id);
}

export async function renameRoom({ database }: Context, id: string, name: string) {
  const row = await store.changeRoom(database, id, { name });
  if (!row) throw notFound('room', id);
  return row;
}

export const { REMOVABLE } = store;
const WORDS: Readonly<Record<store.Removable, string>> = {
  projects: 'project',
  rooms: 'room',
  surfaces: 'surface',
};

/** Removes a project, room or surface; it can be restored as it was. */
export async function remove({ database }: Context, what: store.Removable, id: string) {
  if ((await store.setRemoved(database, what, id, true)) === 0) throw notFound(WORDS[what], id);
}
export async function restore({ database }: Context, what: store.Removable, id: string) {
  if ((await store.setRemoved(database, what, id, false)) === 0) throw notFound(WORDS[what], id);
}

const copyName = (name: string) => `${name}, copy`.slice(0, 200);

export async function duplicateRoom({ database }: Context, id: string) {
  const room = await store.getRoom(database, id);
  if (!room) throw notFound('room', id);
  return store.copyRoom(database, room, copyName(room.name));
}

export async function duplicateSurface({ database }: Context, id: string) {
  const surface = await store.getSurface(database, id);
  if (!surface) throw notFound('surface', id);
  return store.copySurface(database, surface, surface.room_id, copyName(surface.name));
}

/**
 * Lays the newest revision of their finishes on surfaces of a project where an older one lies.
 * @param only ids of the surfaces to look at; undefined: all of the project
 * @returns what was changed, with the revision that lay there before
 */
export async function takeNewest(
  context: Context,
  projectId: string,
  only: readonly string[] | undefined,
): Promise<{ changed: { surfaceId: string; from: string; to: string }[] }> {
  const { rooms } = await showProject(context, projectId);
  const stale = rooms
    .flatMap((r) => r.surfaces)
    .filter(({ id, finish }) => (!only || only.includes(id)) && finish && finish.latest !== finish.revision);
  const changed = [];
  for (const { id, finish } of stale) {
    const { id: finishId, revision: from, way } = finish!;
    const columns = await columnsOf(context, { finish: { id: finishId, way: way?.id } });
    const row = await store.changeSurface(context.database, id, columns);
    changed.push({ surfaceId: id, from: from!, to: row!.revision! });
  }
  return { changed };
}

/** What is laid on the surfaces of a project, each finish, revision and colourway once. */
export async function finishesOfProject(context: Context, projectId: string) {
  const { name, rooms } = await showProject(context, projectId);
  const laid = new Map<string, { finishId: string; revision: string; way?: string | undefined }>();
  for (const { finish } of rooms.flatMap((r) => r.surfaces))
    if (finish?.revision)
      laid.set(`${finish.id} ${finish.revision} ${finish.way?.id ?? ''}`, {
        finishId: finish.id,
        revision: finish.revision,
        way: finish.way?.id,
      });
  return { name, items: [...laid.values()] };
}

export async function createRoom({ database }: Context, projectId: string, name: string) {
  if (!(await store.getProject(database, projectId))) throw notFound('project', projectId);
  return store.addRoom(database, { project_id: projectId, name });
}

export interface SurfaceWish {
  name?: string | undefined;
  widthMm?: number | undefined;
  heightMm?: number | undefined;
  directionDeg?: store.SurfaceRow['direction_deg'] | undefined;
  camera?: SurfaceCamera | null | undefined;
  finish?: { id: string; revision?: string | undefined; way?: string | null | undefined } | null | undefined;
}

/** A surface takes a finish at an issued revision, never at a draft. */
async function columnsOf({ database }: Context, wish: SurfaceWish) {
  const columns: Partial<store.SurfaceRow> = {};
  if (wish.name !== undefined) columns.name = wish.name;
  if (wish.widthMm !== undefined) columns.width_mm = wish.widthMm;
  if (wish.heightMm !== undefined) columns.height_mm = wish.heightMm;
  if (wish.directionDeg !== undefined) columns.direction_deg = wish.directionDeg;
  if (wish.camera !== undefined) columns.camera = wish.camera;
  if (wish.finish === null) Object.assign(columns, { finish_id: null, revision: null, way: null });
  else if (wish.finish) {
    const finish = await store.getFinish(database, wish.finish.id);
    if (!finish) throw notFound('finish', wish.finish.id);
    if (finish.state === 'withdrawn')
      throw new Problem(
        409,
        'Withdrawn',
        `${finish.name} is withdrawn and is not laid on any further surface. What lies already stays.`,
      );
    const revisions = await store.listRevisions(database, [finish.id]);
    const letter = wish.finish.revision ?? revisions.at(-1)?.letter;
    if (!letter)
      throw new Problem(
        409,
        'Not issued',
        `${finish.name} has no issued revision. A surface takes a finish at a revision; issue one on its Bench first.`,
      );
    const revision = revisions.find((r) => r.letter === letter);
    if (!revision) throw notFound(`revision of ${finish.name}`, letter);
    const way = wish.finish.way
      ? wayOf(storedRecipe(revision.recipe, `Revision ${letter} of ${finish.name}`), wish.finish.way).id
      : null;
    Object.assign(columns, { finish_id: finish.id, revision: letter, way });
  }
  return columns;
}

export async function createSurface(
  context: Context,
  roomId: string,
  wish: SurfaceWish & { name: string; widthMm: number; heightMm: number },
) {
  if (!(await store.getRoom(context.database, roomId))) throw notFound('room', roomId);
  const columns = await columnsOf(context, wish);
  return store.addSurface(context.database, {
    room_id: roomId,
    direction_deg: 0,
    finish_id: null,
    revision: null,
    way: null,
    camera: null,
    ...columns,
  } as Omit<store.SurfaceRow, 'id' | 'position' | 'removed_at'>);
}

export async function changeSurface(context: Context, id: string, wish: SurfaceWish) {
  const columns = await columnsOf(context, wish);
  const row =
    Object.keys(columns).length > 0
      ? await store.changeSurface(context.database, id, columns)
      : await store.getSurface(context.database, id);
  if (!row) throw notFound('surface', id);
  return row;
}
