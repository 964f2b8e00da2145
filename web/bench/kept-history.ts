import equal from 'fast-deep-equal';
import type { Recipe } from '@jossel/core/finish';

/** Steps to undo and redo of one finish, as they outlive a reload of the page. */
export interface History {
  past: Recipe[];
  future: Recipe[];
}

interface Kept extends History {
  /** The recipe they lead to and from. */
  present: Recipe;
}

const keyOf = (finishId: string) => `jossel.history.${finishId}`;
/** So many characters are kept for one finish: of longer histories the oldest steps go first. */
const MOST_CHARACTERS = 1_000_000;

/** Steps that fit, those nearest to the present first. */
function fitting(steps: readonly Recipe[], characters: number): { steps: Recipe[]; left: number } {
  let left = characters;
  const out: Recipe[] = [];
  for (const step of [...steps].reverse()) {
    left -= JSON.stringify(step).length;
    if (left < 0) break;
    out.unshift(step);
  }
  return { steps: out, left: Math.max(0, left) };
}

/** Keeps the history of a finish in this window. A full store keeps none; nothing else suffers from that. */
export function keepHistory(
  store: Pick<Storage, 'setItem' | 'removeItem'>,
  finishId: string,
  present: Recipe,
  history: History,
): void {
  const past = fitting(history.past, MOST_CHARACTERS);
  const future = fitting(history.future, past.left);
  const kept: Kept = { present, past: past.steps, future: future.steps };
  try {
    store.setItem(keyOf(finishId), JSON.stringify(kept));
  } catch {
    store.removeItem(keyOf(finishId));
  }
}

/** The history kept of a finish, if it still leads to its recipe: another window may have changed that meanwhile. */
export function keptHistory(
  store: Pick<Storage, 'getItem'>,
  finishId: string,
  recipe: Recipe,
): History | null {
  try {
    const kept = JSON.parse(store.getItem(keyOf(finishId)) ?? 'null') as Kept | null;
    return kept && equal(kept.present, recipe) ? { past: kept.past, future: kept.future } : null;
  } catch {
    return null;
  }
}
