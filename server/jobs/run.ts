import type { TaskRow } from '../store';

/** A task being worked on: how it is told to stop, and how it says how far it is. */
export interface Run {
  task: TaskRow;
  stopped: AbortSignal;
  report: (progress: number, step: string) => void;
}
