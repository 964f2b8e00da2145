import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Button, Quiet } from '../controls/basics';
import { draftSlice } from './draft-slice';

const Asking = styled.div.attrs({ role: 'alertdialog' })`
  position: fixed;
  left: 50%;
  top: 56px;
  transform: translateX(-50%);
  z-index: 5;
  width: min(520px, 90vw);
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  background: ${({ theme }) => theme.field};
  border: 2px solid ${({ theme }) => theme.mark};
`;

/** Says whether the work is saved; asks when another window saved the same finish. */
export function Saving() {
  const { saving, sentence } = useAppSelector((s) => s.draft);
  const dispatch = useAppDispatch();
  if (saving === 'conflict') {
    return (
      <Asking aria-label="Changed somewhere else" aria-describedby="conflict-text">
        <p id="conflict-text">
          <strong>This draft was changed in another window or by somebody else.</strong> Both versions are
          kept, whichever you take: undo brings back the other one.
        </p>
        <div style={{ display: 'flex', gap: 8 }}>
          <Button weight="main" autoFocus onPress={() => dispatch(draftSlice.actions.mineKept())}>
            Keep this window’s
          </Button>
          <Button onPress={() => dispatch(draftSlice.actions.theirsTaken())}>Take the other one</Button>
        </div>
      </Asking>
    );
  }
  const words = { saved: 'saved', changed: 'saving …', saving: 'saving …', failed: 'not saved yet' }[saving];
  return (
    <Quiet role="status" title={sentence} style={{ marginLeft: 'auto', fontSize: 12 }}>
      {words}
      {saving === 'failed' && `: ${sentence}`}
    </Quiet>
  );
}
