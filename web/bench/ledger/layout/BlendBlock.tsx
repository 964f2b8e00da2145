import { useState } from 'react';
import { BLEND_RULES, type BlendRule, type LayoutSettings } from '@jossel/core/layout';
import { Button, OneOf, Quiet, Row } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { NumberField, TextLine } from '../../../controls/fields';
import { newId } from '../../new-id';
import { Block } from '../size/Block';
import { FinishChoice } from './FinishChoice';
import { LabFields, type Lab } from './LabFields';

type Other = LayoutSettings['blend']['others'][number];

const RULES: Readonly<Record<BlendRule, string>> = {
  scattered: 'scattered',
  intervals: 'at intervals',
  courses: 'by course',
  chequer: 'chequer',
  border: 'border',
};

/** Kinds of pieces beside those of the finish: another colour or tone, by share and rule. */
export function BlendBlock({
  finishId,
  layout: { blend },
  change,
  kinds,
}: {
  finishId: string;
  /** Kinds of piece that the bond has. */
  kinds: readonly string[];
  layout: LayoutSettings;
  change: (what: string, part: Partial<LayoutSettings>) => void;
}) {
  const put = (what: string, others: Other[]) => change(`blend ${what}`, { blend: { ...blend, others } });
  const replace = (k: number, what: string, part: Partial<Other>) =>
    put(
      what,
      blend.others.map((o, n) => (n === k ? { ...o, ...part } : o)),
    );
  const left = 100 - blend.others.reduce((sum, o) => sum + (o.kind === null ? o.share : 0), 0);
  const add = () =>
    put('added', [
      ...blend.others,
      {
        id: newId(),
        name: `Kind ${blend.others.length + 1}`,
        share: Math.max(0, Math.min(10, left)),
        kind: null,
        lab: null,
        finish: null,
        shift: [-12, 0, 0],
      },
    ]);
  return (
    <Block>
      <h3>Blend</h3>
      {blend.others.length > 0 && (
        <OneOf
          compact
          label="How kinds are mixed"
          value={blend.rule}
          options={BLEND_RULES.map((value) => ({ value, name: RULES[value] }))}
          onChange={(rule) => change('blend rule', { blend: { ...blend, rule } })}
        />
      )}
      {blend.others.map((other, k) => (
        <OtherKind
          key={other.id}
          finishId={finishId}
          other={other}
          kinds={kinds}
          most={other.share + Math.max(0, left)}
          shared={blend.rule !== 'chequer' && blend.rule !== 'border'}
          onChange={(what, part) => replace(k, what, part)}
          onRemove={() =>
            put(
              'removed',
              blend.others.filter((_, n) => n !== k),
            )
          }
        />
      ))}
      <Row>
        <Button isDisabled={blend.others.length >= 12} onPress={add}>
          Add a kind
        </Button>
        {blend.others.length > 0 && (
          <Quiet>
            {left === 100 ? 'All other pieces' : `${Math.round(left * 10) / 10} %`} keep the finish as it is.
          </Quiet>
        )}
      </Row>
    </Block>
  );
}

const MIDDLE: Lab = [50, 0, 0];

/** A kind of the blend that is given by its share. */
const BY_SHARE = 'by share';

function OtherKind({
  finishId,
  other,
  kinds,
  most,
  shared,
  onChange,
  onRemove,
}: {
  finishId: string;
  other: Other;
  kinds: readonly string[];
  most: number;
  /** Its share decides how many there are. */
  shared: boolean;
  onChange: (what: string, part: Partial<Other>) => void;
  onRemove: () => void;
}) {
  const { name, share, lab, shift, finish } = other;
  // Chosen, but no finish is named yet.
  const [naming, setNaming] = useState(false);
  const is = finish || naming ? 'finish' : lab ? 'plain' : 'tone';
  return (
    <div role="group" aria-label={name} style={{ display: 'grid', gap: 6 }}>
      <Row>
        <TextLine
          label="Name of the kind"
          value={name}
          onChange={(next) => next.trim() && onChange('name', { name: next.trim() })}
        />
        {kinds.length > 1 && (
          <Choice
            label="Pieces"
            value={other.kind ?? BY_SHARE}
            options={[BY_SHARE, ...kinds].map((value) => ({ value, name: value }))}
            onChange={(kind) => onChange('pieces', { kind: kind === BY_SHARE ? null : kind })}
          />
        )}
        {shared && other.kind === null && (
          <NumberField
            label="Share"
            unit="%"
            value={share}
            min={0}
            max={most}
            digits={1}
            onChange={(next) => onChange('share', { share: next })}
          />
        )}
        <Button aria-label={`Remove ${name}`} onPress={onRemove}>
          Remove
        </Button>
      </Row>
      <OneOf
        label={`Made of, ${name}`}
        value={is}
        options={[
          { value: 'tone', name: 'the finish in another tone' },
          { value: 'plain', name: 'plain colour' },
          { value: 'finish', name: 'another finish' },
        ]}
        onChange={(next) => {
          setNaming(next === 'finish');
          if (next !== 'finish') onChange('colour', { lab: next === 'plain' ? MIDDLE : null, finish: null });
        }}
      />
      {is === 'finish' ? (
        <FinishChoice
          label={`Finish of ${name}`}
          finishId={finishId}
          value={finish}
          onChange={(next) => {
            setNaming(false);
            onChange('finish', { finish: next, ...(next ? { name: next.name.slice(0, 120) } : {}) });
          }}
        />
      ) : lab ? (
        <LabFields of={name} value={lab} onChange={(next) => onChange('colour', { lab: next })} />
      ) : (
        <div className="three">
          {(['ΔL*', 'Δa*', 'Δb*'] as const).map((label, k) => (
            <NumberField
              key={label}
              label={label}
              unit="×"
              value={shift[k]!}
              min={-60}
              max={60}
              digits={1}
              onChange={(v) => onChange('tone', { shift: shift.map((old, n) => (n === k ? v : old)) as Lab })}
            />
          ))}
        </div>
      )}
    </div>
  );
}
