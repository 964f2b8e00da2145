import * as store from '../store';
import type { Context } from '../services/context';

const HOUR_MS = 3_600_000;
/** The start is left to what people wait for. */
const FIRST_AFTER_MS = 120_000;

/** Takes away every hour what has expired. @returns ends it */
export function startHousekeeping(
  { database }: Pick<Context, 'database'>,
  log: (message: string) => void,
): () => void {
  const clear = () =>
    store.clearExpired(database).then(
      (cleared) => {
        const some = Object.entries(cleared ?? {}).filter(([, count]) => count > 0);
        if (some.length > 0)
          log(`cleared what has expired: ${some.map(([what, count]) => `${count} ${what}`).join(', ')}`);
      },
      (error: Error) => log(`clearing: ${error.message}`),
    );
  const first = setTimeout(() => void clear(), FIRST_AFTER_MS).unref();
  const every = setInterval(() => void clear(), HOUR_MS).unref();
  return () => {
    clearTimeout(first);
    clearInterval(every);
  };
}
