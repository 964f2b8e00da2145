import { isRefusal } from '@jossel/core/surface';
import { detachedFromCaller } from '../http/call';
import { Problem } from '../problem';
import type { Context } from './context';
import { MASTER_PX, swatch } from './looks';

/** A finish is left alone for so long before its small picture is made, ms. */
const QUIET_MS = 20_000;

/** Makes the small pictures of finishes that were changed, one at a time, so that the rack need not wait for them. */
export interface Ahead {
  changed: (finishId: string) => void;
  end: () => void;
}

/**
 * @param log is told of faults; what cannot be drawn is said where the finish is opened
 * @param quietMs how long a finish is left alone first
 */
export function drawAhead(context: Context, log: (message: string) => void, quietMs = QUIET_MS): Ahead {
  const timers = new Map<string, ReturnType<typeof setTimeout>>();
  let queue: Promise<unknown> = Promise.resolve();
  let ended = false;
  const draw = async (id: string) => {
    if (ended) return;
    try {
      await swatch(context, { id, letter: undefined, widthPx: MASTER_PX, map: 'colour', way: null });
    } catch (error) {
      if (!ended && !(error instanceof Problem) && !isRefusal(error))
        log(`the small picture of ${id}: ${(error as Error).stack}`);
    }
  };
  return {
    changed(id) {
      clearTimeout(timers.get(id));
      timers.set(
        id,
        setTimeout(() => {
          timers.delete(id);
          queue = detachedFromCaller(() => queue.then(() => draw(id)));
        }, quietMs).unref(),
      );
    },
    end() {
      ended = true;
      for (const timer of timers.values()) clearTimeout(timer);
      timers.clear();
    },
  };
}
