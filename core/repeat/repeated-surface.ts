import type { LaidPicture } from '../sources';
import type { MapRole } from '../sample';
import type { Pending, Surface } from '../surface';
import type { Solution } from './lay-pictures';
import type { RepeatPlan } from './plan';
import type { RepeatSource } from './solve/places';

/** A surface that was made a repeat. */
export interface RepeatedSurface extends Surface {
  plan: RepeatPlan;
  sources: readonly RepeatSource[];
  keptOut: number;
  solution: Pending<Solution>;
  /** Key under which what was solved is looked up another time; null: nothing had to be solved. */
  keptAs: string | null;
  /** Every map of the set by its role, as it is laid. */
  pictures: () => Promise<[MapRole, LaidPicture[]][]>;
}
