import type { Recipe } from '@jossel/core/finish';
import type { Sample } from '../../../app/api';
import { useAppDispatch } from '../../../app/store';
import { Choice } from '../../../controls/choice';
import { benchSlice } from '../../bench-slice';

/** Which of several pictures is worked on; nothing where there is only one. */
export function PictureChoice({
  recipe,
  samples,
  value,
}: {
  recipe: Recipe;
  samples: readonly Sample[];
  /** Id of the source in hand. */
  value: string;
}) {
  const dispatch = useAppDispatch();
  const { sources, repeat } = recipe;
  if (sources.length < 2) return null;
  const nameOf = (sampleId: string) => samples.find((s) => s.id === sampleId)?.fileName ?? 'a picture';
  const roleOf = (id: string) =>
    repeat.from[0]?.source === id
      ? ', leads the repeat'
      : repeat.from.some((place) => place.source === id)
        ? ''
        : ', not in the repeat';
  return (
    <Choice
      label="Picture"
      value={value}
      options={sources.map((s, k) => ({
        value: s.id,
        name: `${k + 1}: ${nameOf(s.sampleId)}${roleOf(s.id)}`,
      }))}
      onChange={(sourceId) =>
        dispatch(benchSlice.actions.changed({ sourceId, selected: null, drawing: null, dropper: null }))
      }
    />
  );
}
