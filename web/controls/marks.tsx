import type { Basis } from '@jossel/core/units';
import type { FinishState } from '../app/api';

/** Small drawn marks: how well a figure is founded, and the state of a finish. Each differs by shape, with its word as name. */

const BASIS_SHAPES: Record<Basis, React.ReactNode> = {
  // A block on the ground: resting fully, in half, on a corner, or only outlined.
  measured: <path d="M1.5 3h9v7.5h-9z" fill="currentColor" />,
  published: (
    <>
      <path d="M1.5 3h9v7.5h-9z" fill="none" stroke="currentColor" />
      <path d="M1.5 6.75h9v3.75h-9z" fill="currentColor" />
    </>
  ),
  inferred: (
    <>
      <path d="M1.5 3h9v7.5h-9z" fill="none" stroke="currentColor" />
      <path d="M1.5 10.5 10.5 3v7.5z" fill="currentColor" />
    </>
  ),
  assumed: <path d="M1.5 3h9v7.5h-9z" fill="none" stroke="currentColor" strokeDasharray="2 1.6" />,
};

export function BasisMark({ basis }: { basis: Basis }) {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" role="img" aria-label={basis} style={{ flex: 'none' }}>
      <title>{basis}</title>
      {BASIS_SHAPES[basis]}
    </svg>
  );
}

const STATE_SHAPES: Record<FinishState, React.ReactNode> = {
  draft: <path d="M2 10 9 3l1.5 1.5L4 11H2z" fill="none" stroke="currentColor" />,
  checked: <path d="M1.5 6.5 4.5 10 10.5 2.5" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  issued: <path d="M2 1.5h8v9H2zM4 4h4M4 6.2h4" fill="none" stroke="currentColor" />,
  withdrawn: <path d="M2 1.5h8v9H2zM1 11 11 1" fill="none" stroke="currentColor" />,
};

export function StateMark({ state, revision }: { state: FinishState; revision?: string | undefined }) {
  return (
    <span style={{ display: 'inline-flex', alignItems: 'center', gap: 4, whiteSpace: 'nowrap' }}>
      <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" style={{ flex: 'none' }}>
        {STATE_SHAPES[state]}
      </svg>
      {state}
      {revision ? ` ${revision}` : ''}
    </span>
  );
}
