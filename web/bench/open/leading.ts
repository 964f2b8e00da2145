import { leadGeometry, leadingPicture, repeatGeometry, type Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Sample } from '../../app/api';

/** The picture that leads the repeat of a finish, and the repeat that is planned from it; null: it cannot be found. */
export interface Leading {
  source: PictureSource | undefined;
  sample: Sample | undefined;
  geometry: SampleGeometry | null;
  plan: ReturnType<typeof repeatGeometry> | null;
}

/** What there is, or why there is none: the size of a sample stands while its repeat is refused. */
export function orFault<T>(work: () => T): { value: T | null; fault: string } {
  try {
    return { value: work(), fault: '' };
  } catch (error) {
    return { value: null, fault: (error as Error).message };
  }
}

/** The picture that leads the repeat of a recipe; what cannot be found is null. */
export function leadingOf(recipe: Recipe, samples: readonly Sample[]): Leading {
  const source = leadingPicture(recipe);
  const sample = samples.find((s) => s.id === source?.sampleId);
  if (!sample) return { source, sample, geometry: null, plan: null };
  return {
    source,
    sample,
    geometry: orFault(() => leadGeometry(recipe, sample)).value,
    plan: orFault(() => repeatGeometry(recipe, sample)).value,
  };
}
