import type { RenderPool } from '../render/pool';
import type { Database, TaskKind } from '../store';

/** What the services work with. */
export interface Context {
  database: Database;
  pool: RenderPool;
  /** Calls a worker for a task. */
  call: (kind: TaskKind, id: string) => Promise<void>;
  /** Told of every finish whose picture may be another now. */
  changed?: (finishId: string) => void;
}
