import PgBoss from 'pg-boss';
import { isRefusal } from '@jossel/core/surface';
import { Problem } from '../problem';
import type { Context } from '../services/context';
import * as store from '../store';
import { runHandover } from './handover';
import { runRender } from './render';

const QUEUES: readonly store.TaskKind[] = ['render', 'handover'];

/** The queue that every process with the same database shares. */
export async function openQueue(databaseUrl: string, log: (message: string) => void): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl, application_name: 'jossel', max: 4 });
  boss.on('error', (error) => log(`queue: ${error.message}`));
  await boss.start();
  for (const queue of QUEUES) await boss.createQueue(queue);
  return boss;
}

export const callThrough =
  (boss: PgBoss): Context['call'] =>
  async (kind, id) => {
    await boss.send(
      kind,
      { id },
      { expireInHours: 2, retryLimit: 0, singletonKey: id, singletonSeconds: 10 },
    );
  };

/** Starts taking tasks from the queue. */
export async function startWorker(
  context: Context,
  boss: PgBoss,
  log: (message: string) => void,
): Promise<{ stop: () => Promise<void> }> {
  const running = new Set<Int32Array>();

  async function work(id: string): Promise<void> {
    const task = await store.claimTask(context.database, id);
    if (!task) return; // stopped, or another worker has it
    const stop = new SharedArrayBuffer(4);
    const flag = new Int32Array(stop);
    running.add(flag);
    let [progress, step] = [0, 'Starting'];
    // One write a half second says how far it is, that we are alive, and learns whether it was stopped.
    const beat = setInterval(() => {
      store.reportTask(context.database, task, progress, step).then(
        (ours) => {
          if (!ours) Atomics.store(flag, 0, 1);
        },
        (error: Error) => log(`task ${id}: ${error.message}`),
      );
    }, 500);
    try {
      const result = await (task.kind === 'render' ? runRender : runHandover)(context, {
        task,
        stop,
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
      running.delete(flag);
    }
  }

  for (const queue of QUEUES) {
    await boss.work<{ id: string }>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      if (job) await work(job.data.id);
    });
  }
  const revive = async () => {
    for (const { id, kind } of await store.reviveTasks(context.database)) await context.call(kind, id);
  };
  const reviver = setInterval(() => revive().catch((error: Error) => log(`revive: ${error.message}`)), 5000);
  return {
    async stop() {
      clearInterval(reviver);
      for (const flag of running) Atomics.store(flag, 0, 1);
      await boss.stop({ graceful: false, timeout: 2000 }).catch(() => undefined);
    },
  };
}
