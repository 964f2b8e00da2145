import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import { useNavigate } from 'react-router';
import { CATEGORIES, CATEGORY_IDS, type Category } from '@jossel/core/finish';
import { api } from '../app/api';
import { Fault } from '../app/Fault';
import { benchSlice } from '../bench/bench-slice';
import { useAppDispatch } from '../app/store';
import { Button, OneOf, Quiet, Row, Sentence } from '../controls/basics';
import { Choice } from '../controls/choice';
import { Field, NumberField, TextBox } from '../controls/fields';
import { LightPlan } from '../samples/LightPlan';
import { Address } from './Address';
import { receivingApi, type TakenLightSet } from './receiving-api';

/** Pictures of one sample under several lights: from files with a list of lights, or from the light rig; then measured. */
export function FromLightSet({ permission }: { permission: string }) {
  const [from, setFrom] = useState<'rig' | 'files'>('rig');
  const [set, setSet] = useState<{ taken: TakenLightSet; name: string; category: Category } | null>(null);
  return (
    <>
      <OneOf
        label="Where the light set comes from"
        value={from}
        options={[
          { value: 'rig', name: 'light rig' },
          { value: 'files', name: 'files' },
        ]}
        onChange={setFrom}
      />
      {from === 'rig' ? (
        <Rig again={set !== null} onTaken={(taken, name, category) => setSet({ taken, name, category })} />
      ) : (
        <Files
          permission={permission}
          onTaken={(taken) => setSet({ taken, name: 'Measured sample', category: 'stone' })}
        />
      )}
      {set && <Measure key={set.taken.id} {...set} />}
      {from === 'rig' && <Address of="captureBench" name="Address of the capture bench" />}
    </>
  );
}

const COUNTS = [6, 8, 10, 12].map((value) => ({ value, name: String(value) }));

/** The light rig of the capture bench: a fixed camera, and lamps that are lit one after the other. */
function Rig({
  again,
  onTaken,
}: {
  /** A set has arrived; another one is not the next step. */
  again: boolean;
  onTaken: (taken: TakenLightSet, name: string, category: Category) => void;
}) {
  const { data, error } = receivingApi.useBenchSamplesQuery();
  const [take, taking] = receivingApi.useTakeLightSetMutation();
  const [sampleId, setSampleId] = useState<string | null>(null);
  const [lights, setLights] = useState(8);
  const [widthPx, setWidthPx] = useState(1200);
  const chosen = data?.items.find((s) => s.id === sampleId) ?? data?.items[0];
  return (
    <>
      <Fault error={error} />
      {data && chosen && (
        <Choice
          label="Sample under the lights"
          value={chosen.id}
          options={data.items.map((s) => ({ value: s.id, name: s.name }))}
          onChange={setSampleId}
        />
      )}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, alignItems: 'end' }}>
        <div style={{ display: 'grid', gap: 3 }}>
          <Quiet style={{ fontSize: 12 }}>Lights</Quiet>
          <OneOf label="Lights" value={lights} options={COUNTS} onChange={setLights} />
        </div>
        <NumberField
          label="Width, px"
          unit="×"
          hideUnit
          value={widthPx}
          min={200}
          max={3000}
          whole
          onChange={setWidthPx}
        />
      </div>
      <Row>
        <Button
          weight={again ? 'plain' : 'main'}
          isDisabled={!chosen || taking.isLoading}
          onPress={() =>
            chosen &&
            void take({ sampleId: chosen.id, lights, widthPx })
              .unwrap()
              .then((taken) => onTaken(taken, chosen.name, categoryOf(chosen.category)))
              .catch(() => undefined)
          }
        >
          {taking.isLoading ? 'Taking the pictures …' : `Take ${lights} pictures`}
        </Button>
        {taking.isLoading && <Quiet role="status">This takes up to a minute.</Quiet>}
      </Row>
      <Fault error={taking.error} />
    </>
  );
}

const categoryOf = (id: string): Category => CATEGORY_IDS.find((known) => known === id) ?? 'stone';

