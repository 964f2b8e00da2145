import type { ProjectCamera, SurfaceCamera } from '@jossel/core/schedule';
import type { Database } from './database';

export interface ProjectRow {
  id: string;
  name: string;
  note: string;
  /** For planning relief; null: nobody has set it. */
  camera: ProjectCamera | null;
  created_at: Date;
  removed_at: Date | null;
}
export interface RoomRow {
  id: string;
  project_id: string;
  name: string;
  position: number;
  removed_at: Date | null;
}
export interface SurfaceRow {
  id: string;
  room_id: string;
  name: string;
  width_mm: number;
  height_mm: number;
  direction_deg: 0 | 90 | 180 | 270;
  finish_id: string | null;
  revision: string | null;
  /** A colourway of the finish by its id; null: the finish itself. */
  way: string | null;
  /** Where it is for the camera; null: as the project says. */
  camera: SurfaceCamera | null;
  position: number;
  removed_at: Date | null;
}

export const listProjects = (database: Database) =>
  database('projects as p')
    .leftJoin('rooms as r', (on) => on.on('r.project_id', 'p.id').onNull('r.removed_at'))
    .leftJoin('surfaces as s', (on) => on.on('s.room_id', 'r.id').onNull('s.removed_at'))
    .whereNull('p.removed_at')
    .groupBy('p.id')
    .orderByRaw('lower(p.name)')
    .select<(ProjectRow & { rooms: string; surfaces: string })[]>(
      'p.*',
      database.raw('count(distinct r.id) as rooms'),
      database.raw('count(distinct s.id) as surfaces'),
    );

export async function getProject(database: Database, id: string) {
  const project = await database('projects').where({ id, removed_at: null }).first<ProjectRow | undefined>();
  if (!project) return undefined;
  const rooms = await database('rooms')
    .where({ project_id: id, removed_at: null })
    .orderBy(['position', 'name'])
    .select<RoomRow[]>('*');
  const surfaces = await database('surfaces')
    .whereIn(
      'room_id',
      rooms.map((r) => r.id),
    )
    .whereNull('removed_at')
    .orderBy(['position', 'name'])
    .select<SurfaceRow[]>('*');
  return { project, rooms, surfaces };
}

/** Surfaces that a finish lies on, with the room and the project they are of. */
export const surfacesOfFinish = (database: Database, finishId: string) =>
  database('surfaces as s')
    .join('rooms as r', 'r.id', 's.room_id')
    .join('projects as p', 'p.id', 'r.project_id')
    .where('s.finish_id', finishId)
    .whereNull('s.removed_at')
    .whereNull('r.removed_at')
    .whereNull('p.removed_at')
    .orderByRaw('lower(p.name), r.position, s.position, s.name')
    .select<(SurfaceRow & { room: string; project: string })[]>('s.*', 'r.name as room', 'p.name as project');

export const addProject = async (database: Database, row: { name: string; note: string }) =>
  (await database('projects').insert(row).returning('*'))[0] as ProjectRow;
export const getRoom = (database: Database, id: string) =>
  database('rooms').where({ id, removed_at: null }).first<RoomRow | undefined>();
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
  database('surfaces').where({ id, removed_at: null }).first<SurfaceRow | undefined>();
export const addSurface = async (
  database: Database,
  row: Omit<SurfaceRow, 'id' | 'position' | 'removed_at'>,
) =>
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

export const changeProject = async (
  database: Database,
  id: string,
  change: Partial<Pick<ProjectRow, 'name' | 'note' | 'camera'>>,
) => (await database('projects').where({ id }).update(change).returning('*'))[0] as ProjectRow | undefined;
export const changeRoom = async (database: Database, id: string, change: Partial<Pick<RoomRow, 'name'>>) =>
  (await database('rooms').where({ id }).update(change).returning('*'))[0] as RoomRow | undefined;

/** What of a project can be removed and restored. */
export const REMOVABLE = ['projects', 'rooms', 'surfaces'] as const;
export type Removable = (typeof REMOVABLE)[number];

/** Marks something as removed, or as there again. Returns how many rows there were: 1 or 0. */
export const setRemoved = (database: Database, table: Removable, id: string, removed: boolean) =>
  database(table)
    .where({ id })
    .update({ removed_at: removed ? database.fn.now() : null });

/** A copy of a surface, after all others of its room. */
export async function copySurface(database: Database, of: SurfaceRow, roomId: string, name: string) {
  const { id: _, position: __, removed_at: ___, ...row } = of;
  return addSurface(database, { ...row, room_id: roomId, name });
}

/** A copy of a room with all its surfaces. */
export async function copyRoom(database: Database, room: RoomRow, name: string): Promise<RoomRow> {
  return database.transaction(async (trx) => {
    const copy = await addRoom(trx, { project_id: room.project_id, name });
    const surfaces = await trx('surfaces')
      .where({ room_id: room.id, removed_at: null })
      .orderBy(['position', 'name'])
      .select<SurfaceRow[]>('*');
    for (const surface of surfaces) await copySurface(trx, surface, copy.id, surface.name);
    return copy;
  });
}
