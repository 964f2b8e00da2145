import type { OpennessSettings, ResponseSettings, SheenSettings } from '@jossel/core/response';
import { figure } from '@jossel/core/units';
import { Amount } from '../../../controls/amounts';
import { Button, OneOf, Quiet } from '../../../controls/basics';
import { Field } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import type { ChangeResponse } from './change';

/** Cloth: its nap, and the light that passes through it. */
export function ClothBlock({ response, change }: { response: ResponseSettings; change: ChangeResponse }) {
  return (
    <Block>
      <h3>Cloth</h3>
      <Nap sheen={response.sheen} change={change} />
      <Openness openness={response.openness} change={change} />
    </Block>
  );
}

function Nap({ sheen, change }: { sheen: SheenSettings | undefined; change: ChangeResponse }) {
  if (!sheen)
    return (
      <div>
        <Button onPress={() => change('nap added', { sheen: { strength: 0.5, roughness: 0.5, hue: 'own' } })}>
          Add a nap
        </Button>
      </div>
    );
  const put = (what: string, next: Partial<SheenSettings>) =>
    change(`nap ${what}`, { sheen: { ...sheen, ...next } });
  return (
    <>
      <Amount
        label="Nap, strength"
        labelPx={104}
        value={sheen.strength}
        min={0}
        max={1}
        step={0.01}
        neutral={0}
        onChange={(strength) => put('strength', { strength })}
      />
      <Amount
        label="Nap, spread"
        labelPx={104}
        value={sheen.roughness}
        min={0.07}
        max={1}
        step={0.01}
        neutral={0.5}
        onChange={(roughness) => put('spread', { roughness })}
      />
      <Field>
        <label>Hue of the nap</label>
        <OneOf
          label="Hue of the nap"
          value={sheen.hue}
          options={[
            { value: 'own', name: 'of the cloth' },
            { value: 'white', name: 'white' },
          ]}
          onChange={(hue) => put('hue', { hue })}
        />
      </Field>
      <Quiet>
        A low spread lights up only at grazing angles, as velvet does; a high one all over, as brushed wool.
      </Quiet>
      <div>
        <Button onPress={() => change('nap removed', { sheen: undefined })}>Remove the nap</Button>
      </div>
    </>
  );
}

function Openness({ openness, change }: { openness: OpennessSettings | undefined; change: ChangeResponse }) {
  if (!openness)
    return (
      <div>
        <Button
          onPress={() =>
            change('openness added', {
              openness: {
                openPercent: figure(10, '%', 'assumed'),
                between: 'hollows',
                diffusePercent: figure(5, '%', 'assumed'),
              },
            })
          }
        >
          Light passes through
        </Button>
      </div>
    );
  const put = (what: string, next: Partial<OpennessSettings>) =>
    change(`openness ${what}`, { openness: { ...openness, ...next } });
  return (
    <>
      <FigureField
        label="Open area"
        figure={openness.openPercent}
        unit="%"
        min={0}
        max={100}
        digits={1}
        onChange={(openPercent) => put('share', { openPercent })}
      />
      <Field>
        <label>Openings are</label>
        <OneOf
          label="Openings are"
          value={openness.between}
          options={[
            { value: 'hollows', name: 'the hollows' },
            { value: 'dark', name: 'the dark places' },
          ]}
          onChange={(between) => put('places', { between })}
        />
      </Field>
      <FigureField
        label="Diffuse transmittance"
        figure={openness.diffusePercent}
        unit="%"
        min={0}
        max={100}
        digits={1}
        onChange={(diffusePercent) => put('scattered', { diffusePercent })}
      />
      <Quiet>
        {openness.openPercent.value + openness.diffusePercent.value} % of the light passes: the open area
        straight through, what the threads let through scattered.
      </Quiet>
      <div>
        <Button onPress={() => change('openness removed', { openness: undefined })}>No light passes</Button>
      </div>
    </>
  );
}
