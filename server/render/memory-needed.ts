import { totalmem } from 'node:os';

/** Memory that a set of maps takes, measured at 8192 px with all of Jossel: 87 bytes for each pixel of a plaster, 105 of a laid floor. */
const BYTES_PER_PX = 110;
/** What server, worker and database take besides. */
const REST_BYTES = 0.5e9;
const GB = 1e9;

/** Memory of this machine, or of the part of it that this process may use. */
const memoryBytes = (): number => Math.min(totalmem(), process.constrainedMemory() || Infinity);

interface Px {
  width: number;
  height: number;
}

/**
 * Memory that computing a set of maps takes with all of Jossel.
 * @param workBytes what the computation is estimated to hold; more than usual where faces of pieces are larger than what is laid of them
 */
export const memoryNeeded = ({ width, height }: Px, workBytes: number): number =>
  REST_BYTES + Math.max(BYTES_PER_PX * width * height, workBytes);

/**
 * Why a set of maps does not fit into memory; null: it does. Begun all the same, it would end the process that computes it.
 * @param name of the finish
 * @returns a sentence that says how many pixels do fit
 */
export function tooLargeForMemory(
  name: string,
  px: Px,
  workBytes: number,
  limitBytes = memoryBytes(),
): string | null {
  const needed = memoryNeeded(px, workBytes);
  if (needed <= limitBytes) return null;
  // Faces have as many pixels to a millimetre as what is laid of them, so all of it grows with the pixels of the set.
  const share = Math.sqrt(Math.max(0, limitBytes - REST_BYTES) / (needed - REST_BYTES));
  const fits = Math.floor(Math.max(px.width, px.height) * share);
  const gb = (bytes: number) => `${(bytes / GB).toFixed(1)} GB`;
  return `Maps of ${px.width} × ${px.height} px of ${name} take about ${gb(needed)} of memory; this machine has ${gb(limitBytes)}. Its longer side can have up to ${fits} px here.`;
}
