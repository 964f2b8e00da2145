import { totalmem } from 'node:os';
import { Problem } from '../problem';

/** Memory that a set of maps takes, measured at 8192 px with all of Jossel: 87 bytes for each pixel of a plaster, 105 of a laid floor. */
const BYTES_PER_PX = 110;
/** What server, worker and database take besides. */
const REST_BYTES = 0.5e9;
const GB = 1e9;

/** Memory of this machine, or of the part of it that this process may use. */
const memoryBytes = (): number => Math.min(totalmem(), process.constrainedMemory() || Infinity);

/**
 * Refuses a set of maps that does not fit into memory: begun all the same, it would end the process that computes it.
 * @param name of the finish
 * @param sizeMm of its repeat
 * @param widthPx of its repeat
 * @throws Problem that says how many pixels do fit
 */
export function refuseBeyondMemory(
  name: string,
  sizeMm: { width: number; height: number },
  widthPx: number,
  limitBytes = memoryBytes(),
): void {
  const heightPx = Math.max(1, Math.round((widthPx * sizeMm.height) / sizeMm.width));
  const needed = REST_BYTES + BYTES_PER_PX * widthPx * heightPx;
  if (needed <= limitBytes) return;
  const share = Math.sqrt(Math.max(0, limitBytes - REST_BYTES) / (needed - REST_BYTES));
  const fits = Math.floor(Math.max(widthPx, heightPx) * share);
  const gb = (bytes: number) => `${(bytes / GB).toFixed(1)} GB`;
  throw new Problem(
    409,
    'Too large for this machine',
    `Maps of ${widthPx} × ${heightPx} px of ${name} take about ${gb(needed)} of memory; this machine has ${gb(limitBytes)}. Its longer side can have up to ${fits} px here.`,
  );
}
