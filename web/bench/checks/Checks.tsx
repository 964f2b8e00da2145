import styled from 'styled-components';
import { useAppDispatch } from '../../app/store';
import { Quiet } from '../../controls/basics';
import { benchSlice } from '../bench-slice';
import { focusField, placeOf } from './places';
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

/** What does not hold yet, each leading to its field in the ledger. */
export function Checks({ checks, stale, sentence }: OpenChecks) {
  const dispatch = useAppDispatch();
  const open = checks?.length ?? 0;
  return (
    <List aria-label="Checks" aria-live="polite">
      <h2>{checks ? (open === 0 ? 'Checks: all hold' : `Checks: ${open} open`) : 'Checks'}</h2>
      {sentence && <p style={{ fontSize: 12 }}>{sentence}</p>}
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
            <button
              onClick={() => {
                const { state, field } = placeOf(check);
                dispatch(benchSlice.actions.changed(state));
                focusField(field);
              }}
            >
              <svg
                width="9"
                height="9"
                viewBox="0 0 9 9"
                role="img"
                aria-label={check.weight === 'wrong' ? 'wrong' : 'open'}
              >
                {check.weight === 'wrong' ? (
                  <path d="M4.5 0 9 8.5H0z" fill="#A6281C" />
                ) : (
                  <circle cx="4.5" cy="4.5" r="3.6" fill="none" stroke="#585858" />
                )}
              </svg>
              <span>{check.text}</span>
            </button>
          </li>
        ))}
      </ul>
    </List>
  );
}
