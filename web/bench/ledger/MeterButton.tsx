import type { ColourFigure } from '@jossel/core/light';
import type { Figure } from '@jossel/core/units';
import { sentenceOf, type Sample } from '../../app/api';
import { Button, Quiet, Sentence } from '../../controls/basics';
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
  onFigure,
}: {
  kind: 'reflectance' | 'gloss';
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
  onFigure: (figure: Figure, colour: ColourFigure | null) => void;
}) {
  const [read, { data, error, isLoading }] = receivingApi.useReadMeterMutation();
  if (!sample?.benchSampleId || !sizeMm) return null;
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
              (answer) => onFigure(answer.figure, answer.colour ?? null),
              () => undefined,
            )
        }
      >
        {isLoading ? 'Reading …' : `Read the ${kind} meter three times`}
      </Button>
      {data && <Quiet>Read: {data.readings.map((r) => r.value).join(', ')}.</Quiet>}
      {error && <Sentence>{sentenceOf(error)}</Sentence>}
    </>
  );
}
