import { useState } from 'react';
import { Checkbox, CheckboxGroup } from 'react-aria-components';
import { Link } from 'react-router';
import styled from 'styled-components';
import { printArea, printNumber } from '@jossel/core/units';
import { api, sentenceOf, swatchUrl, type Handover } from '../app/api';
import { Button, Page, PageHead, Progress, Quiet, Row, Sentence } from '../controls/basics';
import { Tick } from '../controls/amounts';
import { Choice } from '../controls/choice';

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(300px, 380px) minmax(0, 1fr);
  gap: 32px;
  align-items: start;
`;
const List = styled(CheckboxGroup)`
  display: grid;
  gap: 1px;
  margin: 8px 0 14px;
`;
const Pick = styled(Checkbox)`
  display: grid;
  grid-template-columns: 16px 44px minmax(0, 1fr) auto;
  gap: 9px;
  align-items: center;
  padding: 5px 6px;
  cursor: pointer;
  border: 1px solid transparent;
  .box {
    width: 14px;
    height: 14px;
    border: 1px solid ${({ theme }) => theme.strong};
    background: ${({ theme }) => theme.field};
    display: grid;
    place-items: center;
  }
  &[data-selected] .box {
    background: ${({ theme }) => theme.mark};
    border-color: ${({ theme }) => theme.mark};
  }
  &[data-selected] .box::after {
    content: '';
    width: 8px;
    height: 4px;
    border: solid #fff;
    border-width: 0 0 1.6px 1.6px;
    transform: rotate(-45deg) translate(0.5px, -1px);
  }
  &[data-hovered] {
    border-color: ${({ theme }) => theme.line};
  }
  img {
    width: 44px;
    height: 30px;
    object-fit: cover;
    display: block;
  }
`;
const Package = styled.li`
  display: grid;
  gap: 5px;
  padding: 11px 0;
  border-bottom: 1px solid ${({ theme }) => theme.line};
`;

/** Packages given to receivers, and the queue they are made in. */
export function Handovers() {
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const [polling, setPolling] = useState(0);
  const { data, error } = api.useHandoversQuery(undefined, {
    pollingInterval: polling,
    refetchOnMountOrArgChange: true,
  });
  const [order, ordering] = api.useOrderHandoverMutation();
  const [chosen, setChosen] = useState<string[]>([]);
  const [profile, setProfile] = useState('general-2048');
  const [colourways, setColourways] = useState(false);
  const open = data?.items.some((h) => h.state === 'waiting' || h.state === 'running') ?? false;
  if ((open ? 700 : 0) !== polling) setPolling(open ? 700 : 0);
  const issued = (finishes?.items ?? []).filter((f) => f.revisions.length > 0);
  return (
    <Page>
      <PageHead>
        <h1>Handovers</h1>
        <Quiet>
          A package holds every map, a glTF panel of the true repeat size and a manifest with the basis of
          each figure.
        </Quiet>
      </PageHead>
      <Columns>
        <section aria-label="New handover">
          <h2>Hand over</h2>
          {finishes && issued.length === 0 && (
            <p>No finish is issued yet. Issue a revision on the Bench of a finish, under Revision.</p>
          )}
          <List aria-label="Finishes" value={chosen} onChange={setChosen}>
            {issued.map((f) => (
              <Pick key={f.id} value={f.id} isDisabled={f.state === 'withdrawn'}>
                <span className="box" />
                <img src={swatchUrl(f.id, '', 256, f.revisions.at(-1))} alt="" loading="lazy" />
                <span style={{ minWidth: 0 }}>{f.name}</span>
                <Quiet>{f.state === 'withdrawn' ? 'withdrawn' : `rev. ${f.revisions.at(-1)}`}</Quiet>
              </Pick>
            ))}
          </List>
          <Row>
            <Choice
              label="Profile"
              value={profile}
              options={(data?.profiles ?? []).map((p) => ({ value: p.id, name: p.name }))}
              onChange={setProfile}
            />
          </Row>
          <div style={{ marginTop: 10 }}>
            <Tick name="Each with its colourways" value={colourways} onChange={setColourways} />
          </div>
          <Row style={{ marginTop: 12 }}>
            <Button
              weight="main"
              isDisabled={chosen.length === 0 || ordering.isLoading}
              onPress={() =>
                void order({ items: chosen.map((finishId) => ({ finishId })), profile, colourways })
                  .unwrap()
                  .then(
                    () => setChosen([]),
                    () => undefined,
                  )
              }
            >
              Make the package
            </Button>
          </Row>
          {ordering.error && <Sentence style={{ marginTop: 10 }}>{sentenceOf(ordering.error)}</Sentence>}
        </section>
        <section aria-label="Packages">
          <h2>Packages</h2>
          {error && <Sentence>{sentenceOf(error)}</Sentence>}
          {data?.items.length === 0 && <Quiet>None yet. Choose finishes on the left.</Quiet>}
          <ul style={{ listStyle: 'none', padding: 0, margin: '6px 0 0' }}>
            {data?.items.map((h) => (
              <PackageItem
                key={h.id}
                handover={h}
                profileName={data.profiles.find((p) => p.id === h.profile)?.name ?? h.profile}
              />
            ))}
          </ul>
        </section>
      </Columns>
    </Page>
  );
}

const STATE_WORDS: Record<Handover['state'], string> = {
  waiting: 'waiting',
  running: 'being made',
  done: 'ready',
  failed: 'failed',
  stopped: 'stopped',
};
const dated = (iso: string) =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  });

function PackageItem({ handover, profileName }: { handover: Handover; profileName: string }) {
  const [stop] = api.useStopHandoverMutation();
  const busy = handover.state === 'waiting' || handover.state === 'running';
  return (
    <Package aria-label={`Package of ${handover.items.map((i) => i.name).join(', ')}`}>
      <Row>
        <strong>
          {handover.items.map((i, k) => (
            <span key={`${i.finishId} ${i.way?.id ?? ''}`}>
              {k > 0 && ', '}
              <Link to={`/bench/${i.finishId}`}>{i.name}</Link>
              {i.way ? `, ${i.way.name}` : ''} {i.revision}
            </span>
          ))}
        </strong>
        <Quiet>{STATE_WORDS[handover.state]}</Quiet>
        {handover.file && (
          <a href={handover.file.url} download={handover.file.fileName}>
            {handover.file.fileName} ({printNumber(handover.file.bytes / 1024 / 1024, 1)} MB)
          </a>
        )}
        {busy && (
          <Button weight="plain" onPress={() => void stop(handover.id)}>
            Stop
          </Button>
        )}
      </Row>
      {busy && (
        <Row>
          <Progress label="Package" value={handover.progress} />
          <Quiet>{handover.step}</Quiet>
        </Row>
      )}
      {handover.error && <Sentence>{handover.error}</Sentence>}
      <Quiet>
        {profileName}, {dated(handover.createdAt)}
        {handover.manifest &&
          ` · ${handover.manifest.finishes.map((f) => `${printArea(f.repeatMm)}, ${f.files.length} files`).join('; ')}`}
      </Quiet>
    </Package>
  );
}
