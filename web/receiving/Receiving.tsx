import { useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { DropZone, FileTrigger, Text, type FileDropItem } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES, CATEGORY_IDS, type Category } from '@jossel/core/finish';
import { api, sentenceOf, type Origin, type Sample } from '../app/api';
import { Button, Page, PageHead, Progress, Quiet, Row, Sentence } from '../controls/basics';
import { Choice } from '../controls/choice';
import { Field, TextBox, TextLine } from '../controls/fields';
import { sendSample } from './send-sample';

const Columns = styled.div`
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  gap: 28px;
  align-items: start;
`;
const Zone = styled(DropZone)`
  border: 1px dashed ${({ theme }) => theme.strong};
  background: ${({ theme }) => theme.sheet};
  padding: 22px 18px;
  display: grid;
  gap: 10px;
  justify-items: start;
  &[data-drop-target] {
    border: 2px solid ${({ theme }) => theme.mark};
    padding: 21px 17px;
  }
`;
const Arrived = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 14px;
`;
const Item = styled.li`
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) 200px;
  gap: 16px;
  padding: 12px;
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.line};
  img {
    width: 168px;
    height: 126px;
    object-fit: contain;
    background: #919191;
    display: block;
  }
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

const ORIGIN_FIELDS: readonly [keyof Origin, string][] = [
  ['supplier', 'Supplier'],
  ['line', 'Line'],
  ['code', 'Code'],
  ['batch', 'Batch'],
  ['permission', 'Permission to use'],
  ['note', 'Note'],
];

interface Sending {
  key: number;
  name: string;
  progress: number;
  fault: string;
  stop: () => void;
}

/** New samples: files that are dropped or chosen, each looked at, reported on and made a finish with one action. */
export function Receiving() {
  const { data, error } = api.useSamplesQuery();
  const [origin, setOrigin] = useState<Partial<Origin>>({});
  const [sending, setSending] = useState<Sending[]>([]);
  const dispatch = useDispatch();
  const nextKey = useRef(1);

  async function send(files: File[]) {
    for (const file of files) {
      const key = nextKey.current++;
      const update = (change: Partial<Sending>) =>
        setSending((all) => all.map((s) => (s.key === key ? { ...s, ...change } : s)));
      const { done, stop } = sendSample(file, origin, (progress) => update({ progress }));
      setSending((all) => [...all, { key, name: file.name, progress: 0, fault: '', stop }]);
      try {
        await done;
        setSending((all) => all.filter((s) => s.key !== key));
        dispatch(api.util.invalidateTags(['Samples']) as never);
      } catch (fault) {
        update({ fault: (fault as Error).message });
      }
    }
  }

  return (
    <Page>
      <PageHead>
        <h1>Receiving</h1>
        <Quiet>Pictures as they arrive. The original is kept byte for byte and never changed.</Quiet>
      </PageHead>
      <Columns>
        <section aria-label="Bring in pictures" style={{ display: 'grid', gap: 14 }}>
          <Zone
            onDrop={(e) => {
              const files = e.items.filter((i): i is FileDropItem => i.kind === 'file');
              void Promise.all(files.map((f) => f.getFile())).then(send);
            }}
          >
            <Text slot="label">Drop pictures of samples here</Text>
            <FileTrigger
              allowsMultiple
              acceptedFileTypes={['image/png', 'image/jpeg', 'image/tiff', 'image/webp']}
              onSelect={(list) => list && void send([...list])}
            >
              <Button weight="main">Choose files</Button>
            </FileTrigger>
            <Quiet>PNG, JPEG, TIFF or WebP, 8 or 16 bit, up to 256 MiB and 200 million pixels each</Quiet>
          </Zone>
          <fieldset style={{ border: 0, padding: 0, margin: 0, display: 'grid', gap: 7 }}>
            <legend style={{ padding: 0, fontWeight: 650, marginBottom: 4 }}>Where they come from</legend>
            <Quiet>Goes with the next pictures; can be corrected for each.</Quiet>
            {ORIGIN_FIELDS.map(([key, name]) => (
              <Field key={key}>
                <label htmlFor={`origin-${key}`}>{name}</label>
                <TextBox
                  id={`origin-${key}`}
                  value={origin[key] ?? ''}
                  onChange={(e) => setOrigin({ ...origin, [key]: e.target.value })}
                />
              </Field>
            ))}
          </fieldset>
        </section>
        <section aria-label="Samples">
          {sending.length > 0 && (
            <Arrived style={{ marginBottom: 14 }} aria-label="On their way">
              {sending.map((s) => (
                <li key={s.key}>
                  <Row>
                    <strong>{s.name}</strong>
                    {!s.fault && <Quiet>{s.progress < 1 ? 'arriving' : 'being looked at'}</Quiet>}
                    <Button
                      weight="quiet"
                      onPress={() => {
                        s.stop();
                        setSending((all) => all.filter((o) => o.key !== s.key));
                      }}
                    >
                      {s.fault ? 'Put away' : 'Stop'}
                    </Button>
                  </Row>
                  {s.fault ? (
                    <Sentence>{s.fault}</Sentence>
                  ) : (
                    <Progress label={`${s.name} arriving`} value={s.progress} />
                  )}
                </li>
              ))}
            </Arrived>
          )}
          {error && <Sentence>{sentenceOf(error)}</Sentence>}
          {data?.items.length === 0 && sending.length === 0 && <Quiet>Nothing has arrived yet.</Quiet>}
          <Arrived>
            {data?.items.map((sample) => (
              <SampleItem key={sample.id} sample={sample} />
            ))}
          </Arrived>
        </section>
      </Columns>
    </Page>
  );
}

