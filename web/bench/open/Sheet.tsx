import { useCallback, useState } from 'react';
import styled from 'styled-components';
import type { Preparation } from '@jossel/core/sample';
import { Guarded } from '../../app/Guarded';
import { useAppSelector } from '../../app/store';
import { ColumnDivider } from '../ColumnDivider';
import { KeysSheet } from '../keys/KeysSheet';
import { useKeysOnBench } from '../keys/use-keys-on-bench';
import { Ledger } from '../ledger/Ledger';
import { useOpenChecks } from './findings';
import { useInHand } from './in-hand';
import { PlateColumn } from './PlateColumn';
import { ProofColumn, useJudged } from './ProofColumn';
import { UndoBar } from './UndoBar';

const Columns = styled.main`
  display: grid;
  min-height: 0;
  height: 100%;
  padding: 10px;
  gap: 0;
  grid-template-columns: var(--left) 8px minmax(280px, 1fr) 8px var(--right);
  &[data-filled] {
    grid-template-columns: minmax(0, 1fr);
  }
  &[data-filled='plate'] > :not(:nth-child(3)),
  &[data-filled='proof'] > :not(:nth-child(5)) {
    display: none;
  }
`;
const Column = styled.div`
  display: grid;
  /* What is drawn in it must not hold it open when it becomes narrower. */
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  min-width: 0;
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.strong};
`;
const Right = styled(Column)`
  grid-template-rows: minmax(200px, 1fr) auto auto;
  overflow: hidden;
  &[data-folded] {
    grid-template-rows: auto minmax(0, 1fr) auto;
    > section:nth-child(2) {
      max-height: none;
    }
  }
  [data-filled='proof'] > & {
    grid-template-rows: minmax(0, 1fr);
    > :not(:first-child) {
      display: none;
    }
  }
`;

/** Widths that ledger and proof begin with, at least and at most. */
const LEFT_PX = [336, 460] as const;
const RIGHT_PX = [348, 820] as const;
const columnFor = (windowPx: number, share: number, [least, most]: readonly [number, number]) =>
  Math.round(Math.min(most, Math.max(least, share * windowPx)));

/** The open finish as a drawing sheet: the ledger, the plate, and the proof with checks and title block. */
export function Sheet() {
  const { recipe } = useInHand();
  const [keysOpen, setKeysOpen] = useState(false);
  const showKeys = useCallback(() => setKeysOpen(true), []);
  const section = useAppSelector((s) => s.bench.section);
  const wished = useAppSelector((s) => s.bench.filled);
  const proofFolded = useAppSelector((s) => s.settings.proofFolded);
  const [left, setLeft] = useState(() => columnFor(window.innerWidth, 0.17, LEFT_PX));
  const [right, setRight] = useState(() => columnFor(window.innerWidth, 0.27, RIGHT_PX));
  const [live, setLive] = useState<Preparation | null>(null);
  const judged = useJudged();
  const folded = judged === 'proof' && proofFolded;
  // The proof has the sheet only while there is one.
  const filled = wished === 'proof' && (judged !== 'proof' || proofFolded) ? null : wished;
  return (
    <Columns
      data-filled={filled ?? undefined}
      style={{ '--left': `${left}px`, '--right': `${right}px` } as React.CSSProperties}
    >
      <Column style={{ gridTemplateRows: 'auto minmax(0, 1fr)' }}>
        <UndoBar onKeys={showKeys} />
        <Guarded name="The ledger" shows={[recipe, section]}>
          <Ledger />
        </Guarded>
      </Column>
      <ColumnDivider
        label="Width of the ledger"
        value={left}
        min={260}
        max={LEFT_PX[1]}
        sign={1}
        onChange={setLeft}
      />
      <Column>
        <PlateColumn onLive={setLive} />
      </Column>
      <ColumnDivider
        label="Width of the proof"
        value={right}
        min={280}
        max={RIGHT_PX[1]}
        sign={-1}
        onChange={setRight}
      />
      <Right data-folded={folded || undefined}>
        <ProofColumn judged={judged} live={live} />
      </Right>
      <Keys showSheet={showKeys} />
      <KeysSheet isOpen={keysOpen} onClose={() => setKeysOpen(false)} />
    </Columns>
  );
}

/** Listens to the keys: alone, as what they do depends on all that is set on the Bench. */
function Keys({ showSheet }: { showSheet: () => void }) {
  const { recipe } = useInHand();
  useKeysOnBench(recipe, useOpenChecks(), showSheet);
  return null;
}
