import { useState } from 'react';
import styled from 'styled-components';
import { Fault } from '../app/Fault';
import { Button, OnOff, Quiet, Row } from '../controls/basics';
import { Choice } from '../controls/choice';
import { NumberField } from '../controls/fields';
import { Address } from './Address';
import { receivingApi } from './receiving-api';

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
`;

/** Settings of the bench's camera and light, with their reach. */
const NUMBERS = [
  ['widthPx', 'Width, px', '×', 200, 6000, 0],
  ['focalMm', 'Focal length', 'mm', 14, 200, 0],
  ['tiltDeg', 'Tilt forwards', 'deg', -50, 50, 1],
  ['panDeg', 'Tilt sideways', 'deg', -50, 50, 1],
  ['rollDeg', 'Turn', 'deg', -180, 180, 1],
  ['bow', 'Lens bow', '×', -0.3, 0.3, 3],
  ['unevenness', 'Uneven light', '×', 0, 0.9, 2],
  ['cast', 'Colour cast', '×', -1, 1, 2],
  ['exposure', 'Exposure, stops', '×', -4, 4, 2],
  ['noise', 'Noise', '×', 0, 0.1, 3],
  ['glare', 'Glare', '×', 0, 1, 2],
  ['blurPx', 'Blur, px', '×', 0, 20, 1],
] as const;
type Key = (typeof NUMBERS)[number][0];

const START: Record<Key, number> = {
  widthPx: 2000,
  focalMm: 50,
  tiltDeg: 0,
  panDeg: 0,
  rollDeg: 0,
  bow: 0,
  unevenness: 0.1,
  cast: 0,
  exposure: 0,
  noise: 0.004,
  glare: 0,
  blurPx: 0.6,
};

/** The capture bench: choose what lies on it, set camera and light, take the picture. */
export function FromCapture() {
  const { data, error } = receivingApi.useBenchSamplesQuery();
  const [take, taking] = receivingApi.useTakePictureMutation();
  const [sampleId, setSampleId] = useState<string | null>(null);
  const [values, setValues] = useState(START);
  const [card, setCard] = useState(true);
  const [ruler, setRuler] = useState(false);
  const chosen = sampleId ?? data?.items[0]?.id ?? null;
  return (
    <>
      <Fault error={error} />
      {data && (
        <Choice
          label="Sample on the bench"
          value={chosen}
          options={data.items.map((s) => ({ value: s.id, name: s.name }))}
          onChange={setSampleId}
        />
      )}
      <Row>
        <OnOff name="target card" value={card} onChange={setCard} />
        <OnOff name="steel ruler" value={ruler} onChange={setRuler} />
      </Row>
      <Grid>
        {NUMBERS.map(([key, name, unit, min, max, digits]) => (
          <NumberField
            key={key}
            label={name}
            unit={unit}
            value={values[key]}
            min={min}
            max={max}
            digits={digits}
            whole={key === 'widthPx'}
            onChange={(v) => setValues({ ...values, [key]: v })}
          />
        ))}
      </Grid>
      <Row>
        <Button
          weight="main"
          isDisabled={!chosen || taking.isLoading}
          onPress={() => chosen && void take({ sampleId: chosen, ...values, card, ruler })}
        >
          {taking.isLoading ? 'Taking the picture …' : 'Take the picture'}
        </Button>
        {taking.isLoading && <Quiet role="status">This takes some seconds.</Quiet>}
      </Row>
      <Fault error={taking.error} />
      <Address of="captureBench" name="Address of the capture bench" />
    </>
  );
}
