import { namedSamples, repeatGeometry, type Recipe } from '@jossel/core/finish';
import { leadOf, recipeOrFault, shapeOf } from './recipes';
import { measuredKey, reflectanceOf } from './headline';
import { mapOntoSurface } from '@jossel/core/schedule';
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
  const finishes = new Map(
    (await Promise.all(finishIds.map((f) => store.getFinish(database, f)))).map((f) => [f!.id, f!]),
  );
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
    const repeat = recipe && sample ? repeatGeometry(recipe, shapeOf(sample)).repeatMm : null;
    const latest = revisions.filter((r) => r.finish_id === s.finish_id).at(-1)?.letter ?? null;
    return {
      id: s.id,
      name: s.name,
      widthMm: s.width_mm,
      heightMm: s.height_mm,
      directionDeg: s.direction_deg,
      finish: finish
        ? {
            id: finish.id,
            name: finish.name,
            category: finish.category,
            state: finish.state,
            revision: s.revision,
            latest,
            ...(recipe && sample && of
              ? reflectanceOf(recipe, sample, measured.get(keyOf(of, recipe)))
              : { lrv: null, lrvMeasured: false, lrvBasis: null, lrvGiven: null }),
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
    rooms: found.rooms.map((room) => ({
      id: room.id,
      name: room.name,
      surfaces: found.surfaces.filter((s) => s.room_id === room.id).map(describe),
    })),
  };
}

export async function createRoom({ database }: Context, projectId: string, name: string) {
  if (!(await store.getProject(database, projectId))) throw notFound('project', projectId);
  return store.addRoom(database, { project_id: projectId, name });
}

export interface SurfaceWish {
  name?: string | undefined;
  widthMm?: number | undefined;
  heightMm?: number | undefined;
  directionDeg?: number | undefined;
  finish?: { id: string; revision?: string | undefined } | null | undefined;
}

/** A surface takes a finish at an issued revision, never at a draft. */
async function columnsOf({ database }: Context, wish: SurfaceWish) {
  const columns: Partial<store.SurfaceRow> = {};
  if (wish.name !== undefined) columns.name = wish.name;
  if (wish.widthMm !== undefined) columns.width_mm = wish.widthMm;
  if (wish.heightMm !== undefined) columns.height_mm = wish.heightMm;
  if (wish.directionDeg !== undefined) columns.direction_deg = wish.directionDeg;
  if (wish.finish === null) Object.assign(columns, { finish_id: null, revision: null });
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
    if (!revisions.some((r) => r.letter === letter)) throw notFound(`revision of ${finish.name}`, letter);
    Object.assign(columns, { finish_id: finish.id, revision: letter });
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
    ...columns,
  } as Omit<store.SurfaceRow, 'id' | 'position'>);
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

export async function removeSurface({ database }: Context, id: string) {
  if ((await store.removeSurface(database, id)) === 0) throw notFound('surface', id);
}
