import { useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useNavigate } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES, CATEGORY_IDS, type PublishedSheet } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { api, type Sample } from '../app/api';
import { Fault } from '../app/Fault';
import { benchSlice } from '../bench/bench-slice';
import { Tick } from '../controls/amounts';
import { Button, Quiet, Row } from '../controls/basics';
import { Choice } from '../controls/choice';
import { Field, TextBox, TextLine } from '../controls/fields';
import { BasisMark } from '../controls/marks';
import { ORIGIN_FIELDS } from '../samples/origin';
import { ReportPictures } from '../samples/report';
import { likelyCategory, type Wish } from './likely';

const Item = styled.li`
  display: grid;
  grid-template-columns: 248px minmax(0, 1fr) 190px;
  gap: 16px;
  padding: 12px;
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.line};
  ul {
    margin: 4px 0 0;
    padding-left: 16px;
  }
`;
const OriginGrid = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 10px;
  margin-top: 8px;
`;

const CAME: Record<Sample['cameFrom'], string> = {
  file: 'came as a file',
  supplier: 'fetched from the supplier',
  'capture bench': 'taken on the capture bench',
  'light set': 'measured from a light set',
};

function sheetWords(s: PublishedSheet): string {
  return [
    s.widthMm && s.heightMm ? `${printNumber(s.widthMm)} × ${printNumber(s.heightMm)} mm` : '',
    s.jointMm ? `joint ${printNumber(s.jointMm)} mm` : '',
    s.thicknessMm ? `${printNumber(s.thicknessMm)} mm thick` : '',
    s.lrv !== undefined ? `LRV ${printNumber(s.lrv)}` : '',
    s.lab ? `Lab ${s.lab.map((v) => printNumber(v)).join(', ')}` : '',
    s.glossGu !== undefined ? `${printNumber(s.glossGu)} GU` : '',
    s.reliefMm !== undefined ? `relief ${printNumber(s.reliefMm)} mm` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** Finishes that use the sample. */
function UsedIn({ sample: { usedIn = [] } }: { sample: Sample }) {
  if (usedIn.length === 0) return null;
  return (
    <Quiet>
      used in{' '}
      {usedIn.map((f, k) => (
        <span key={f.id}>
          {k > 0 && ', '}
          <Link to={`/bench/${f.id}`}>{f.name}</Link>
        </span>
      ))}
    </Quiet>
  );
}

/** One sample that came in: where from, what it is good for, and what is made of it. */
export function SampleItem({
  sample,
  wish,
  onWish,
  isChosen,
  onChosen,
}: {
  sample: Sample;
  /** What is made of it. */
  wish: Wish;
  onWish: (wish: Wish) => void;
  /** Chosen with others, to be made finishes or one set of maps at once. */
  isChosen: boolean;
  onChosen: (on: boolean) => void;
}) {
  const [create, creation] = api.useCreateFinishMutation();
  const [correct, correction] = api.useCorrectOriginMutation();
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const dispatch = useDispatch();
  const [remove, removal] = api.useRemoveSampleMutation();
  const [restore, restoring] = api.useRestoreSampleMutation();
  const fault = creation.error ?? correction.error ?? removal.error ?? restoring.error;
  const sheet = sheetWords(sample.sheet);
  const likely = likelyCategory(sample);
  return (
    <Item aria-label={sample.fileName}>
      <ReportPictures sample={sample} />
      <div style={{ minWidth: 0 }}>
        <h2 style={{ overflowWrap: 'anywhere' }}>{sample.fileName}</h2>
        <Quiet>
          {sample.widthPx} × {sample.heightPx} px, {sample.bitDepth} bit, {sample.profile},{' '}
          {CAME[sample.cameFrom]}
        </Quiet>
        <ul>
          {sample.report.sentences.map((s) => (
            <li key={s}>{s}</li>
          ))}
          {!sample.origin.permission && <li>No permission to use is noted; it cannot be handed over yet.</li>}
        </ul>
        {sheet && (
          <p style={{ marginTop: 4 }}>
            <BasisMark basis="published" /> {sheet}
          </p>
        )}
        <Row style={{ marginTop: 4 }}>
          <Quiet>
            {[sample.origin.supplier, sample.origin.line, sample.origin.code].filter(Boolean).join(', ') ||
              'origin not noted'}
          </Quiet>
          <UsedIn sample={sample} />
        </Row>
        <Row style={{ marginLeft: -11 }}>
          <Button weight="quiet" onPress={() => setOpen(!open)} aria-expanded={open}>
            {open ? 'Close' : 'Correct origin'}
          </Button>
          {!sample.removedAt && (sample.usedIn ?? []).length === 0 && (
            <Button
              weight="quiet"
              isDisabled={removal.isLoading}
              onPress={() => void remove(sample.id)}
              aria-label={`Move ${sample.fileName} to the bin`}
            >
              Move to the bin
            </Button>
          )}
        </Row>
        {open && (
          <OriginGrid>
            {ORIGIN_FIELDS.map(([key, label]) => (
              <Field key={key}>
                <label htmlFor={`${sample.id}-${key}`}>{label}</label>
                <TextLine
                  id={`${sample.id}-${key}`}
                  value={sample.origin[key]}
                  onChange={(value) => void correct({ id: sample.id, origin: { [key]: value } })}
                />
              </Field>
            ))}
          </OriginGrid>
        )}
        <Fault error={fault} />
      </div>
      {sample.removedAt ? (
        <div>
          <Button onPress={() => void restore(sample.id)} aria-label={`Restore ${sample.fileName}`}>
            Restore
          </Button>
        </div>
      ) : (
        <div style={{ display: 'grid', gap: 7, alignContent: 'start' }}>
          <Field>
            <label htmlFor={`${sample.id}-name`}>Name of the finish</label>
            <TextBox
              id={`${sample.id}-name`}
              value={wish.name}
              onChange={(e) => onWish({ ...wish, name: e.target.value })}
            />
          </Field>
          <Choice
            label="Category"
            value={wish.category}
            options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
            onChange={(category) => onWish({ ...wish, category })}
          />
          {likely.shows && likely.category === wish.category && (
            <Quiet>guessed: the picture shows {likely.shows}</Quiet>
          )}
          <Button
            isDisabled={creation.isLoading}
            onPress={() => {
              void create({ ...wish, sampleIds: [sample.id] })
                .unwrap()
                .then(
                  (finish) => {
                    // A picture of a sample is straightened first.
                    dispatch(
                      benchSlice.actions.changed({
                        section: 'sample',
                        tool: sample.cameFrom === 'file' ? 'report' : 'frame',
                      }),
                    );
                    void navigate(`/bench/${finish.id}`);
                  },
                  () => undefined,
                );
            }}
          >
            {creation.isLoading ? 'Making it …' : 'Make a finish'}
          </Button>
          <Tick name="Choose with others" value={isChosen} onChange={onChosen} />
        </div>
      )}
    </Item>
  );
}
