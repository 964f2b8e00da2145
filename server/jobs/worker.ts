import PgBoss from 'pg-boss';
import { isRefusal } from '@jossel/core/surface';
import { Problem } from '../problem';
import type { Context } from '../services/context';
import * as store from '../store';
import { runHandover } from './handover';
import { runRender } from './render';

const KINDS: readonly store.TaskKind[] = ['render', 'handover'];
/** A queue holds each task once: calling again for one that waits in it changes nothing. */
const queueOf = (kind: store.TaskKind) => `${kind}-once`;

/** The queue that every process with the same database shares. */
export async function openQueue(databaseUrl: string, log: (message: string) => void): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl, application_name: 'jossel', max: 4 });
  boss.on('error', (error) => log(`queue: ${error.message}`));
  await boss.start();
  for (const kind of KINDS) await boss.createQueue(queueOf(kind), { name: queueOf(kind), policy: 'short' });
  return boss;
}

export const callThrough =
  (boss: PgBoss): Context['call'] =>
  async (kind, id) => {
    await boss.send(queueOf(kind), { id }, { expireInHours: 2, retryLimit: 0, singletonKey: id });
  };

/** Starts taking tasks from the queue. */
export async function startWorker(
  context: Context,
  boss: PgBoss,
  log: (message: string) => void,
): Promise<{ stop: () => Promise<void> }> {
  const running = new Map<AbortController, store.TaskRow>();
  let ending = false;

  async function work(id: string): Promise<void> {
    if (ending) return;
    const task = await store.claimTask(context.database, id);
    if (!task) return; // stopped, or another worker has it
    const stop = new AbortController();
    running.set(stop, task);
    let [progress, step] = [0, 'Starting'];
    // One write a half second says how far it is, that we are alive, and learns whether it was stopped.
    const beat = setInterval(() => {
      store.reportTask(context.database, task, progress, step).then(
        (ours) => {
          if (!ours) stop.abort();
        },
        (error: Error) => log(`task ${id}: ${error.message}`),
      );
    }, 500);
    try {
      const result = await (task.kind === 'render' ? runRender : runHandover)(context, {
        task,
        stopped: stop.signal,
        report: (p, s) => {
          progress = Math.max(progress, p);
          step = s;
        },
      });
      await store.withRetry(() => store.endTask(context.database, task, { state: 'done', result }));
    } catch (error) {
      if ((error as Error).name === 'Stopped') return;
      const forPeople = error instanceof Problem || isRefusal(error);
      if (!forPeople) log(`task ${id}: ${(error as Error).stack}`);
      const sentence = forPeople
        ? (error as Error).message
        : `It could not be computed: ${(error as Error).message}`;
      await store
        .withRetry(() => store.endTask(context.database, task, { state: 'failed', error: sentence }))
        .catch((e: Error) => log(`task ${id}: ${e.message}`));
    } finally {
      clearInterval(beat);
      running.delete(stop);
    }
  }

  for (const kind of KINDS) {
    await boss.work<{ id: string }>(
      queueOf(kind),
      { batchSize: 1, pollingIntervalSeconds: 0.5 },
      async ([job]) => {
        if (job) await work(job.data.id);
      },
    );
  }
  const revive = async () => {
    for (const { id, kind } of await store.reviveTasks(context.database)) await context.call(kind, id);
  };
  const reviver = setInterval(() => revive().catch((error: Error) => log(`revive: ${error.message}`)), 5000);
  return {
    async stop() {
      ending = true;
      clearInterval(reviver);
      for (const stop of running.keys()) stop.abort();
      await store.releaseTasks(context.database, [...running.values()]).catch(() => undefined);
      await boss.stop({ graceful: false, timeout: 2000 }).catch(() => undefined);
    },
  };
}
