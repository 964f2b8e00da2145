import { useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { roleByName } from '@jossel/core/sample';
import { api, type Origin, type Sample } from '../app/api';
import { Fault } from '../app/Fault';
import { settingsSlice } from '../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../app/store';
import {
  Button,
  MoreOfList,
  OneOf,
  Page,
  PageHead,
  Progress,
  Quiet,
  Row,
  Sentence,
} from '../controls/basics';
import { FromCapture } from './FromCapture';
import { FromLightSet } from './FromLightSet';
import { FromFiles } from './FromFiles';
import { FromSupplier } from './FromSupplier';
import { wishFor, type Wish } from './likely';
import { likelySets, MapSet } from './MapSet';
import { SampleItem } from './SampleItem';
import { sendSample } from './send-sample';

const Columns = styled.div`
  display: grid;
  grid-template-columns: 400px minmax(0, 1fr);
  gap: 28px;
  align-items: start;
`;
const Arrived = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 14px;
`;

const WAYS = [
  { value: 'files', name: 'files' },
  { value: 'supplier', name: 'supplier' },
  { value: 'capture', name: 'capture bench' },
  { value: 'lights', name: 'light set' },
] as const;

interface Sending {
  key: number;
  name: string;
  progress: number;
  fault: string;
  stop: () => void;
}

/** New samples: from files, a supplier or the capture bench; each looked at, reported on and made a finish with one action. */
export function Receiving() {
  const [params] = useSearchParams();
  const inBin = params.has('bin');
  const {
    data: pages,
    error,
    hasNextPage,
    isFetchingNextPage,
    fetchNextPage,
    refetch,
    isFetching,
  } = api.useSamplePagesInfiniteQuery({ removed: inBin });
  const [way, setWay] = useState<(typeof WAYS)[number]['value']>('files');
  const origin: Partial<Origin> = useAppSelector((s) => s.settings.lastOrigin);
  const [sending, setSending] = useState<Sending[]>([]);
  const [chosen, setChosen] = useState<string[]>([]);
  const [wishes, setWishes] = useState<Record<string, Wish>>({});
  const [shown, setShown] = useState<string[] | null>(null);
  const dispatch = useAppDispatch();
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
        dispatch(api.util.invalidateTags(['Samples']));
      } catch (fault) {
        update({ fault: (fault as Error).message });
      }
    }
  }

  const samples = pages?.pages.flatMap((page) => page.items) ?? [];
  const total = pages?.pages.at(-1)?.total ?? 0;
  const set = shown && samples.filter((s) => shown.includes(s.id));
  const likely = likelySets(samples, roleByName).filter((s) => s.length > 1);
  return (
    <Page>
      <PageHead>
        <h1>{inBin ? 'Bin of Receiving' : 'Receiving'}</h1>
        <Quiet>
          {inBin
            ? 'Pictures in the bin are kept for 30 days, then removed for good unless a finish or an issued revision uses them.'
            : 'Pictures as they arrive. The original is kept byte for byte and never changed.'}
        </Quiet>
        {inBin ? <Link to="/receiving">Back to Receiving</Link> : <Link to="/receiving?bin">Bin</Link>}
      </PageHead>
      <Columns style={inBin ? { gridTemplateColumns: 'minmax(0, 1fr)' } : undefined}>
        {!inBin && (
          <section aria-label="Bring in pictures" style={{ display: 'grid', gap: 14 }}>
            <OneOf label="Where pictures come from" value={way} options={WAYS} onChange={setWay} />
            {way === 'files' && (
              <FromFiles
                origin={origin}
                onOrigin={(next) =>
                  dispatch(settingsSlice.actions.changed({ lastOrigin: next as Record<string, string> }))
                }
                onFiles={(files) => void send(files)}
              />
            )}
            {way === 'supplier' && <FromSupplier />}
            {way === 'capture' && <FromCapture />}
            {way === 'lights' && <FromLightSet permission={origin.permission ?? ''} />}
          </section>
        )}
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
                      {s.fault ? 'Close' : 'Stop'}
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
          <Fault error={pages ? null : error} retry={() => void refetch()} busy={isFetching} />
          {!pages && !error && <Quiet role="status">Opening …</Quiet>}
          {set && set.length > 0 ? (
            <MapSet
              samples={set}
              onClose={() => {
                setShown(null);
                setChosen([]);
              }}
            />
          ) : (
            <>
              {chosen.length > 0 && !inBin && (
                <Together
                  chosen={samples.filter((s) => chosen.includes(s.id))}
                  wishOf={(s) => wishes[s.id] ?? wishFor(s)}
                  onMaps={() => setShown(chosen)}
                  onMade={() => setChosen([])}
                />
              )}
              {chosen.length === 0 &&
                !inBin &&
                likely.map((s) => (
                  <Row key={s[0]!.id} style={{ marginBottom: 12 }}>
                    <Button onPress={() => setShown(s.map((o) => o.id))}>
                      {s.length} files look like maps of one surface:{' '}
                      {s
                        .map((o) => o.fileName)
                        .join(', ')
                        .slice(0, 80)}
                    </Button>
                  </Row>
                ))}
            </>
          )}
          {samples.length === 0 && pages && sending.length === 0 && (
            <Quiet>{inBin ? 'The bin is empty.' : 'Nothing has arrived yet.'}</Quiet>
          )}
          <Arrived>
            {samples.map((sample) => (
              <SampleItem
                key={sample.id}
                sample={sample}
                wish={wishes[sample.id] ?? wishFor(sample)}
                onWish={(wish) => setWishes((all) => ({ ...all, [sample.id]: wish }))}
                isChosen={chosen.includes(sample.id)}
                onChosen={(on) =>
                  setChosen((all) => (on ? [...all, sample.id] : all.filter((id) => id !== sample.id)))
                }
              />
            ))}
          </Arrived>
          <MoreOfList
            shown={samples.length}
            total={total}
            what="pictures"
            hasMore={hasNextPage}
            isFetching={isFetchingNextPage}
            onMore={() => void fetchNextPage()}
          />
        </section>
      </Columns>
    </Page>
  );
}

/** Several samples chosen: each becomes a finish, or they are the maps of one surface. */
function Together({
  chosen,
  wishOf,
  onMaps,
  onMade,
}: {
  chosen: readonly Sample[];
  wishOf: (sample: Sample) => Wish;
  onMaps: () => void;
  onMade: () => void;
}) {
  const [create, { isLoading, error }] = api.useCreateFinishMutation();
  const navigate = useNavigate();
  async function make() {
    for (const sample of chosen) await create({ ...wishOf(sample), sampleIds: [sample.id] }).unwrap();
    onMade();
    void navigate('/rack');
  }
  return (
    <div style={{ marginBottom: 12 }}>
      <Row>
        <Button weight="main" isDisabled={isLoading} onPress={() => void make().catch(() => undefined)}>
          {isLoading
            ? 'Making them …'
            : chosen.length === 1
              ? 'Make a finish of the one chosen'
              : `Make ${chosen.length} finishes`}
        </Button>
        {chosen.length > 1 && <Button onPress={onMaps}>Look at {chosen.length} maps together</Button>}
      </Row>
      <Fault error={error} />
    </div>
  );
}
