import { JOINT_LOOKS, PROFILE_SHAPES, type ContributionOf } from '@jossel/core/relief';
import { Button, Row } from '../../../controls/basics';
import { Amount } from '../../../controls/amounts';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import type { Change } from './change';
import { Three, Two } from '../columns';
import type { NamedPart } from '../parts';

/** Fields that only one kind of contribution has. */

/** What distinguishes joints from pieces, and how the face falls to them. */
export function Joints({ joints: c, onChange }: { joints: ContributionOf<'joints'>; onChange: Change }) {
  return (
    <Three>
      <Choice
        label="Joints are"
        value={c.look}
        options={JOINT_LOOKS.map((name) => ({ value: name, name }))}
        onChange={(look) => onChange('look', { ...c, look })}
      />
      <NumberField
        label="Widest joint"
        unit="mm"
        value={c.widestMm}
        min={0.05}
        max={1000}
        onChange={(widestMm) => onChange('widest', { ...c, widestMm })}
      />
      <EdgeWidth edgeMm={c.edgeMm} onChange={(edgeMm) => onChange('edge', { ...c, edgeMm })} />
      <NumberField
        label="Grain smoothing"
        unit="%"
        value={100 * (c.smoothShare ?? 0)}
        min={0}
        max={50}
        onChange={(percent) => onChange('smoothed', { ...c, smoothShare: percent / 100 })}
      />
    </Three>
  );
}

/** Width over which it goes from one level to the other. */
const EdgeWidth = ({ edgeMm, onChange }: { edgeMm: number; onChange: (edgeMm: number) => void }) => (
  <NumberField label="Edge width" unit="mm" value={edgeMm} min={0} max={1000} onChange={onChange} />
);

export function PartLevel({
  part: c,
  parts,
  onChange,
}: {
  part: ContributionOf<'part'>;
  parts: readonly NamedPart[];
  onChange: Change;
}) {
  const named = parts.some((p) => p.id === c.part)
    ? parts
    : [{ id: c.part, name: `${c.part} (missing)` }, ...parts];
  return (
    <Three>
      <Choice
        label="Part"
        value={c.part}
        options={named.map(({ id, name }) => ({ value: id, name }))}
        onChange={(part) =>
          onChange('part', { ...c, part, name: parts.find((p) => p.id === part)?.name ?? c.name })
        }
      />
      <Choice
        label="It is"
        value={c.raised ? 'raised' : 'recessed'}
        options={[
          { value: 'recessed', name: 'recessed' },
          { value: 'raised', name: 'raised' },
        ]}
        onChange={(way) => onChange('way', { ...c, raised: way === 'raised' })}
      />
      <EdgeWidth edgeMm={c.edgeMm} onChange={(edgeMm) => onChange('edge', { ...c, edgeMm })} />
    </Three>
  );
}

const SHAPES = PROFILE_SHAPES.map((name) => ({ value: name, name }));

/** A profile that runs one way. */
export function Profile({ profile: c, onChange }: { profile: ContributionOf<'profile'>; onChange: Change }) {
  return (
    <Three>
      <Choice
        label="Shape"
        value={c.shape}
        options={SHAPES}
        onChange={(shape) => onChange('shape', { ...c, shape })}
      />
      <NumberField
        label="Pitch"
        unit="mm"
        value={c.pitchMm}
        min={0.01}
        max={100000}
        onChange={(pitchMm) => onChange('pitch', { ...c, pitchMm })}
      />
      <AlongChoice along={c.along} onChange={(along) => onChange('along', { ...c, along })} />
    </Three>
  );
}

const AlongChoice = ({
  along,
  onChange,
}: {
  along: 'width' | 'height';
  onChange: (along: 'width' | 'height') => void;
}) => (
  <Choice
    label="Along the"
    value={along}
    options={[
      { value: 'width', name: 'width' },
      { value: 'height', name: 'height' },
    ]}
    onChange={onChange}
  />
);

export function Generated({
  variation: c,
  onChange,
}: {
  variation: ContributionOf<'generated'>;
  onChange: Change;
}) {
  return (
    <>
      <Two>
        <NumberField
          label="Longest wave"
          unit="mm"
          value={c.longestMm}
          min={c.shortestMm}
          max={100000}
          onChange={(longestMm) => onChange('longest', { ...c, longestMm })}
        />
        <NumberField
          label="Shortest wave"
          unit="mm"
          value={c.shortestMm}
          min={0.01}
          max={c.longestMm}
          onChange={(shortestMm) => onChange('shortest', { ...c, shortestMm })}
        />
        <NumberField
          label="Stretched"
          unit="×"
          value={c.stretch}
          min={1}
          max={100}
          onChange={(stretch) => onChange('stretch', { ...c, stretch })}
        />
        <AlongChoice along={c.along} onChange={(along) => onChange('along', { ...c, along })} />
      </Two>
      <Amount
        label="Fineness"
        labelPx={62}
        value={c.falloff}
        min={0.2}
        max={0.9}
        step={0.05}
        neutral={0.5}
        onChange={(falloff) => onChange('falloff', { ...c, falloff }, true)}
      />
      <Row>
        <Button onPress={() => onChange('seed', { ...c, seed: (c.seed + 1) % 1000000 })}>
          Another variation
        </Button>
      </Row>
    </>
  );
}
