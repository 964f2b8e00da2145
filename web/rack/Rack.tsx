import { useCallback, useEffect, useRef } from 'react';
import { Link, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES, CATEGORY_IDS, type Category } from '@jossel/core/finish';
import { api, type FinishFilter, type FinishState } from '../app/api';
import { Fault } from '../app/Fault';
import { prefetchPlaces } from '../app/places';
import { settingsSlice } from '../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Button, Empty, MoreOfList, OneOf, Page, PageHead, Quiet, Row } from '../controls/basics';
import { Choice } from '../controls/choice';
import { scaleOptions } from '../controls/drawing-scales';
import { RackItem } from './RackItem';
import { swatchQueue } from './swatch-queue';

const Shelf = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(224px, 1fr));
  gap: 22px 20px;
`;

/** Runs something once, a moment after the last of several calls. */
function useSoon(run: () => void): () => void {
  const latest = useRef(run);
  latest.current = run;
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  return useCallback(() => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => latest.current(), SOON_MS);
  }, []);
}
const SOON_MS = 600;

const ANY = 'any';
const STATES: readonly FinishState[] = ['draft', 'checked', 'issued', 'withdrawn'];

/** What the address narrows the rack to. */
function filterOf(params: URLSearchParams): FinishFilter {
  const [search, category, state, supplier] = ['find', 'category', 'state', 'supplier'].map((k) =>
    params.get(k),
  );
  return {
    ...(search ? { search } : {}),
    ...(category && category in CATEGORIES ? { category: category as Category } : {}),
    ...(state && STATES.includes(state as FinishState) ? { state: state as FinishState } : {}),
    ...(supplier ? { supplier } : {}),
    ...(params.has('bin') ? { removed: true } : {}),
  };
}

/** All finishes, drawn at one common scale. */
export function Rack() {
  const [params, setParams] = useSearchParams();
  const filter = filterOf(params);
  const inBin = filter.removed ?? false;
  const { data, error, hasNextPage, isFetching, isFetchingNextPage, fetchNextPage, refetch } =
    api.useFinishPagesInfiniteQuery(filter, { refetchOnMountOrArgChange: true, refetchOnFocus: true });
  const refetchSoon = useSoon(() => void refetch());
  // The places come first, then the pictures.
  useEffect(() => void prefetchPlaces().then(() => swatchQueue.start()), []);
  const items = data?.pages.flatMap((page) => page.items) ?? [];
  const total = data?.pages.at(-1)?.total;
  const { rackScale, screenPxPerMm } = useAppSelector((s) => s.settings);
  const dispatch = useAppDispatch();
  const narrowed = Object.keys(filter).some((key) => key !== 'removed');
  const set = (key: string, value: string | null) =>
    setParams(
      (now) => {
        const next = new URLSearchParams(now);
        if (value === null) next.delete(key);
        else next.set(key, value);
        return next;
      },
      { replace: true },
    );
  return (
    <Page>
      <PageHead>
        <h1>{inBin ? 'Bin' : 'Rack'}</h1>
        <Quiet role="status">
          {total === undefined ? '' : `${total} ${total === 1 ? 'finish' : 'finishes'}`}
          {filter.search && ` with “${filter.search}”`}
        </Quiet>
        <Row $gap={6}>
          <Filter
            label="Category"
            value={filter.category ?? null}
            all="any category"
            options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
            onChange={(value) => set('category', value)}
          />
          <Filter
            label="State"
            value={filter.state ?? null}
            all="any state"
            options={STATES.map((value) => ({ value, name: value }))}
            onChange={(value) => set('state', value)}
          />
          <Filter
            label="Supplier"
            value={filter.supplier ?? null}
            all="any supplier"
            options={suppliersWith(data?.pages[0]?.suppliers ?? [], filter.supplier)}
            onChange={(value) => set('supplier', value)}
          />
          {narrowed && (
            <Button weight="quiet" onPress={() => setParams(inBin ? { bin: '' } : {})}>
              Show all
            </Button>
          )}
        </Row>
        {!inBin && <Link to="/generate">Generate a finish</Link>}
        <span style={{ marginLeft: 'auto', display: 'flex', alignItems: 'center', gap: 8 }}>
          <Quiet>All drawn at</Quiet>
          <OneOf
            label="Drawing scale of all finishes"
            value={rackScale}
            options={scaleOptions}
            onChange={(value) => dispatch(settingsSlice.actions.changed({ rackScale: value }))}
          />
        </span>
      </PageHead>
      <Fault error={error} retry={() => void refetch()} busy={isFetching} />
      {!data && !error && <Quiet role="status">Looking through the rack …</Quiet>}
      {total === 0 && <Nothing narrowed={narrowed} inBin={inBin} />}
      <Shelf aria-busy={isFetching}>
        {items.map((item) => (
          <RackItem
            key={item.id}
            item={item}
            inBin={inBin}
            pxPerMm={screenPxPerMm / rackScale}
            onMeasured={refetchSoon}
          />
        ))}
      </Shelf>
      <MoreOfList
        shown={items.length}
        total={total ?? 0}
        what="finishes"
        hasMore={hasNextPage}
        isFetching={isFetchingNextPage}
        onMore={() => void fetchNextPage()}
      />
      <p style={{ marginTop: 26 }}>
        {inBin ? <Link to="/rack">Back to the rack</Link> : <Link to="/rack?bin">Bin</Link>}
      </p>
    </Page>
  );
}

/** Suppliers to choose from; the one that is chosen stays, also where it has nothing on the rack any more. */
const suppliersWith = (suppliers: readonly string[], chosen: string | undefined) =>
  [...new Set([...suppliers, ...(chosen ? [chosen] : [])])].map((value) => ({ value, name: value }));

function Filter<T extends string>({
  label,
  value,
  all,
  options,
  onChange,
}: {
  label: string;
  value: T | null;
  all: string;
  options: readonly { value: T; name: string }[];
  onChange: (value: T | null) => void;
}) {
  return (
    <Choice<T | typeof ANY>
      hideLabel
      inline
      label={label}
      value={value ?? ANY}
      options={[{ value: ANY, name: all }, ...options]}
      onChange={(next) => onChange(next === ANY ? null : next)}
    />
  );
}

function Nothing({ narrowed, inBin }: { narrowed: boolean; inBin: boolean }) {
  if (narrowed)
    return (
      <Empty>
        <h2>No finish fits</h2>
        <p>
          Words are looked for in name, supplier, line, code, category and state; parts of words are enough.
          Take a filter away, or search for less.
        </p>
      </Empty>
    );
  if (inBin)
    return (
      <Empty>
        <h2>The bin is empty</h2>
        <p>A finish that is moved here is off the rack; it can be restored at any time.</p>
      </Empty>
    );
  return (
    <Empty>
      <h2>The rack is empty</h2>
      <p>
        A finish begins with a picture of a sample: a swatch photo, a scan, a catalogue picture. Where there
        is none, it is generated.
      </p>
      <Row $gap={18}>
        <Link to="/receiving">Bring in a sample</Link>
        <Link to="/generate">Generate a finish</Link>
      </Row>
    </Empty>
  );
}
