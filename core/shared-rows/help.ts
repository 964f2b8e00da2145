import { Control, State, viewsOf, type HelpMessage } from './message';
import type { Arrays, RowTask } from './task';

/** Any task, as a list of them has it: each checks its own settings and arrays where it is shared out. */
export type AnyRowTask = RowTask<never, never, never, never>;

/**
 * Helps another thread: computes the parts that it gives, and returns when it wants no more. Blocks this thread.
 * @param tasks those that this thread knows
 */
export function help(tasks: readonly AnyRowTask[], message: HelpMessage): void {
  const control = new Control(message.control);
  if (control.state === State.Ended) return;
  try {
    computeParts(tasks, message, control);
  } catch {
    // The thread that asked computes the part itself, and meets there what failed here.
    if (!control.advance(State.Working, State.Failed)) control.advance(State.Coming, State.Failed);
  }
}

function computeParts(tasks: readonly AnyRowTask[], message: HelpMessage, control: Control): void {
  const { task: name, settings, whole, part, byRow, out } = message;
  const task = tasks.find((t) => t.name === name) as RowTask<unknown, Arrays, Arrays, Arrays> | undefined;
  if (!task) throw new Error(`This thread does not know the task "${name}".`);
  const compute = task.begin(settings, whole);
  if (!control.advance(State.Coming, State.Ready)) return;
  for (let { state } = control; state !== State.Ended; state = control.state) {
    if (state !== State.Working) {
      control.waitWhile(state);
      continue;
    }
    const { from, to } = control;
    const results = viewsOf(out, part, to - from);
    // Results of the part before are still there.
    for (const array of Object.values(results)) array.fill(0);
    compute(viewsOf(byRow, part, to - from), results, from, to);
    control.advance(State.Working, State.Done);
  }
}
