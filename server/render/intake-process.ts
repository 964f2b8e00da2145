import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { NotAPicture } from './decode';
import type { Inspection } from './inspect';
import { timeLimitExceeded, valueOf } from './lane';
import type { Serialised } from './serialise-errors';

/** Analyses new files, one after the other, in a process of its own that ends when there are none. */

/** What one file may make of the process's memory. */
const MOST_BYTES = 2000 * 1024 * 1024;
const LIMIT_MS = 120_000;
const IDLE_MS = 15_000;
const WATCHED_EVERY_MS = 100;
const PAGE_BYTES = 4096;

type Message = { id: number; answer: Serialised<Inspection> } | { id: number; fault: string };

export class IntakeProcess {
  private child: ChildProcess | null = null;
  private queue: Promise<unknown> = Promise.resolve();
  private idle: NodeJS.Timeout | undefined;
  private count = 0;

  constructor(private readonly file: URL) {}

  /**
   * @throws NotAPicture with a sentence for people, also when a file needs more memory than one may
   */
  inspect(bytes: Uint8Array): Promise<Inspection> {
    const work = this.queue.then(() => this.inspectNow(bytes));
    this.queue = work.catch(() => undefined);
    return work;
  }

  close(): void {
    clearTimeout(this.idle);
    this.child?.kill('SIGKILL');
    this.child = null;
  }

  private async inspectNow(bytes: Uint8Array): Promise<Inspection> {
    clearTimeout(this.idle);
    const child = (this.child ??= fork(fileURLToPath(this.file), [], {
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    }));
    try {
      return await this.askOf(child, bytes);
    } finally {
      this.idle = setTimeout(() => this.close(), IDLE_MS).unref();
    }
  }

  private askOf(child: ChildProcess, bytes: Uint8Array): Promise<Inspection> {
    return new Promise((resolve, reject) => {
      const id = ++this.count;
      const end = (settle: () => void) => {
        clearInterval(watch);
        clearTimeout(limit);
        child.off('message', onMessage);
        child.off('exit', onExit);
        settle();
      };
      const give = (error: Error) => {
        this.child = null;
        child.kill('SIGKILL');
        end(() => reject(error));
      };
      const onMessage = (message: Message) => {
        if (message.id !== id) return;
        end(() => {
          if ('fault' in message) return reject(new Error(message.fault));
          try {
            resolve(valueOf(message.answer));
          } catch (error) {
            reject(error as Error);
          }
        });
      };
      const onExit = () => give(new NotAPicture(BEYOND));
      const watch = setInterval(() => {
        if (residentBytes(child.pid) > MOST_BYTES) give(new NotAPicture(BEYOND));
      }, WATCHED_EVERY_MS);
      const limit = setTimeout(() => give(timeLimitExceeded(LIMIT_MS)), LIMIT_MS);
      child.on('message', onMessage);
      child.on('exit', onExit);
      child.send({ id, bytes });
    });
  }
}

const BEYOND =
  'Analysing it needs more memory than one picture may use. Scale it down, or save it again without layers.';

/** Memory that a process holds; 0 where that cannot be told. */
function residentBytes(pid: number | undefined): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * PAGE_BYTES;
  } catch {
    return 0;
  }
}
