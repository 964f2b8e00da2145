import { useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import styled from 'styled-components';
import { roleByName } from '@jossel/core/sample';
import { api, sentenceOf, type Origin } from '../app/api';
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
import { FromFiles } from './FromFiles';
import { FromSupplier } from './FromSupplier';
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
  const {
    data: pages,
    error,
    hasNextPage,
    isFetchingNextPage,
    fetchNextPage,
  } = api.useSamplePagesInfiniteQuery();
  const [way, setWay] = useState<(typeof WAYS)[number]['value']>('files');
  const [origin, setOrigin] = useState<Partial<Origin>>({});
  const [sending, setSending] = useState<Sending[]>([]);
  const [inSet, setInSet] = useState<string[]>([]);
  const [shown, setShown] = useState<string[] | null>(null);
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

  const samples = pages?.pages.flatMap((page) => page.items) ?? [];
  const total = pages?.pages.at(-1)?.total ?? 0;
  const set = shown && samples.filter((s) => shown.includes(s.id));
  const likely = likelySets(samples, roleByName).filter((s) => s.length > 1);
  return (
    <Page>
      <PageHead>
        <h1>Receiving</h1>
        <Quiet>Pictures as they arrive. The original is kept byte for byte and never changed.</Quiet>
      </PageHead>
      <Columns>
        <section aria-label="Bring in pictures" style={{ display: 'grid', gap: 14 }}>
          <OneOf label="Where pictures come from" value={way} options={WAYS} onChange={setWay} />
          {way === 'files' && (
            <FromFiles origin={origin} onOrigin={setOrigin} onFiles={(files) => void send(files)} />
          )}
          {way === 'supplier' && <FromSupplier />}
          {way === 'capture' && <FromCapture />}
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
          {set && set.length > 0 ? (
            <MapSet
              samples={set}
              onClose={() => {
                setShown(null);
                setInSet([]);
              }}
            />
          ) : (
            <>
              {inSet.length > 1 && (
                <Row style={{ marginBottom: 12 }}>
                  <Button weight="main" onPress={() => setShown(inSet)}>
                    Look at {inSet.length} maps together
                  </Button>
                </Row>
              )}
              {inSet.length === 0 &&
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
          {samples.length === 0 && pages && sending.length === 0 && <Quiet>Nothing has arrived yet.</Quiet>}
          <Arrived>
            {samples.map((sample) => (
              <SampleItem
                key={sample.id}
                sample={sample}
                inSet={inSet.includes(sample.id)}
                onInSet={(on) =>
                  setInSet(on ? [...inSet, sample.id] : inSet.filter((id) => id !== sample.id))
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
