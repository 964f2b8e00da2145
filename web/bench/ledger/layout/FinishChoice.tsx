import { useState } from 'react';
import type { LaidFinish } from '@jossel/core/layout';
import { api } from '../../../app/api';
import { Button, Quiet, Row, Sentence } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { distinctNames } from '../../../projects/distinct-names';

const NONE = 'none';

/** Another finish at its newest revision, kept as it is now; a newer one is offered when there is one. */
export function FinishChoice({
  label,
  finishId,
  value,
  onChange,
}: {
  label: string;
  /** The finish in hand, which cannot be laid of itself. */
  finishId: string;
  value: LaidFinish | null;
  onChange: (finish: LaidFinish | null) => void;
}) {
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const [read] = api.useLazyRevisionQuery();
  const [fault, setFault] = useState('');
  const issued = (finishes?.items ?? []).filter((f) => f.id !== finishId && f.revisions.length > 0);
  const chosen = issued.find((f) => f.id === value?.finishId);
  const newest = chosen?.revisions.at(-1);
  const usable = issued.filter((f) => f.state !== 'withdrawn' || f.id === value?.finishId);
  const options = [
    { value: NONE, name: 'no other finish' },
    ...[...distinctNames(usable)].map(([id, name]) => ({ value: id, name })),
    // One that was removed since stays, as it was.
    ...(value && finishes && !chosen ? [{ value: value.finishId, name: `${value.name} (removed)` }] : []),
  ];

  async function take(id: string) {
    setFault('');
    const finish = issued.find((f) => f.id === id);
    if (!finish) return onChange(null);
    const letter = finish.revisions.at(-1)!;
    try {
      const { recipe, versions } = await read({ id, letter }).unwrap();
      onChange({ finishId: id, letter, name: finish.name, recipe, versions });
    } catch {
      setFault(`Revision ${letter} of ${finish.name} cannot be read now. Try again.`);
    }
  }

  return (
    <>
      <Choice
        label={label}
        value={value?.finishId ?? NONE}
        options={options}
        onChange={(id) => void take(id)}
      />
      {value && (
        <Row>
          <Quiet>
            Revision {value.letter}
            {chosen?.state === 'withdrawn' && ', withdrawn since'}
            {finishes && !chosen && ', not in the rack any more'}
          </Quiet>
          {newest && newest !== value.letter && (
            <Button onPress={() => void take(value.finishId)}>Use revision {newest}</Button>
          )}
        </Row>
      )}
      {fault && <Sentence role="alert">{fault}</Sentence>}
    </>
  );
}
