import { labToXyz, linearToSrgb8, xyzToLinear } from '@jossel/core/colour';
import type { Part } from '@jossel/core/sample';
import { printNumber } from '@jossel/core/units';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OneOf, OnOff, Quiet, Row } from '../../../controls/basics';
import { NumberField, TextLine } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import { useShownPart } from '../../use-sample';
import { useGeometryChange } from '../use-change';
import type { PanelProps } from './panel-props';

const hex = (lab: readonly [number, number, number]) =>
  `#${xyzToLinear(labToXyz(lab))
    .map((v) => linearToSrgb8(v).toString(16).padStart(2, '0'))
    .join('')}`;

/** Parts by colour: joint from face, chip from binder. */
export function PartsPanel({ recipe, source, sample, geometry }: PanelProps) {
  const change = useGeometryChange(recipe, source, sample, 'preparation');
  const dispatch = useAppDispatch();
  const { selected, dropper } = useAppSelector((s) => s.bench);
  const { parts } = source.preparation;
  const part = parts.find((p) => p.id === selected) ?? parts[0];
  const shown = useShownPart(
    sample,
    source.preparation,
    geometry && { width: geometry.size.width.mm, height: geometry.size.height.mm },
    part ?? null,
  );
  const set = (what: string, next: Partial<Part>, dragged = false) =>
    change(
      `part ${part!.id} ${what}`,
      { parts: parts.map((p) => (p.id === part!.id ? { ...p, ...next } : p)) },
      dragged,
    );
  const choose = (value: 'add' | 'take') =>
    dispatch(benchSlice.actions.changed({ dropper: dropper === value ? null : value }));
  const another = () => {
    const id = Math.random().toString(36).slice(2, 10);
    const first = part!.picks[0]!;
    change('new part', {
      parts: [...parts, { ...part!, id, name: `Part ${parts.length + 1}`, picks: [first] }],
    });
    dispatch(benchSlice.actions.changed({ selected: id, dropper: 'add' }));
  };
  return (
    <>
      {parts.length > 1 && (
        <OneOf
          label="Part in hand"
          value={part!.id}
          options={parts.map((p) => ({ value: p.id, name: p.name }))}
          onChange={(id) => dispatch(benchSlice.actions.changed({ selected: id }))}
        />
      )}
      <Row>
        <OnOff name="click to add" value={dropper === 'add'} onChange={() => choose('add')} />
        {part && (
          <OnOff name="click to take away" value={dropper === 'take'} onChange={() => choose('take')} />
        )}
      </Row>
      {!part && <Quiet>Turn on “click to add” and click a colour on the plate.</Quiet>}
      {part && (
        <>
          <TextLine
            label="Name of the part"
            value={part.name}
            onChange={(name) => name.trim() && set('name', { name: name.trim() })}
          />
          <Row $gap={4} aria-label="Colours of the part">
            {part.picks.map((p, i) => (
              <Button
                key={i}
                weight="quiet"
                aria-label={`Remove colour ${i + 1}, L* ${printNumber(p.lab[0], 0)}, ${p.add ? 'added' : 'taken away'}`}
                isDisabled={part.picks.length === 1}
                onPress={() => set('colour removed', { picks: part.picks.filter((_, k) => k !== i) })}
              >
                <span
                  style={{
                    width: 18,
                    height: 18,
                    background: hex(p.lab),
                    border: '1px solid #1B1B1B',
                    display: 'inline-block',
                  }}
                />
                {p.add ? '+' : '−'}
              </Button>
            ))}
          </Row>
          <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
            <NumberField
              label="Tolerance, ΔE"
              unit="×"
              value={part.tolerance}
              min={0.5}
              max={100}
              digits={1}
              onChange={(tolerance) => set('tolerance', { tolerance }, true)}
            />
            <NumberField
              label="Grow"
              unit="mm"
              value={part.growMm}
              min={-1000}
              max={1000}
              onChange={(growMm) => set('grow', { growMm }, true)}
            />
            <NumberField
              label="Soften"
              unit="mm"
              value={part.softenMm}
              min={0}
              max={1000}
              onChange={(softenMm) => set('soften', { softenMm }, true)}
            />
          </div>
          <Quiet role="status">
            {shown.value
              ? `${part.name} covers ${printNumber(100 * shown.value.share, 1)} % of the area.`
              : 'Separating …'}
          </Quiet>
          <Row>
            <Button onPress={another}>Another part</Button>
            <Button
              weight="quiet"
              onPress={() => change('part removed', { parts: parts.filter((p) => p.id !== part.id) })}
            >
              Remove this part
            </Button>
          </Row>
        </>
      )}
    </>
  );
}
