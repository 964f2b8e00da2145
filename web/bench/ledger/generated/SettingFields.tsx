import styled from 'styled-components';
import { Plus, Trash2 } from 'lucide-react';
import {
  initialItem,
  type ListSetting,
  type PlainSettings,
  type Setting,
  type SettingList,
  type TextSetting,
} from '@jossel/core/generate';
import type { ColourFigure } from '@jossel/core/light';
import type { Figure } from '@jossel/core/units';
import { useId, useState } from 'react';
import { Button, Row } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { Field, FieldFault, TextBox } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { ColourField } from './ColourField';
import { Explained } from './SettingHelp';

/** Fields for settings by their descriptions, whatever they belong to. */

type Values = Readonly<Record<string, unknown>>;
type Change = (key: string, value: unknown) => void;

export function SettingFields({
  settings,
  keys,
  values,
  onChange,
}: {
  settings: SettingList;
  /** Those that are shown, in order. */
  keys: readonly string[];
  values: Values;
  onChange: Change;
}) {
  return (
    <>
      {keys.map((key) => (
        <Explained key={key} setting={settings[key]!}>
          <SettingField
            setting={settings[key]!}
            value={values[key]}
            onChange={(value) => onChange(key, value)}
          />
        </Explained>
      ))}
    </>
  );
}

function SettingField({
  setting,
  value,
  onChange,
}: {
  setting: Setting;
  value: unknown;
  onChange: (value: unknown) => void;
}) {
  switch (setting.kind) {
    case 'figure':
      return (
        <FigureField
          label={setting.label}
          figure={value as Figure}
          unit={setting.unit}
          min={setting.least}
          max={setting.most}
          onChange={onChange}
        />
      );
    case 'choice':
      return (
        <Choice label={setting.label} value={value as string} options={setting.options} onChange={onChange} />
      );
    case 'colour':
      return <ColourField label={setting.label} value={value as ColourFigure} onChange={onChange} />;
    case 'text':
      return <CheckedText setting={setting} value={value as string} onChange={onChange} />;
    case 'list':
      return <ListFields setting={setting} value={value as Values[]} onChange={onChange} />;
  }
}

/** A text that is taken over when it is left, if it means something. */
function CheckedText({
  setting,
  value,
  onChange,
}: {
  setting: TextSetting;
  value: string;
  onChange: (value: string) => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const fault = typed === null ? null : setting.fault(typed);
  const commit = () => {
    if (typed === null || fault) return;
    if (typed !== value) onChange(typed);
    setTyped(null);
  };
  return (
    <Field>
      <label htmlFor={id}>{setting.label}</label>
      <TextBox
        id={id}
        value={typed ?? value}
        spellCheck={false}
        data-typing={typed !== null && typed !== value ? 'yes' : 'no'}
        aria-invalid={fault ? true : undefined}
        aria-describedby={fault ? `${id}-fault` : undefined}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === 'Enter') commit();
          if (e.key === 'Escape') setTyped(null);
        }}
      />
      {fault && (
        <FieldFault id={`${id}-fault`} role="alert">
          {fault}
        </FieldFault>
      )}
    </Field>
  );
}

const Item = styled.section`
  display: grid;
  gap: 8px;
  padding: 8px 0 10px 10px;
  border-left: 2px solid ${({ theme }) => theme.line};
  h4 {
    margin: 0;
    font-size: 12px;
    font-weight: 600;
  }
`;

function ListFields({
  setting,
  value,
  onChange,
}: {
  setting: ListSetting<PlainSettings>;
  value: readonly Values[];
  onChange: (value: readonly Values[]) => void;
}) {
  const { one, of } = setting;
  const nameOf = (k: number) =>
    `${one[0]!.toUpperCase()}${one.slice(1)} ${setting.lettered ? letterOf(k) : k + 1}`;
  return (
    <div role="group" aria-label={setting.label} style={{ display: 'grid', gap: 8 }}>
      {value.map((item, k) => (
        <Item key={k} aria-label={nameOf(k)}>
          <Row style={{ justifyContent: 'space-between' }}>
            <h4>{nameOf(k)}</h4>
            {value.length > setting.least && (
              <Button
                weight="icon"
                aria-label={`Remove ${nameOf(k).toLowerCase()}`}
                onPress={() => onChange(value.filter((_, n) => n !== k))}
              >
                <Trash2 aria-hidden />
              </Button>
            )}
          </Row>
          <SettingFields
            settings={of}
            keys={Object.keys(of)}
            values={item}
            onChange={(key, next) =>
              onChange(value.map((old, n) => (n === k ? { ...old, [key]: next } : old)))
            }
          />
        </Item>
      ))}
      {value.length < setting.most && (
        <Row>
          <Button onPress={() => onChange([...value, initialItem(setting)])}>
            <Plus aria-hidden /> Add a {one}
          </Button>
        </Row>
      )}
    </div>
  );
}

const letterOf = (k: number) => String.fromCharCode(65 + k);
