import { useMemo, useState } from 'react';
import type { ResponseSettings } from '@jossel/core/response';
import { api, sentenceOf, type Finish, type Sample } from '../../../app/api';
import { Sentence } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { distinctNames } from '../../../projects/distinct-names';
import { drawOther } from '../../draw-other';

const AS_VARIED = 'varied';

/** Another finish whose gloss is spread as this one's should be. */
export function SpreadLikeChoice({
  finishId,
  response: { spreadLike },
  change,
}: {
  finishId: string;
  response: ResponseSettings;
  change: (what: string, next: Partial<ResponseSettings>) => void;
}) {
  const { data: finishes } = api.useFinishesQuery({});
  const { data: samples } = api.useSamplesQuery();
  const [read] = api.useLazyFinishQuery();
  const [said, setSaid] = useState('');
  const others = useMemo(
    () => [...distinctNames((finishes?.items ?? []).filter(({ id }) => id !== finishId))],
    [finishes, finishId],
  );
  const kept = spreadLike?.finishId ?? (spreadLike ? 'kept' : AS_VARIED);
  const options = [
    { value: AS_VARIED, name: 'as the variations give it' },
    ...others.map(([id, name]) => ({ value: id, name: `as ${name}` })),
    // What it was read from may be gone; the spread stays.
    ...(spreadLike && !others.some(([id]) => id === kept)
      ? [{ value: kept, name: `as ${spreadLike.name}` }]
      : []),
  ];
  async function take(id: string) {
    setSaid('');
    if (id === AS_VARIED) return change('gloss spread', { spreadLike: undefined });
    setSaid('Reading its gloss …');
    try {
      const finish = await read(id).unwrap();
      const quantilesGu = await glossQuantilesOf(finish, samples?.items ?? []);
      setSaid(quantilesGu ? '' : `The gloss of ${finish.name} is the same everywhere.`);
      if (quantilesGu)
        change('gloss spread', { spreadLike: { name: finish.name, finishId: id, quantilesGu } });
    } catch (error) {
      setSaid(error instanceof Error ? error.message : sentenceOf(error));
    }
  }
  return (
    <>
      <Choice label="Spread" value={kept} options={options} onChange={(id) => void take(id)} />
      {said && <Sentence>{said}</Sentence>}
    </>
  );
}

/** How the gloss of a finish is spread; null: it is the same everywhere. */
async function glossQuantilesOf(
  { name, category, draft: { recipe } }: Finish,
  samples: readonly Sample[],
): Promise<number[] | null> {
  const drawn = await drawOther({ name, recipe, way: null, category }, samples);
  return drawn?.report.glossSpread?.quantilesGu ?? null;
}
