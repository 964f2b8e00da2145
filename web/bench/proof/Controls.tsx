import { useMemo } from 'react';
import styled from 'styled-components';
import { ciede2000 } from '@jossel/core/colour';
import { MAPS } from '@jossel/core/finish';
import { FORM_TABLE, FORMS, LIGHT_TABLE, LIGHTS, type FormName, type LightName } from '@jossel/core/proof';
import { printNumber } from '@jossel/core/units';
import { api, type Finish } from '../../app/api';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { Amount, Tick } from '../../controls/amounts';
import { Quiet } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { benchSlice, lightAsSet, type BenchState, type Compared } from '../bench-slice';
import { FormMark, LightMark } from './FormMark';
import type { Subject } from './material';
import type { ComparedSubject } from './use-compared';

const Side = styled.div`
  display: grid;
  gap: 2px;
`;
const Pair = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  padding: 2px 0 3px;
`;

const Ends = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
`;

const FORM_OPTIONS = FORMS.map((value: FormName) => ({
  value,
  name: FORM_TABLE[value].name,
  mark: <FormMark form={value} />,
}));
const LIGHT_OPTIONS = LIGHTS.map((value: LightName) => ({
  value,
  name: LIGHT_TABLE[value].name,
  mark: <LightMark light={value} />,
}));

const useSet = () => {
  const dispatch = useAppDispatch();
  return (change: Partial<BenchState>) => dispatch(benchSlice.actions.changed(change));
};

/** The form that the finish is shown on. */
export function FormChoice() {
  const form = useAppSelector((s) => s.bench.form);
  const set = useSet();
  return (
    <Choice
      hideLabel
      inline
      label="Form"
      value={form}
      options={FORM_OPTIONS}
      onChange={(next) => set({ form: next })}
    />
  );
}

/** The light that the finish is shown under. */
export function LightChoice() {
  const { name } = useAppSelector((s) => s.bench.light);
  const set = useSet();
  return (
    <Choice
      label="Light"
      value={name}
      options={LIGHT_OPTIONS}
      onChange={(next) => set({ light: lightAsSet(next) })}
    />
  );
}

/** The map that the plate shows, on the form instead of the finish. */
export function MapOnForm() {
  const { map, mapOnForm } = useAppSelector((s) => s.bench);
  const set = useSet();
  return (
    <Tick
      name={`${MAPS[map].title} only, unlit`}
      value={mapOnForm}
      onChange={(on) => set({ mapOnForm: on })}
    />
  );
}

/** Where the lamp of the light stands, exposure and exaggeration of the relief. */
export function LightControls({ end }: { end: React.ReactNode }) {
  const { light, stops, reliefTimes } = useAppSelector((s) => s.bench);
  const set = useSet();
  const turned = LIGHT_TABLE[light.name].lamp !== null;
  return (
    <Side>
      <Quiet style={{ fontSize: 12 }}>{LIGHT_TABLE[light.name].about}</Quiet>
      {turned && (
        <>
          <Amount
            label="Light azimuth"
            labelPx={92}
            unit="°"
            value={light.azimuthDeg}
            min={0}
            max={360}
            step={5}
            digits={0}
            neutral={90}
            onChange={(azimuthDeg) => set({ light: { ...light, azimuthDeg } })}
          />
          <Amount
            label="Light elevation"
            labelPx={92}
            unit="°"
            value={light.elevationDeg}
            min={3}
            max={90}
            step={1}
            digits={0}
            neutral={LIGHT_TABLE[light.name].elevationDeg}
            onChange={(elevationDeg) => set({ light: { ...light, elevationDeg } })}
          />
        </>
      )}
      <Amount
        label="Exposure, EV"
        labelPx={92}
        value={stops}
        min={-3}
        max={3}
        step={0.1}
        digits={1}
        neutral={0}
        onChange={(v) => set({ stops: v })}
      />
      <Amount
        label="Relief, times"
        labelPx={92}
        value={reliefTimes}
        min={1}
        max={10}
        step={0.5}
        digits={1}
        neutral={1}
        onChange={(v) => set({ reliefTimes: v })}
      />
      <Ends>{end}</Ends>
    </Side>
  );
}

const keyOf = (compared: Compared | null): string =>
  compared === null
    ? 'none'
    : compared.kind === 'revision'
      ? `revision ${compared.letter}`
      : 'id' in compared
        ? `${compared.kind} ${compared.id}`
        : compared.kind;

/** What the finish is compared with at the same light, scale and exposure. */
export function CompareChoice({
  finish,
  ways,
}: {
  finish: Finish;
  ways: readonly { id: string; name: string }[];
}) {
  const compared = useAppSelector((s) => s.bench.compared);
  const { data: finishes } = api.useFinishesQuery({});
  const set = useSet();
  const options = useMemo((): { value: string; name: string; of: Compared | null }[] => {
    const all: (Compared | null)[] = [
      null,
      { kind: 'sample' },
      ...finish.revisions.map(({ letter }): Compared => ({ kind: 'revision', letter })),
      ...ways.map(({ id }): Compared => ({ kind: 'way', id })),
      ...(finishes?.items ?? [])
        .filter(({ id, fault }) => id !== finish.id && !fault)
        .map(({ id }): Compared => ({ kind: 'finish', id })),
    ];
    const nameOf = (of: Compared | null) => {
      switch (of?.kind) {
        case 'sample':
          return 'the sample as pictured';
        case 'revision':
          return `revision ${of.letter}`;
        case 'way':
          return `colourway ${ways.find(({ id }) => id === of.id)?.name}`;
        case 'finish':
          return finishes!.items.find(({ id }) => id === of.id)!.name;
        default:
          return 'nothing';
      }
    };
    return all.map((of) => ({ value: keyOf(of), name: nameOf(of), of }));
  }, [finish, ways, finishes]);
  return (
    <Choice
      label="Compared with"
      value={keyOf(compared)}
      options={options}
      onChange={(key) => set({ compared: options.find(({ value }) => value === key)!.of })}
    />
  );
}

/** How far two finishes are apart. */
export function Apart({ subject, other }: { subject: Subject; other: ComparedSubject }) {
  const [a, b] = [subject.drawn.report, other.drawn.report];
  const gloss = b.glossGu - a.glossGu;
  return (
    <>
      <Pair>
        <Quiet style={{ fontSize: 12 }}>left: this finish, LRV {printNumber(a.lrv, 1)}</Quiet>
        <Quiet style={{ fontSize: 12 }}>
          right: {other.name}, LRV {printNumber(b.lrv, 1)}
        </Quiet>
      </Pair>
      <Quiet style={{ fontSize: 12 }}>
        ΔE₀₀ {printNumber(ciede2000(a.meanLab, b.meanLab), 2)} of their means, LRV {signed(b.lrv - a.lrv)},
        gloss {signed(gloss)} GU
      </Quiet>
    </>
  );
}
const signed = (v: number) => (v < 0 ? printNumber(v, 1) : `+${printNumber(v, 1)}`);
