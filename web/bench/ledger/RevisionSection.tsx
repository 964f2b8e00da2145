import { CATEGORIES, CATEGORY_IDS, hasSource, type Recipe } from '@jossel/core/finish';
import { api, type Finish, type FinishState } from '../../app/api';
import { Fault } from '../../app/Fault';
import type { Check } from '@jossel/core/surface';
import { useHalfTyped } from '../../app/half-typed';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { benchSlice } from '../bench-slice';
import { DerivedBlock } from './DerivedBlock';
import { focusField, placeOf } from '../checks/places';
import type { OpenChecks } from '../checks/use-checks';
import type { DraftState } from '../draft-slice';
import { Button, OneOf, Quiet } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { Field, TextBox, TextLine } from '../../controls/fields';

const dated = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** Name, category, state, and the revisions that were issued. */
export function RevisionSection({
  finish,
  recipe,
  checks,
}: {
  finish: Finish;
  recipe: Recipe;
  checks: OpenChecks;
}) {
  const [issue, issuing] = api.useIssueMutation();
  const [rename, renaming] = api.useRenameFinishMutation();
  const saving = useAppSelector((s) => s.draft.saving);
  const etag = useAppSelector((s) => s.draft.etag);
  const [note, setNote] = useHalfTyped(`revision note ${finish.id}`);
  const last = finish.revisions.at(-1);
  const same = (last?.sameAsDraft ?? false) && saving === 'saved';
  const refused = whyNot(recipe, checks, saving);
  const of = { id: finish.id, detailsEtag: finish.detailsEtag };
  const fault = issuing.error ?? renaming.error;
  return (
    <>
      {recipe.derived && <DerivedBlock recipe={recipe} derived={recipe.derived} />}
      <Field>
        <label htmlFor="finish-name">Name</label>
        <TextLine id="finish-name" value={finish.name} onChange={(name) => void rename({ ...of, name })} />
      </Field>
      <Choice
        label="Category"
        value={finish.category}
        options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
        onChange={(category) => void rename({ ...of, category })}
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
          onChange={(state) => void rename({ ...of, state })}
        />
      </Field>
      <Field>
        <label htmlFor="revision-note">Note on the next revision</label>
        <TextBox id="revision-note" value={note} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <Readiness {...checks} />
      {same ? (
        <Quiet>
          Revision {last!.letter} is the same as the draft, issued {dated(last!.issuedAt)}. The next one can
          be issued once something is changed.
        </Quiet>
      ) : (
        <div>
          <Button
            weight="main"
            isDisabled={issuing.isLoading || refused !== ''}
            onPress={() =>
              void issue({ id: finish.id, note, etag })
                .unwrap()
                .then(
                  () => setNote(''),
                  () => undefined,
                )
            }
          >
            {issuing.isLoading ? 'Issuing …' : `Issue revision ${letterAfter(finish.revisions.length)}`}
          </Button>
          {refused && <Quiet style={{ display: 'block', marginTop: 4 }}>{refused}</Quiet>}
        </div>
      )}
      <Fault error={fault} />
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

/** Why the draft cannot be issued now; empty: it can. */
function whyNot(recipe: Recipe, { checks, sentence }: OpenChecks, saving: DraftState['saving']): string {
  if (!hasSource(recipe)) return 'There is no sample yet, so there is nothing to issue.';
  if (sentence) return `It cannot be issued as it is: ${sentence}`;
  if (saving === 'conflict') return 'Decide first which version of the draft stays.';
  if (saving === 'failed') return 'The draft is not saved yet; it can be issued once the server has it.';
  if (saving !== 'saved' || checks === null) return 'Saving …';
  return '';
}

/** One line on what is open before a revision is issued, and what then stands in the way of a handover. */
function Readiness({ checks, stale }: OpenChecks) {
  const dispatch = useAppDispatch();
  if (!checks || stale) return <Quiet role="status">Looking at what is open …</Quiet>;
  const count = (weight: Check['weight']) => checks.filter((c) => c.weight === weight).length;
  const [wrong, open] = [count('wrong'), count('open')];
  const permission = checks.find((c) => c.code.startsWith('permission-'));
  const first = checks[0];
  return (
    <section aria-label="Readiness" style={{ display: 'grid', gap: 4, justifyItems: 'start' }}>
      <p role="status">
        {first
          ? `${[wrong > 0 && `${wrong} wrong`, open > 0 && `${open} open`].filter(Boolean).join(', ')}; first: ${first.text}`
          : 'All checks hold: ready to issue and to hand over.'}
      </p>
      {first && (
        <Button
          onPress={() => {
            const { state, field } = placeOf(first);
            dispatch(benchSlice.actions.changed(state));
            focusField(field);
          }}
        >
          Go to it
        </Button>
      )}
      {permission && permission !== first && <Quiet>{permission.text}</Quiet>}
    </section>
  );
}

const letterAfter = (count: number): string =>
  count < 26
    ? String.fromCharCode(65 + count)
    : letterAfter(Math.floor(count / 26) - 1) + String.fromCharCode(65 + (count % 26));
