import { useCallback, useEffect, useRef } from 'react';
import { Link, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES } from '@jossel/core/finish';
import { printArea, printLength, printNumber } from '@jossel/core/units';
import { api, sentenceOf, swatchUrl, type FinishItem } from '../app/api';
import { settingsSlice } from '../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Empty, MoreOfList, OneOf, Page, PageHead, Quiet, scaleOptions, Sentence } from '../controls/basics';
import { BasisMark, StateMark } from '../controls/marks';

const Shelf = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(224px, 1fr));
  gap: 22px 20px;
`;
const Piece = styled(Link)`
  display: block;
  text-decoration: none;
  color: inherit;
  &:hover h2 {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;
const Window = styled.div`
  height: 170px;
  border: 1px solid ${({ theme }) => theme.strong};
  background-color: #919191;
  overflow: hidden;
  position: relative;
`;
const Bar = styled.div`
  position: absolute;
  left: 8px;
  bottom: 8px;
  padding: 1px 5px 3px;
  background: ${({ theme }) => theme.sheet};
  font-size: 11px;
  line-height: 14px;
  i {
    display: block;
    border: solid ${({ theme }) => theme.ink};
    border-width: 0 1px 1px;
    height: 4px;
  }
`;
const Facts = styled.dl`
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 1px 8px;
  margin: 5px 0 0;
  font-size: 12px;
  dt {
    color: ${({ theme }) => theme.quiet};
    white-space: nowrap;
  }
  dd {
    margin: 0;
    display: flex;
    align-items: center;
    gap: 5px;
    min-width: 0;
    white-space: nowrap;
  }
`;

const Fault = styled.dd`
  && {
    grid-column: 1 / -1;
    white-space: normal;
  }
`;

/** A round length that is 40 to 100 px long at this scale. */
function barLength(pxPerMm: number): number {
  return [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((mm) => mm * pxPerMm >= 40) ?? 5000;
}

/** A given reflectance that differs by less from the measured one is not worth a line. */
const LRV_DIFFERS = 0.5;

/** The given reflectance, where the finish measures another. */
function given({ headline }: FinishItem) {
  if (!headline?.lrvMeasured || !headline.lrvGiven) return null;
  return Math.abs(headline.lrv - headline.lrvGiven.value) >= LRV_DIFFERS ? headline.lrvGiven : null;
}

function Swatch({
  item,
  pxPerMm,
  onDrawn,
}: {
  item: FinishItem;
  pxPerMm: number;
  /** Called once the picture is there: the server then knows what the finish measures. */
  onDrawn: () => void;
}) {
  const repeat = item.headline?.repeatMm;
  const unmeasured = item.headline !== null && !item.headline.lrvMeasured;
  if (!repeat)
    return (
      <Window role="img" aria-label={`${item.name}: ${item.fault ? 'cannot be read' : 'no sample yet'}`} />
    );
  const widthOnScreen = repeat.width * pxPerMm;
  const dense = Math.min(2048, widthOnScreen * Math.min(2, window.devicePixelRatio));
  const widthPx = [32, 64, 128, 256, 512, 1024, 2048].find((px) => px >= dense) ?? 2048;
  const mm = barLength(pxPerMm);
  const url = swatchUrl(item.id, item.etag, widthPx);
  return (
    <Window
      role="img"
      aria-label={`${item.name}, drawn to scale`}
      style={{
        backgroundImage: `url("${url}")`,
        backgroundSize: `${widthOnScreen}px ${repeat.height * pxPerMm}px`,
      }}
    >
      {unmeasured && <img src={url} alt="" hidden onLoad={onDrawn} />}
      <Bar>
        {printLength(mm)}
        <i style={{ width: mm * pxPerMm }} />
      </Bar>
    </Window>
  );
}

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

/** All finishes, drawn at one common scale. */
export function Rack() {
  const [params, setParams] = useSearchParams();
  const search = params.get('find') ?? '';
  const {
    data: pages,
    error,
    hasNextPage,
    isFetchingNextPage,
    fetchNextPage,
    refetch,
  } = api.useFinishPagesInfiniteQuery(search ? { search } : {}, {
    refetchOnMountOrArgChange: true,
    refetchOnFocus: true,
  });
  const refetchSoon = useSoon(() => void refetch());
  const items = pages?.pages.flatMap((page) => page.items) ?? [];
  const total = pages?.pages.at(-1)?.total;
  const { rackScale, screenPxPerMm, units } = useAppSelector((s) => s.settings);
  const dispatch = useAppDispatch();
  return (
    <Page>
      <PageHead>
        <h1>Rack</h1>
        <Quiet>
          {total === undefined ? '' : `${total} ${total === 1 ? 'finish' : 'finishes'}`}
          {search && ` with “${search}”`}
        </Quiet>
        {search && <button onClick={() => setParams({})}>Show all</button>}
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
      {error && <Sentence>{sentenceOf(error)}</Sentence>}
      {total === 0 && (
        <Empty>
          <h2>{search ? 'No finish has these words in its name' : 'The rack is empty'}</h2>
          <p>A finish begins with a picture of a sample: a swatch photo, a scan, a catalogue picture.</p>
          <Link to="/receiving">Bring in a sample</Link>
        </Empty>
      )}
      <Shelf>
        {items.map((item) => (
          <li key={item.id}>
            <Piece to={`/bench/${item.id}`}>
              <Swatch item={item} pxPerMm={screenPxPerMm / rackScale} onDrawn={refetchSoon} />
              <h2 style={{ marginTop: 8 }}>{item.name}</h2>
              <Facts>
                <dt>{CATEGORIES[item.category].name}</dt>
                <dd>
                  <StateMark state={item.state} revision={item.revisions.at(-1)} />
                </dd>
                {item.fault && <Fault>{item.fault}</Fault>}
                {item.headline && (
                  <>
                    <dt>Repeat</dt>
                    <dd>
                      <BasisMark basis={item.headline.sizeBasis} />
                      {printArea(item.headline.repeatMm, units)}
                    </dd>
                    <dt>Reflects</dt>
                    <dd>
                      <BasisMark basis={item.headline.lrvBasis} />
                      LRV {printNumber(item.headline.lrv, 0)}{' '}
                      <Quiet>gloss {printNumber(item.headline.glossGu, 0)} GU</Quiet>
                    </dd>
                    {given(item) && (
                      <>
                        <dt>Given</dt>
                        <dd>
                          <BasisMark basis={given(item)!.basis} />
                          LRV {printNumber(given(item)!.value, 0)} <Quiet>{given(item)!.basis}</Quiet>
                        </dd>
                      </>
                    )}
                  </>
                )}
              </Facts>
            </Piece>
          </li>
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
    </Page>
  );
}
