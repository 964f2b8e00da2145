import type { Database } from './database';

export interface ProjectRow {
  id: string;
  name: string;
  note: string;
  created_at: Date;
}
export interface RoomRow {
  id: string;
  project_id: string;
  name: string;
  position: number;
}
export interface SurfaceRow {
  id: string;
  room_id: string;
  name: string;
  width_mm: number;
  height_mm: number;
  direction_deg: number;
  finish_id: string | null;
  revision: string | null;
  position: number;
}

export const listProjects = (database: Database) =>
  database('projects as p')
    .leftJoin('rooms as r', 'r.project_id', 'p.id')
    .leftJoin('surfaces as s', 's.room_id', 'r.id')
    .groupBy('p.id')
    .orderByRaw('lower(p.name)')
    .select<(ProjectRow & { rooms: string; surfaces: string })[]>(
      'p.*',
      database.raw('count(distinct r.id) as rooms'),
      database.raw('count(distinct s.id) as surfaces'),
    );

export async function getProject(database: Database, id: string) {
  const project = await database('projects').where({ id }).first<ProjectRow | undefined>();
  if (!project) return undefined;
  const rooms = await database('rooms')
    .where({ project_id: id })
    .orderBy(['position', 'name'])
    .select<RoomRow[]>('*');
  const surfaces = await database('surfaces')
    .whereIn(
      'room_id',
      rooms.map((r) => r.id),
    )
    .orderBy(['position', 'name'])
    .select<SurfaceRow[]>('*');
  return { project, rooms, surfaces };
}

export const addProject = async (database: Database, row: { name: string; note: string }) =>
  (await database('projects').insert(row).returning('*'))[0] as ProjectRow;
export const getRoom = (database: Database, id: string) =>
  database('rooms').where({ id }).first<RoomRow | undefined>();
export const addRoom = async (database: Database, row: { project_id: string; name: string }) =>
  (
    await database('rooms')
      .insert({
        ...row,
        position: database.raw('(select count(*) from rooms where project_id = ?)', [row.project_id]),
      })
      .returning('*')
  )[0] as RoomRow;
export const getSurface = (database: Database, id: string) =>
  database('surfaces').where({ id }).first<SurfaceRow | undefined>();
export const addSurface = async (database: Database, row: Omit<SurfaceRow, 'id' | 'position'>) =>
  (
    await database('surfaces')
      .insert({
        ...row,
        position: database.raw('(select count(*) from surfaces where room_id = ?)', [row.room_id]),
      })
      .returning('*')
  )[0] as SurfaceRow;
export const changeSurface = async (
  database: Database,
  id: string,
  change: Partial<Omit<SurfaceRow, 'id' | 'room_id'>>,
) => (await database('surfaces').where({ id }).update(change).returning('*'))[0] as SurfaceRow | undefined;
export const removeSurface = (database: Database, id: string) => database('surfaces').where({ id }).delete();
