import { useState } from 'react';
import { Checkbox, CheckboxGroup } from 'react-aria-components';
import { useSearchParams } from 'react-router';
import styled from 'styled-components';
import { api, swatchUrl } from '../app/api';
import { Fault } from '../app/Fault';
import { Button, Page, PageHead, Quiet, Row } from '../controls/basics';
import { Tick } from '../controls/amounts';
import { Choice } from '../controls/choice';
import { NumberField, TextBox } from '../controls/fields';
import { PackageEstimate } from './PackageEstimate';
import { PackageItem } from './PackageItem';

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
/** What is ordered stays in view beside a long list. */
const Order = styled.div`
  position: sticky;
  top: -18px;
  z-index: 1;
  display: grid;
  gap: 8px;
  padding: 8px 0;
  background: ${({ theme }) => theme.page};
`;

/** Packages given to receivers, and the queue they are made in. */
export function Handovers() {
  const [polling, setPolling] = useState(0);
  const { data, error, refetch, isFetching } = api.useHandoversQuery(undefined, {
    pollingInterval: polling,
    refetchOnMountOrArgChange: true,
  });
  const open = data?.items.some((h) => h.state === 'waiting' || h.state === 'running') ?? false;
  if ((open ? 700 : 0) !== polling) setPolling(open ? 700 : 0);
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
        <NewHandover profiles={data?.profiles ?? []} />
        <section aria-label="Packages">
          <h2>Packages</h2>
          <Fault error={data ? null : error} retry={() => void refetch()} busy={isFetching} />
          {!data && !error && <Quiet role="status">Opening …</Quiet>}
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

/** Three edges of a mesh of 4 mm, mm. */
const USUAL_SPLIT_MM = 12;

/** More finishes than this are searched rather than looked through. */
const MANY = 8;

/** Finishes to hand over, and for whom. */
function NewHandover({ profiles }: { profiles: readonly { id: string; name: string }[] }) {
  const { data: finishes } = api.useFinishesQuery({ issued: true }, { refetchOnMountOrArgChange: true });
  const [order, ordering] = api.useOrderHandoverMutation();
  const [params] = useSearchParams();
  const [chosen, setChosen] = useState<string[]>(() => params.getAll('finish'));
  const [profile, setProfile] = useState('general-2048');
  const [colourways, setColourways] = useState(false);
  const [splitMm, setSplitMm] = useState(() => Number(params.get('split')) || null);
  const [words, setWords] = useState('');
  const wanted = {
    items: chosen.map((finishId) => ({ finishId })),
    profile,
    colourways,
    ...(splitMm ? { splitMm } : {}),
  };
  const issued = (finishes?.items ?? []).filter((f) => f.revisions.length > 0);
  const asked = words.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = issued.filter(
    (f) =>
      chosen.includes(f.id) ||
      asked.every((w) =>
        `${f.name} ${f.headline?.supplier ?? ''} ${f.headline?.code ?? ''}`.toLowerCase().includes(w),
      ),
  );
  return (
    <section aria-label="New handover">
      <h2>Hand over</h2>
      {finishes && issued.length === 0 && (
        <p>No finish is issued yet. Issue a revision on the Bench of a finish, under Revision.</p>
      )}
      <Order>
        <Row style={{ flexWrap: 'nowrap' }}>
          <Choice
            hideLabel
            label="Profile"
            value={profile}
            options={profiles.map((p) => ({ value: p.id, name: p.name }))}
            onChange={setProfile}
          />
          <Button
            weight="main"
            isDisabled={chosen.length === 0 || ordering.isLoading}
            onPress={() =>
              void order(wanted)
                .unwrap()
                .then(
                  () => setChosen([]),
                  () => undefined,
                )
            }
          >
            {chosen.length > 1 ? `Make a package of ${chosen.length}` : 'Make the package'}
          </Button>
        </Row>
        {chosen.length > 0 ? <PackageEstimate order={wanted} /> : <Quiet>Choose finishes below.</Quiet>}
        <Tick name="Each with its colourways" value={colourways} onChange={setColourways} />
        <Tick
          name="Relief for a displaced mesh"
          value={splitMm !== null}
          onChange={(on) => setSplitMm(on ? USUAL_SPLIT_MM : null)}
        />
        {splitMm !== null && (
          <>
            <NumberField
              label="The mesh takes waves longer than"
              unit="mm"
              value={splitMm}
              min={0.01}
              max={100000}
              onChange={setSplitMm}
            />
            <Quiet>Normals and occlusion hold what is shorter, so that nothing is there twice.</Quiet>
          </>
        )}
        <Fault error={ordering.error} />
        {issued.length > MANY && (
          <TextBox
            type="search"
            aria-label="Find among the issued finishes"
            placeholder="name, supplier or code"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
      </Order>
      <List aria-label="Finishes" value={chosen} onChange={setChosen}>
        {shown.map((f) => (
          <Pick key={f.id} value={f.id} isDisabled={f.state === 'withdrawn'}>
            <span className="box" />
            <img src={swatchUrl(f.id, '', 256, f.revisions.at(-1))} alt="" loading="lazy" />
            <span style={{ minWidth: 0, overflowWrap: 'anywhere' }}>{f.name}</span>
            <Quiet>{f.state === 'withdrawn' ? 'withdrawn' : `rev. ${f.revisions.at(-1)}`}</Quiet>
          </Pick>
        ))}
      </List>
    </section>
  );
}