/** Pictures and the list of their lights from files. */
function Files({ permission, onTaken }: { permission: string; onTaken: (taken: TakenLightSet) => void }) {
  const [send, sending] = receivingApi.useSendLightSetMutation();
  const [pictures, setPictures] = useState<File[]>([]);
  const [list, setList] = useState<File | null>(null);
  return (
    <>
      <Row>
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={['image/png', 'image/jpeg', 'image/tiff', 'image/webp']}
          onSelect={(files) => files && setPictures([...files])}
        >
          <Button>Choose the pictures</Button>
        </FileTrigger>
        <Quiet>{pictures.length > 0 ? `${pictures.length} pictures` : 'none chosen'}</Quiet>
      </Row>
      <Row>
        <FileTrigger
          acceptedFileTypes={['application/json', 'text/csv', '.json', '.csv', '.txt']}
          onSelect={(files) => setList(files?.[0] ?? null)}
        >
          <Button>Choose the list of lights</Button>
        </FileTrigger>
        <Quiet>{list?.name ?? 'none chosen'}</Quiet>
      </Row>
      <Quiet>
        The list is CSV with the columns file, x, y, z, or JSON. Places are in mm from the middle of the
        picture: x to the right, y up, z to the camera. With kind = direction, x, y, z point to a far light.
      </Quiet>
      <Row>
        <Button
          weight="main"
          isDisabled={pictures.length === 0 || !list || sending.isLoading}
          onPress={() => {
            const form = new FormData();
            form.append('permission', permission);
            for (const file of pictures) form.append('file', file, file.name);
            form.append('lights', list!, list!.name);
            void send(form)
              .unwrap()
              .then(onTaken)
              .catch(() => undefined);
          }}
        >
          {sending.isLoading ? 'Importing …' : 'Import the light set'}
        </Button>
      </Row>
      <Fault error={sending.error} />
    </>
  );
}

/** What has arrived, how large it is, and the finish that is measured from it. */
function Measure({ taken, name, category }: { taken: TakenLightSet; name: string; category: Category }) {
  const [create, creation] = api.useCreateFinishMutation();
  const [wish, setWish] = useState({ name, category });
  const [widthMm, setWidthMm] = useState<number | null>(taken.overallMm?.width ?? null);
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  return (
    <section aria-label="Light set that has arrived" style={{ display: 'grid', gap: 8 }}>
      <strong>{taken.lights.length} pictures have arrived</strong>
      <LightPlan lights={taken.lights.map(({ light }) => light)} />
      <NumberField
        label="Width of the whole picture on the sample"
        unit="mm"
        value={widthMm}
        min={1}
        max={100000}
        onChange={setWidthMm}
      />
      <Field>
        <label htmlFor="light-set-name">Name of the finish</label>
        <TextBox
          id="light-set-name"
          value={wish.name}
          onChange={(e) => setWish({ ...wish, name: e.target.value })}
        />
      </Field>
      <Choice
        label="Category"
        value={wish.category}
        options={CATEGORY_IDS.map((value) => ({ value, name: CATEGORIES[value].name }))}
        onChange={(next) => setWish({ ...wish, category: next })}
      />
      {widthMm === null && <Sentence>Relief is measured in millimetres: type the width first.</Sentence>}
      <Row>
        <Button
          weight="main"
          isDisabled={widthMm === null || !wish.name.trim() || creation.isLoading}
          onPress={() =>
            void create({ ...wish, lightSetId: taken.id, overallMm: { width: widthMm! } })
              .unwrap()
              .then((finish) => {
                dispatch(benchSlice.actions.changed({ section: 'relief' }));
                void navigate(`/bench/${finish.id}?section=relief`);
              })
              .catch(() => undefined)
          }
        >
          {creation.isLoading ? 'Measuring the relief …' : 'Measure the relief'}
        </Button>
        {creation.isLoading && <Quiet role="status">This takes up to two minutes.</Quiet>}
      </Row>
      <Fault error={creation.error} />
    </section>
  );
}
