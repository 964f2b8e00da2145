import { finishSizeMm, neededSamples, type Recipe } from '@jossel/core/finish';
import { Problem } from '../problem';
import * as store from '../store';
import type { IssuedAs } from '../render/issued';
import { memoryNeeded, tooLargeForMemory } from '../render/memory-needed';
import type { Context } from './context';
import { shapeOf } from './recipes';
import { sampleBytes } from './samples';

/** What computing takes of this machine, before it begins. */

interface Px {
  width: number;
  height: number;
}

/** A finish whose maps are to be computed, and how large. */
export interface WantedMaps {
  name: string;
  recipe: Recipe;
  issued: IssuedAs | null;
  size: { widthPx: number } | { longSidePx: number };
}

export interface PlannedMaps {
  px: Px;
  repeatMm: Px;
  /** To compute them and write their files, on the machine of docs/measured.md; on the safe side. */
  seconds: number;
  /** Memory of all of Jossel meanwhile. */
  bytes: number;
  /** Why they do not fit into the memory of this machine; null: they do. */
  tooLarge: string | null;
}

/** Writing a million pixels of all maps into files, s. */
const WRITING_SECONDS = 0.3;

/** How many pixels the maps of a finish have, and what computing them takes. */
export async function planMaps(
  context: Context,
  { name, recipe, issued, size }: WantedMaps,
  stopped?: AbortSignal,
): Promise<PlannedMaps> {
  const { database, pool } = context;
  const rows = await store.withRetry(() => store.getSamples(database, neededSamples(recipe)));
  const repeatMm = finishSizeMm(recipe, rows[0] && shapeOf(rows[0]));
  const px = pxOf(repeatMm, size);
  const pictures = rows.map((row) => ({ id: row.id, sha256: row.sha256, ...shapeOf(row) }));
  const order = { recipe, issued, widthPx: px.width };
  const work =
    (await pool.estimate({ ...order, pictures }, stopped)) ??
    (await pool.estimate(
      { ...order, pictures: await store.withRetry(() => sampleBytes(context, neededSamples(recipe))) },
      stopped,
    ));
  if (!work) throw new Error(`What ${name} takes cannot be estimated.`);
  return {
    px,
    repeatMm,
    seconds: work.seconds + (WRITING_SECONDS * px.width * px.height) / 1e6,
    bytes: memoryNeeded(px, work.bytes),
    tooLarge: tooLargeForMemory(name, px, work.bytes),
  };
}

function pxOf(repeatMm: Px, size: WantedMaps['size']): Px {
  const width =
    'widthPx' in size
      ? size.widthPx
      : Math.max(1, Math.round(size.longSidePx * Math.min(1, repeatMm.width / repeatMm.height)));
  return { width, height: Math.max(1, Math.round((width * repeatMm.height) / repeatMm.width)) };
}

/** The same for maps that are about to be computed. @throws Problem where they do not fit into memory */
export async function planFittingMaps(
  context: Context,
  wanted: WantedMaps,
  stopped: AbortSignal,
): Promise<PlannedMaps> {
  const planned = await planMaps(context, wanted, stopped);
  if (planned.tooLarge) throw new Problem(409, 'Too large for this machine', planned.tooLarge);
  return planned;
}

/** What a package will take. */
export interface PackageEstimate {
  /** About how long it will take here once it is begun. */
  seconds: number;
  /** Memory of all of Jossel at most; finishes are computed one after another. */
  bytes: number;
  /** How many sets of maps it will hold: colourways have their own. */
  sets: number;
  /** Why it would fail; null: it fits. */
  tooLarge: string | null;
}

/**
 * Estimates a package whose sets of maps are computed one after another.
 * @param wanted every finish once, with how many sets of it: its own and those of its colourways
 */
export async function estimatePackage(
  context: Context,
  wanted: readonly (WantedMaps & { sets: number })[],
): Promise<PackageEstimate> {
  const whole: PackageEstimate = { seconds: 0, bytes: 0, sets: 0, tooLarge: null };
  // One after another: the pictures of many finishes at once would fill the memory.
  for (const { sets, ...maps } of wanted) {
    const { seconds, bytes, tooLarge } = await planMaps(context, maps);
    whole.seconds += sets * seconds;
    whole.bytes = Math.max(whole.bytes, bytes);
    whole.sets += sets;
    whole.tooLarge ??= tooLarge;
  }
  return { ...whole, seconds: (await paceOf(context)) * whole.seconds };
}

/** What packages took of their estimates on the machine of docs/measured.md. */
const USUAL_PACE = 0.6;
/** So many of the last packages tell how fast this machine is. */
const PACKAGES_LOOKED_AT = 9;

/** How long packages took here beside what was estimated for them; large ones tell more, as small ones mostly wait for threads to start. */
async function paceOf({ database }: Context): Promise<number> {
  const last = await store.lastDurations(database, PACKAGES_LOOKED_AT);
  const sum = (of: 'seconds' | 'estimated') => last.reduce((all, duration) => all + duration[of], 0);
  return last.length > 0 ? sum('seconds') / sum('estimated') : USUAL_PACE;
}
