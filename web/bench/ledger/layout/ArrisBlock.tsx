import type { LayoutSettings } from '@jossel/core/layout';
import { OneOf, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import { ArrisChoice } from './Profiles';
import type { PanelProps } from './panel-props';

/** How the arrises are worked. */
export function ArrisBlock({ layout, change }: PanelProps) {
  const { arris } = layout;
  const put = (what: string, part: Partial<LayoutSettings['arris']>) =>
    change(`arris ${what}`, { arris: { ...arris, ...part } });
  return (
    <Block>
      <h3>Arrises</h3>
      <ArrisChoice
        value={arris.form}
        sizeMm={arris.sizeMm.value}
        onChange={(form) => put('form', { form })}
      />
      {arris.form !== 'square' && (
        <>
          <FigureField
            label="Width of the arris"
            figure={arris.sizeMm}
            unit="mm"
            min={0}
            max={100}
            onChange={(sizeMm) => put('size', { sizeMm })}
          />
          <Row>
            <OneOf
              label="Sides with an arris"
              value={arris.sides}
              options={[
                { value: 'all', name: 'all sides' },
                { value: 'long', name: 'long sides' },
              ]}
              onChange={(sides) => put('sides', { sides })}
            />
            <NumberField
              label="Unevenness, 0 to 1"
              unit="×"
              value={arris.uneven}
              min={0}
              max={1}
              onChange={(uneven) => put('uneven', { uneven })}
            />
          </Row>
        </>
      )}
    </Block>
  );
}
