import type { LayoutSettings } from '@jossel/core/layout';
import { OneOf, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import { Tick } from '../../../controls/amounts';
import { LabFields, type Lab } from './LabFields';
import { ArrisChoice, WorkingChoice } from './Profiles';
import type { PanelProps } from './panel-props';

/** Fired clay. */
const BODY: Lab = [60, 22, 26];

/** How arrises and faces are worked. */
export function ArrisBlock({ layout, change }: PanelProps) {
  const { arris, working } = layout;
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
          <Tick
            name="Worn to the body"
            value={arris.bodyLab !== null}
            onChange={(on) => put('body', { bodyLab: on ? BODY : null })}
          />
          {arris.bodyLab && (
            <LabFields
              of="the body"
              value={arris.bodyLab}
              onChange={(bodyLab) => put('body colour', { bodyLab })}
            />
          )}
        </>
      )}
      <h3>Working of the faces</h3>
      <WorkingChoice
        value={working.kind}
        onChange={(kind) => change('working', { working: { ...working, kind } })}
      />
      {working.kind !== 'as-sampled' && working.kind !== 'honed' && (
        <div className="three">
          <NumberField
            label="Depth of the working"
            unit="mm"
            value={working.depthMm}
            min={0}
            max={30}
            onChange={(depthMm) => change('working depth', { working: { ...working, depthMm } })}
          />
        </div>
      )}
    </Block>
  );
}
