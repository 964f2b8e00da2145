import styled from 'styled-components';
import type { LayoutSettings } from '@jossel/core/layout';
import type { ReliefContribution } from '@jossel/core/relief';
import { printNumber } from '@jossel/core/units';
import { BuildUpRows, Thickness } from '../../../controls/build-up';
import { BasisMark } from '../../../controls/marks';

const Laid = styled.div`
  display: grid;
  grid-template-columns: 22px 16px minmax(0, 1fr) auto;
  gap: 6px;
  align-items: center;
  min-height: 28px;
  padding-right: 28px;
  border: 1px solid ${({ theme }) => theme.line};
  border-bottom: 0;
  color: ${({ theme }) => theme.quiet};
  .figure {
    font-variant-numeric: tabular-nums;
  }
`;

const COMBINED = { add: '+', replace: '=', highest: '≥', lowest: '≤' } as const;

/** What a relief is built up of, every contribution over what is below it. */
export function BuildUp({
  contributions,
  layout,
  open,
  alone,
  onOpen,
  onOrder,
}: {
  contributions: readonly ReliefContribution[];
  layout: LayoutSettings | null;
  open: string | null;
  /** Shown alone; null: all are shown. */
  alone: string | null;
  onOpen: (id: string) => void;
  onOrder: (next: ReliefContribution[]) => void;
}) {
  const deepest = Math.max(1e-6, ...contributions.map((c) => c.depthMm.value));
  if (contributions.length === 0 && !layout) return <span>Flat: nothing adds relief.</span>;
  return (
    <div>
      {layout && (
        <Laid>
          <Thickness $px={4} aria-hidden="true" />
          <span />
          <span>Layout: joints and arrises</span>
          <span className="figure">{printNumber(layout.joint.depthMm.value, 2)} mm</span>
        </Laid>
      )}
      <BuildUpRows
        label="Build-up of the relief, from the top down"
        items={contributions}
        open={open}
        onOpen={onOpen}
        onOrder={onOrder}
        thick={(c) => c.depthMm.value / deepest}
        mark={(c) => (
          <span aria-label={`combined by ${c.combine ?? 'add'}`}>{COMBINED[c.combine ?? 'add']}</span>
        )}
        state={(c) => (alone === c.id ? ' (shown alone)' : c.off ? ' (off)' : c.mask ? ' (masked)' : '')}
        figure={(c) => (
          <>
            <BasisMark basis={c.depthMm.basis} /> {printNumber(c.depthMm.value, 2)} mm
          </>
        )}
        counts={(c) => (alone === null ? !c.off : alone === c.id)}
        dependencies={[contributions, alone]}
      />
    </div>
  );
}
