import styled from 'styled-components';
import { Button, OneOf, Page, PageHead, Quiet, Row } from '../controls/basics';
import { settingsSlice } from './settings-slice';
import { useAppDispatch, useAppSelector } from './store';
import { SURROUNDS } from './theme';

/** ISO/IEC 7810 ID-1. */
const CARD = { widthMm: 85.6, heightMm: 53.98 };

const Card = styled.div`
  border: 1.5px solid ${({ theme }) => theme.mark};
  border-radius: 11px;
  background: ${({ theme }) => theme.sheet};
  display: grid;
  place-items: center;
  margin: 16px 0;
`;

/** How this screen shows sizes and greys: a card held against the glass makes 1:1 true. */
export function Display() {
  const { screenPxPerMm, screenMeasured, surround } = useAppSelector((s) => s.settings);
  const dispatch = useAppDispatch();
  const set = (change: Parameters<typeof settingsSlice.actions.changed>[0]) =>
    dispatch(settingsSlice.actions.changed(change));
  const step = (by: number) =>
    set({ screenPxPerMm: Math.min(20, Math.max(1.5, screenPxPerMm * (1 + by))), screenMeasured: true });
  return (
    <Page>
      <PageHead>
        <h1>Display</h1>
        <Quiet>
          {screenMeasured ? '1:1 is true on this screen.' : '1:1 is a guess until you measure this screen.'}
        </Quiet>
      </PageHead>
      <h2>True size</h2>
      <p>Hold a bank card against the screen and make the outline as large as the card (85.60 × 53.98 mm).</p>
      <Card style={{ width: CARD.widthMm * screenPxPerMm, height: CARD.heightMm * screenPxPerMm }}>
        <Quiet>a bank card</Quiet>
      </Card>
      <Row>
        <Button onPress={() => step(-0.02)}>Much smaller</Button>
        <Button onPress={() => step(-0.002)}>Smaller</Button>
        <Button onPress={() => step(0.002)}>Larger</Button>
        <Button onPress={() => step(0.02)}>Much larger</Button>
        <Quiet>{screenPxPerMm.toFixed(3)} px per mm</Quiet>
        <Button weight="quiet" onPress={() => set({ screenPxPerMm: 96 / 25.4, screenMeasured: false })}>
          Back to the guess
        </Button>
      </Row>
      <h2 style={{ marginTop: 28 }}>Grey around pictures</h2>
      <p>Lightness of the surround of Plate and Proof, as CIE L*.</p>
      <Row style={{ marginTop: 8 }}>
        <OneOf
          label="Surround"
          value={surround}
          options={([40, 60, 80, 95] as const).map((value) => ({ value, name: `L* ${value}` }))}
          onChange={(value) => set({ surround: value })}
        />
        <span style={{ width: 120, height: 26, background: SURROUNDS[surround] }} />
      </Row>
    </Page>
  );
}
