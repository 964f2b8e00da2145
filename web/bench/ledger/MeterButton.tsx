import type { ColourFigure } from '@jossel/core/light';
import type { Figure } from '@jossel/core/units';
import { type Sample } from '../../app/api';
import { Fault } from '../../app/Fault';
import { useAppDispatch } from '../../app/store';
import { Button, Quiet, Row } from '../../controls/basics';
import { benchSlice } from '../bench-slice';
import { receivingApi } from '../../receiving/receiving-api';

/** Where the meter is put down: three places spread over the sample, in shares of its size. */
const PLACES = [
  [0.27, 0.32],
  [0.55, 0.61],
  [0.76, 0.38],
] as const;

/** Reads a meter three times on a sample that lies on the capture bench; the mean becomes a measured figure. */
export function MeterButton({
  kind,
  sample,
  sizeMm,
  framed,
  onFigure,
}: {
  kind: 'reflectance' | 'gloss';
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
  /** The frame is set: what is measured lies within it. */
  framed: boolean;
  onFigure: (
    figure: Figure,
    colour: ColourFigure | null,
    otherAngles: Record<20 | 85, Figure<'GU'>> | null,
  ) => void;
}) {
  const [read, { data, error, isLoading }] = receivingApi.useReadMeterMutation();
  const dispatch = useAppDispatch();
  if (!sample?.benchSampleId || !sizeMm) return null;
  // The meter is put down by places within the frame: without one they may lie beside the sample.
  if (!framed)
    return (
      <Row>
        <Quiet>To read the {kind} meter, first set the frame to the edges of the sample.</Quiet>
        <Button onPress={() => dispatch(benchSlice.actions.changed({ section: 'sample', tool: 'frame' }))}>
          Set the frame
        </Button>
      </Row>
    );
  return (
    <>
      <Button
        isDisabled={isLoading}
        onPress={() =>
          void read({
            kind,
            sampleId: sample.id,
            placesMm: PLACES.map(([x, y]) => ({ x: x * sizeMm.width, y: y * sizeMm.height })),
          })
            .unwrap()
            .then(
              (answer) => onFigure(answer.figure, answer.colour ?? null, answer.otherAngles ?? null),
              () => undefined,
            )
        }
      >
        {isLoading ? 'Reading …' : `Read the ${kind} meter three times`}
      </Button>
      {data && <Quiet>Read: {data.readings.map((r) => r.value).join(', ')}.</Quiet>}
      <Fault error={error} />
    </>
  );
}
