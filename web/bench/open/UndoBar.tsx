import { Keyboard, Redo2, Undo2 } from 'lucide-react';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Button } from '../../controls/basics';
import { draftSlice } from '../draft-slice';
import { withKey } from '../keys/bench-keys';
import { Saving } from '../Saving';

const Tools = styled.div`
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 4px 8px;
  border-bottom: 1px solid ${({ theme }) => theme.line};
  min-height: 36px;
`;

/** Above the ledger: undo and redo, the sheet of keys, and whether the draft is saved. */
export function UndoBar({ onKeys }: { onKeys: () => void }) {
  const dispatch = useAppDispatch();
  const canUndo = useAppSelector((s) => s.draft.past.length > 0);
  const canRedo = useAppSelector((s) => s.draft.future.length > 0);
  return (
    <Tools role="toolbar" aria-label="Undo and saving">
      <Button
        weight="quiet"
        aria-label="Undo"
        tip={withKey('Undo', 'ctrl+z')}
        isDisabled={!canUndo}
        onPress={() => dispatch(draftSlice.actions.undone())}
      >
        <Undo2 aria-hidden />
      </Button>
      <Button
        weight="quiet"
        aria-label="Redo"
        tip={withKey('Redo', 'ctrl+y')}
        isDisabled={!canRedo}
        onPress={() => dispatch(draftSlice.actions.redone())}
      >
        <Redo2 aria-hidden />
      </Button>
      <Button weight="quiet" aria-label="Sheet of keys" tip={withKey('Sheet of keys', '?')} onPress={onKeys}>
        <Keyboard aria-hidden />
      </Button>
      <Saving />
    </Tools>
  );
}
