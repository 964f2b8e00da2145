import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import styled from 'styled-components';
import { settingsSlice } from '../../app/settings-slice';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Tick } from '../../controls/amounts';
import { Button, Quiet, Row } from '../../controls/basics';
import { BENCH_KEYS, type BenchKey } from './bench-keys';

const Ground = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(40 40 40 / 0.28);
  display: grid;
  place-items: center;
  z-index: 10;
`;
const Sheet = styled(Modal)`
  background: ${({ theme }) => theme.field};
  border: 1px solid ${({ theme }) => theme.ink};
  max-height: 90vh;
  overflow: auto;
  outline: none;
  section {
    padding: 18px 22px;
    outline: none;
  }
  .groups {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 14px 40px;
    margin: 14px 0;
  }
  h3 {
    font-size: 13px;
    font-weight: 650;
    margin-bottom: 4px;
  }
  dl {
    margin: 0 0 12px;
    display: grid;
    grid-template-columns: 54px 1fr;
    gap: 2px 10px;
  }
  dt kbd {
    font: inherit;
    font-size: 12px;
    border: 1px solid ${({ theme }) => theme.line};
    padding: 0 5px;
  }
  dd {
    margin: 0;
  }
`;

const COLUMNS: readonly (readonly BenchKey['group'][])[] = [
  ['Ledger', 'Work'],
  ['Plate', 'Sheet'],
];

/** All keys of the Bench, and what the pointer does on the plate. */
export function KeysSheet({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const singleKeys = useAppSelector((s) => s.settings.singleKeys);
  const dispatch = useAppDispatch();
  return (
    <Ground isOpen={isOpen} isDismissable onOpenChange={(open) => !open && onClose()}>
      <Sheet>
        <Dialog>
          <Row style={{ justifyContent: 'space-between' }}>
            <Heading slot="title" level={2}>
              Keys
            </Heading>
            <Button autoFocus onPress={onClose}>
              Close
            </Button>
          </Row>
          <div className="groups">
            {COLUMNS.map((groups) => (
              <div key={groups.join()}>
                {groups.map((group) => (
                  <div key={group}>
                    <h3>{group}</h3>
                    <dl>
                      {BENCH_KEYS.filter((k) => k.group === group).map((k) => (
                        <Entry key={k.caps} caps={k.caps} name={k.name} />
                      ))}
                      {group === 'Plate' && (
                        <>
                          <Entry caps="Wheel" name="Zooms at the pointer; so do two fingers" />
                          <Entry caps="Space" name="Held, the pointer moves the picture" />
                        </>
                      )}
                    </dl>
                  </div>
                ))}
              </div>
            ))}
          </div>
          <Tick
            name="Letters and digits work without Ctrl"
            value={singleKeys}
            onChange={(on) => dispatch(settingsSlice.actions.changed({ singleKeys: on }))}
          />
          <Quiet>Arrow keys move what has the focus: a handle, a line, the picture, the proof.</Quiet>
        </Dialog>
      </Sheet>
    </Ground>
  );
}

const Entry = ({ caps, name }: { caps: string; name: string }) => (
  <>
    <dt>
      <kbd>{caps}</kbd>
    </dt>
    <dd>{name}</dd>
  </>
);