function SampleItem({ sample }: { sample: Sample }) {
  const [create, creation] = api.useCreateFinishMutation();
  const [correct, correction] = api.useCorrectOriginMutation();
  const [category, setCategory] = useState<Category>('other');
  const [name, setName] = useState(() =>
    sample.fileName
      .replace(/\.[^.]+$/, '')
      .replace(/[-_]+/g, ' ')
      .replace(/^./, (c) => c.toUpperCase()),
  );
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const fault = creation.error ?? correction.error;
  return (
    <Item aria-label={sample.fileName}>
      <img src={`/api/samples/${sample.id}/preview.jpg`} alt={`Sample ${sample.fileName}`} loading="lazy" />
      <div style={{ minWidth: 0 }}>
        <h2 style={{ overflowWrap: 'anywhere' }}>{sample.fileName}</h2>
        <Quiet>
          {sample.widthPx} × {sample.heightPx} px, {sample.bitDepth} bit, {sample.profile}
        </Quiet>
        <ul>
          {sample.report.sentences.map((s) => (
            <li key={s}>{s}</li>
          ))}
          {!sample.origin.permission && <li>No permission to use is noted; it cannot be handed over yet.</li>}
        </ul>
        <Row style={{ marginTop: 4 }}>
          <Quiet>
            {[sample.origin.supplier, sample.origin.line, sample.origin.code].filter(Boolean).join(', ') ||
              'origin not noted'}
          </Quiet>
          <Button weight="quiet" onPress={() => setOpen(!open)} aria-expanded={open}>
            {open ? 'Close' : 'Correct origin'}
          </Button>
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
        {fault && <Sentence>{sentenceOf(fault)}</Sentence>}
      </div>
      <div style={{ display: 'grid', gap: 7, alignContent: 'start' }}>
        <Field>
          <label htmlFor={`${sample.id}-name`}>Name of the finish</label>
          <TextBox id={`${sample.id}-name`} value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Choice
          label="Category"
          value={category}
          options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
          onChange={setCategory}
        />
        <Button
          isDisabled={creation.isLoading}
          onPress={() => {
            void create({ name, category, sampleIds: [sample.id] })
              .unwrap()
              .then(
                (finish) => navigate(`/bench/${finish.id}`),
                () => undefined,
              );
          }}
        >
          Make a finish
        </Button>
      </div>
    </Item>
  );
}
