import { useState } from 'react';
import { Dices } from 'lucide-react';
import { familyOf, generatedSizeMm, type GeneratedSettings } from '@jossel/core/generate';
import type { Recipe } from '@jossel/core/finish';
import { printArea } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { Button, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { Block } from '../size/Block';
import { useChangeRecipe } from '../use-change';
import { Drawdown } from './Drawdown';
import { SettingFields } from './SettingFields';
import { SettingHelp } from './SettingHelp';

/** What a finish is generated as, in place of its pictures: the settings that the trade specifies. */
export function GeneratedSection({ recipe, generated }: { recipe: Recipe; generated: GeneratedSettings }) {
  const put = useChangeRecipe();
  const [more, setMore] = useState(false);
  const family = familyOf(generated.kind);
  const change = (key: string, value: unknown) =>
    put(`generated ${key}`, { ...recipe, generated: { ...generated, [key]: value } });
  const unused: readonly string[] = family.unused?.(generated as never) ?? [];
  const shown = Object.keys(family.settings).filter((key) => !unused.includes(key));
  const first = family.headline.filter((key) => shown.includes(key));
  const rest = shown.filter((key) => !first.includes(key));
  return (
    <SettingHelp general="Every figure begins as assumed: give those that the product specifies.">
      <SettingFields settings={family.settings} keys={first} values={generated} onChange={change} />
      {generated.kind === 'cloth' && <Drawdown generated={generated} />}
      {family.facts?.(generated as never).map((fact) => (
        <Quiet key={fact}>{fact}</Quiet>
      ))}
      {rest.length > 0 && (
        <Row>
          <Button aria-expanded={more} onPress={() => setMore(!more)}>
            {more ? 'Fewer settings' : `${rest.length} more settings`}
          </Button>
        </Row>
      )}
      {more && <SettingFields settings={family.settings} keys={rest} values={generated} onChange={change} />}
    </SettingHelp>
  );
}

/** Size of the repeat, and which of all that could be generated. */
export function GeneratedSize({ recipe, generated }: { recipe: Recipe; generated: GeneratedSettings }) {
  const put = useChangeRecipe();
  const units = useAppSelector((s) => s.settings.units);
  const change = (what: string, part: Partial<GeneratedSettings>) =>
    put(`generated ${what}`, { ...recipe, generated: { ...generated, ...part } });
  const { width, height } = generated.repeatMm;
  return (
    <Block>
      <h3>Repeat</h3>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        <NumberField
          label="Width"
          unit="mm"
          value={width}
          min={5}
          max={20000}
          digits={1}
          onChange={(v) => change('width', { repeatMm: { width: v, height } })}
        />
        <NumberField
          label="Height"
          unit="mm"
          value={height}
          min={5}
          max={20000}
          digits={1}
          onChange={(v) => change('height', { repeatMm: { width, height: v } })}
        />
      </div>
      <ClosesOn generated={generated} units={units} />
      <Row>
        <NumberField
          label="Number"
          unit="×"
          whole
          value={generated.seed}
          min={0}
          max={999999}
          onChange={(seed) => change('seed', { seed })}
        />
        <Button onPress={() => change('seed', { seed: (generated.seed * 7 + 13) % 999999 })}>
          <Dices aria-hidden /> Another one
        </Button>
      </Row>
    </Block>
  );
}

function ClosesOn({ generated, units }: { generated: GeneratedSettings; units: 'metric' | 'imperial' }) {
  try {
    return (
      <Quiet>
        Closes on {printArea(generatedSizeMm(generated), units)}. Elements have the sizes given under Sample.
      </Quiet>
    );
  } catch (error) {
    return <p role="alert">{(error as Error).message}</p>;
  }
}
