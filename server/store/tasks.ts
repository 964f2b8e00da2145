import type { Database } from './database';

export type TaskKind = 'render' | 'handover';
export type TaskState = 'waiting' | 'running' | 'done' | 'failed' | 'stopped';

/** Work for the background: asked for, claimed by one worker, reported on, finished or stopped. */
export interface TaskRow {
  id: string;
  kind: TaskKind;
  request: unknown;
  state: TaskState;
  progress: number;
  step: string;
  error: string | null;
  result: unknown;
  attempt: number;
  heartbeat_at: Date | null;
  created_at: Date;
  finished_at: Date | null;
}

/** A worker that has not been heard of for this long is taken to be gone. */
const SILENCE_SECONDS = 15;
const MOST_ATTEMPTS = 3;

export async function addTask(database: Database, kind: TaskKind, request: unknown): Promise<TaskRow> {
  const [added] = await database('tasks')
    .insert({ kind, request: JSON.stringify(request) })
    .returning('*');
  return added as TaskRow;
}

export const getTask = (database: Database, kind: TaskKind, id: string) =>
  database('tasks').where({ id, kind }).first<TaskRow | undefined>();
/** The last tasks of a kind, without the manifests of packages whose contents are noted by themselves. */
export const listTasks = (database: Database, kind: TaskKind, limit: number) =>
  database('tasks')
    .where({ kind })
    .orderBy('created_at', 'desc')
    .limit(limit)
    .select<TaskRow[]>(
      ...['id', 'kind', 'request', 'state', 'progress', 'step', 'error', 'attempt', 'heartbeat_at'],
      ...['created_at', 'finished_at'],
      database.raw(
        `case when result ->> 'contents' is not null then result - 'manifest' else result end as result`,
      ),
    );

/** How long the last packages took, and what had been estimated for them, s. */
export const lastDurations = (database: Database, count: number) =>
  database('tasks')
    .where({ kind: 'handover', state: 'done' })
    .andWhereRaw(`(result -> 'took' ->> 'estimatedSeconds')::float8 > 0`)
    .orderBy('created_at', 'desc')
    .limit(count)
    .select<{ seconds: number; estimated: number }[]>(
      database.raw(`(result -> 'took' ->> 'seconds')::float8 as seconds`),
      database.raw(`(result -> 'took' ->> 'estimatedSeconds')::float8 as estimated`),
    );

/** Takes a waiting task for this worker; nothing when another one has it or it was stopped. */
export async function claimTask(database: Database, id: string): Promise<TaskRow | undefined> {
  const rows = await database('tasks')
    .where({ id, state: 'waiting' })
    .update({
      state: 'running',
      attempt: database.raw('attempt + 1'),
      heartbeat_at: database.fn.now(),
      progress: 0,
      step: 'Starting',
    })
    .returning('*');
  return rows[0] as TaskRow | undefined;
}

/** Reports on a running task. False: it is no longer ours, because it was stopped or given to another worker. */
export async function reportTask(
  database: Database,
  task: TaskRow,
  progress: number,
  step: string,
): Promise<boolean> {
  const changed = await database('tasks')
    .where({ id: task.id, state: 'running', attempt: task.attempt })
    .update({ progress, step, heartbeat_at: database.fn.now() });
  return changed > 0;
}

/** Ends a running task, once: a task that was stopped meanwhile stays stopped. */
export async function endTask(
  database: Database,
  task: TaskRow,
  end: { state: 'done'; result: unknown } | { state: 'failed'; error: string },
): Promise<boolean> {
  const changed = await database('tasks')
    .where({ id: task.id, state: 'running', attempt: task.attempt })
    .update({
      state: end.state,
      finished_at: database.fn.now(),
      ...(end.state === 'done'
        ? { result: JSON.stringify(end.result), progress: 1, step: 'Done' }
        : { error: end.error }),
    });
  return changed > 0;
}

export async function stopTask(database: Database, kind: TaskKind, id: string): Promise<TaskRow | undefined> {
  await database('tasks')
    .where({ id, kind })
    .whereIn('state', ['waiting', 'running'])
    .update({ state: 'stopped', step: 'Stopped', finished_at: database.fn.now() });
  return getTask(database, kind, id);
}

/** Gives running tasks of a worker that ends back, as if it had not begun with them. */
export const releaseTasks = (database: Database, tasks: readonly Pick<TaskRow, 'id' | 'attempt'>[]) =>
  Promise.all(
    tasks.map(({ id, attempt }) =>
      database('tasks')
        .where({ id, attempt, state: 'running' })
        .update({ state: 'waiting', attempt: attempt - 1, progress: 0, step: 'Waiting to start again' }),
    ),
  );

/**
 * Finds tasks whose worker fell silent: they wait again, or fail after three attempts. Also names those that have been
 * waiting for long, whose call may have been lost.
 * @returns ids that should be called again
 */
export async function reviveTasks(database: Database): Promise<{ id: string; kind: TaskKind }[]> {
  const silent = database.raw(`heartbeat_at < now() - interval '${SILENCE_SECONDS} seconds'`);
  await database('tasks')
    .where({ state: 'running' })
    .andWhere(silent)
    .andWhere('attempt', '>=', MOST_ATTEMPTS)
    .update({
      state: 'failed',
      error:
        'The work broke off three times, most likely for lack of memory. Ask for fewer pixels and try again.',
      finished_at: database.fn.now(),
    });
  await database('tasks')
    .where({ state: 'running' })
    .andWhere(silent)
    .update({ state: 'waiting', progress: 0, step: 'Waiting to start again' });
  return database('tasks')
    .where({ state: 'waiting' })
    .andWhereRaw(`(heartbeat_at is not null or created_at < now() - interval '${SILENCE_SECONDS} seconds')`)
    .orderBy('created_at')
    .select<{ id: string; kind: TaskKind }[]>('id', 'kind');
}
