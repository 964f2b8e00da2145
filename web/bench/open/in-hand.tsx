import { useMemo } from 'react';
import { namedSamples, type Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import { api, type Finish, type Sample } from '../../app/api';
import { geometryOf, usePictureInHand } from '../picture-in-hand';
import { concern } from './concern';
import { leadingOf, orFault, type Leading } from './leading';

/** The finish that is open, as it is edited, and the pictures it is made from. */
export interface InHand {
  finish: Finish;
  recipe: Recipe;
  samples: readonly Sample[];
  /** The picture that is worked on; none: the finish is generated, or has no sample yet. */
  source: PictureSource | undefined;
  sample: Sample | undefined;
  /** Frame and size of that picture; null: there is no picture, or they cannot be found. */
  geometry: SampleGeometry | null;
  /** Why they cannot be found; empty: they can, or there is no picture. */
  fault: string;
  /** The picture that leads the repeat, and the repeat that is planned from it. */
  leading: Leading;
}

const [Provider, use] = concern<InHand>('pictures');
export const useInHand = use;

export function InHandProvider({
  finish,
  recipe,
  children,
}: {
  finish: Finish;
  recipe: Recipe;
  children: React.ReactNode;
}) {
  const samples = useSamplesOf(finish, recipe);
  const source = usePictureInHand(recipe);
  const value = useMemo(() => {
    const sample = samples.find((s) => s.id === source?.sampleId);
    const worked = source && sample ? orFault(() => geometryOf(recipe, source, samples)) : NOTHING;
    const leading = leadingOf(recipe, samples);
    return { finish, recipe, samples, source, sample, geometry: worked.value, fault: worked.fault, leading };
  }, [finish, recipe, samples, source]);
  return <Provider value={value}>{children}</Provider>;
}

const NOTHING = { value: null, fault: '' };

/** The pictures of a finish, with those that were added since it was opened. */
function useSamplesOf(finish: Finish, recipe: Recipe): readonly Sample[] {
  const ids = useMemo(() => namedSamples(recipe), [recipe]);
  const missing = ids.some((id) => !finish.samples.some((s) => s.id === id));
  const { data } = api.useSamplesQuery(undefined, { skip: !missing });
  return useMemo(() => {
    if (!missing) return finish.samples;
    const added = (data?.items ?? []).filter(
      ({ id }) => ids.includes(id) && !finish.samples.some((o) => o.id === id),
    );
    return [...finish.samples, ...added];
  }, [finish.samples, data, missing, ids]);
}
