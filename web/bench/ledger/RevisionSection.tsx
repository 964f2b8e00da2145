import { useState } from 'react';
import { CATEGORIES, CATEGORY_IDS } from '@jossel/core/finish';
import { api, sentenceOf, type Finish, type FinishState } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { Button, OneOf, Quiet, Sentence } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { Field, TextBox, TextLine } from '../../controls/fields';

const dated = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** Name, category, state, and the revisions that were issued. */
export function RevisionSection({ finish }: { finish: Finish }) {
  const [issue, issuing] = api.useIssueMutation();
  const [rename, renaming] = api.useRenameFinishMutation();
  const saving = useAppSelector((s) => s.draft.saving);
  const [note, setNote] = useState('');
  const next = finish.revisions.at(-1)?.sameAsDraft ?? false;
  const fault = issuing.error ?? renaming.error;
  return (
    <>
      <Field>
        <label htmlFor="finish-name">Name</label>
        <TextLine
          id="finish-name"
          value={finish.name}
          onChange={(name) => void rename({ id: finish.id, name })}
        />
      </Field>
      <Choice
        label="Category"
        value={finish.category}
        options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
        onChange={(category) => void rename({ id: finish.id, category })}
      />
      <Field>
        <label>State</label>
        <OneOf<FinishState>
          label="State"
          value={finish.state}
          options={(['draft', 'checked', 'issued', 'withdrawn'] as const).map((value) => ({
            value,
            name: value,
          }))}
          onChange={(state) => void rename({ id: finish.id, state })}
        />
      </Field>
      <Field>
        <label htmlFor="revision-note">Note on the next revision</label>
        <TextBox id="revision-note" value={note} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <div>
        <Button
          weight="main"
          isDisabled={issuing.isLoading || saving !== 'saved'}
          onPress={() =>
            void issue({ id: finish.id, note })
              .unwrap()
              .then(
                () => setNote(''),
                () => undefined,
              )
          }
        >
          Issue revision {letterAfter(finish.revisions.length)}
        </Button>
      </div>
      {next && <Quiet>Revision {finish.revisions.at(-1)!.letter} is the same as the draft.</Quiet>}
      {fault && <Sentence>{sentenceOf(fault)}</Sentence>}
      <ol style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 6 }}>
        {[...finish.revisions].reverse().map((r) => (
          <li key={r.letter}>
            <strong>{r.letter}</strong> <Quiet>{dated(r.issuedAt)}</Quiet> {r.note}
          </li>
        ))}
      </ol>
    </>
  );
}

const letterAfter = (count: number): string =>
  count < 26
    ? String.fromCharCode(65 + count)
    : letterAfter(Math.floor(count / 26) - 1) + String.fromCharCode(65 + (count % 26));
