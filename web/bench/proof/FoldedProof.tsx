import { ChevronDown } from 'lucide-react';
import styled from 'styled-components';
import { Button, Quiet } from '../../controls/basics';

const Bar = styled.section`
  display: flex;
  align-items: center;
  gap: 10px;
  height: 36px;
  padding: 0 6px 0 12px;
  button {
    margin-left: auto;
  }
`;

/** What is left of the proof when it is folded away: it is then not drawn at all. */
export function FoldedProof({ onFold, focused }: { onFold: (folded: boolean) => void; focused: boolean }) {
  return (
    <Bar aria-label="Proof">
      <h2>Proof</h2>
      <Quiet>folded away, not drawn</Quiet>
      <Button weight="icon" aria-label="Unfold the proof" autoFocus={focused} onPress={() => onFold(false)}>
        <ChevronDown aria-hidden />
      </Button>
    </Bar>
  );
}
