import type { LaidReport, LayoutSettings } from '@jossel/core/layout';
import { printNumber } from '@jossel/core/units';
import { Tick } from '../../../controls/amounts';
import { Button, OneOf, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { Block } from '../size/Block';
import type { PanelProps } from './panel-props';

/** Where pieces are cut from, and how they may be turned. */
export function FacesBlock({
  layout,
  change,
  report,
  areas,
  generated,
  picking,
  onPick,
  said,
}: PanelProps & {
  report: LaidReport | null;
  areas: number;
  /** The finish has no sample. */
  generated: boolean;
  picking: boolean;
  onPick: () => void;
  said: string;
}) {
  const { faces } = layout;
  const put = (what: string, part: Partial<LayoutSettings['faces']>) =>
    change(`faces ${what}`, { faces: { ...faces, ...part } });
  return (
    <Block>
      <h3>Faces</h3>
      <OneOf
        label="Pieces are cut from"
        value={faces.from}
        options={[
          { value: 'repeat', name: 'the repeat' },
          ...(areas > 0 || faces.from === 'areas'
            ? [
                {
                  value: 'areas' as const,
                  name: generated ? `${areas} leaves, one to a piece` : `${areas} picked areas`,
                },
              ]
            : []),
        ]}
        onChange={(from) => put('from', { from })}
      />
      {!generated && (
        <Row>
          <Button isDisabled={picking} onPress={onPick}>
            {picking
              ? 'Looking for pieces …'
              : areas > 0
                ? 'Pick the pieces anew'
                : 'Pick the pieces of the sample'}
          </Button>
        </Row>
      )}
      {said && <p role="status">{said}</p>}
      <Tick
        name="May be rotated by 180°"
        value={faces.halfTurn}
        onChange={(halfTurn) => put('half turn', { halfTurn })}
      />
      <Tick name="May be mirrored" value={faces.mirror} onChange={(mirror) => put('mirror', { mirror })} />
      <div className="three">
        <NumberField
          label="Grain in the picture"
          unit="deg"
          value={faces.grainDeg}
          min={-360}
          max={360}
          digits={1}
          onChange={(grainDeg) => put('grain', { grainDeg })}
        />
      </div>
      {report?.timesEach && (
        <Quiet>
          {faces.from === 'areas'
            ? `Each area is shown ${printNumber(report.timesEach, 1)} times in the repeat.`
            : `The pieces take ${printNumber(report.timesEach, 1)} times the area of the picture.`}
        </Quiet>
      )}
    </Block>
  );
}
