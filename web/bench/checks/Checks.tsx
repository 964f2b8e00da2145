import styled from 'styled-components';
import { useAppDispatch } from '../../app/store';
import { Quiet } from '../../controls/basics';
import { benchSlice } from '../bench-slice';
import { focusField, placeOf, placeOfSetting, type Place } from './places';
import type { OpenChecks } from './use-checks';

const List = styled.section`
  border-top: 1px solid ${({ theme }) => theme.strong};
  padding: 8px 12px 10px;
  max-height: 190px;
  overflow: auto;
  h2 {
    margin-bottom: 4px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  ul[data-stale] {
    font-style: italic;
    color: ${({ theme }) => theme.quiet};
  }
  button {
    display: grid;
    grid-template-columns: 14px 1fr;
    gap: 6px;
    width: 100%;
    text-align: left;
    background: none;
    border: 0;
    padding: 3px 0;
    cursor: pointer;
    font-size: 12px;
    align-items: baseline;
  }
  button:hover span {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

const mark = { width: 9, height: 9, viewBox: '0 0 9 9', role: 'img' } as const;
const Wrong = () => (
  <svg {...mark} aria-label="wrong">
    <path d="M4.5 0 9 8.5H0z" fill="#A6281C" />
  </svg>
);
const Open = () => (
  <svg {...mark} aria-label="open">
    <circle cx="4.5" cy="4.5" r="3.6" fill="none" stroke="#585858" />
  </svg>
);

/** What does not hold yet, each leading to its field in the ledger. */
export function Checks({ checks, stale, sentence, where }: OpenChecks) {
  const dispatch = useAppDispatch();
  const refusedAt = placeOfSetting(where ?? '');
  const go = ({ state, field }: Place) => {
    dispatch(benchSlice.actions.changed(state));
    focusField(field);
  };
  const open = checks?.length ?? 0;
  return (
    <List aria-label="Checks" aria-live="polite">
      <h2>{checks ? (open === 0 ? 'Checks: all hold' : `Checks: ${open} open`) : 'Checks'}</h2>
      {sentence && !refusedAt && <p style={{ fontSize: 12 }}>{sentence}</p>}
      {sentence && refusedAt && (
        <button onClick={() => go(refusedAt)}>
          <Wrong />
          <span>{sentence}</span>
        </button>
      )}
      {stale && (
        <Quiet style={{ fontSize: 12 }}>
          {sentence
            ? 'The rest is of the last picture that could be drawn.'
            : 'Of the picture before the last change.'}
        </Quiet>
      )}
      {checks && open === 0 && !sentence && <Quiet>Every figure has a source; the repeat is seamless.</Quiet>}
      <ul data-stale={stale || undefined}>
        {checks?.map((check) => (
          <li key={check.code}>
            <button onClick={() => go(placeOf(check))}>
              {check.weight === 'wrong' ? <Wrong /> : <Open />}
              <span>{check.text}</span>
            </button>
          </li>
        ))}
      </ul>
    </List>
  );
}
