import type { BrushedReport, BrushedSettings, ResponseSettings } from '@jossel/core/response';
import { figure, printNumber } from '@jossel/core/units';
import { Amount } from '../../../controls/amounts';
import { Button, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import type { ChangeResponse } from './change';

/** A surface that is brushed one way: a second reading, across the scratches. */
export function BrushedBlock({
  response,
  report,
  change,
}: {
  response: ResponseSettings;
  report: BrushedReport | null;
  change: ChangeResponse;
}) {
  const { brushed } = response;
  const put = (what: string, next: Partial<BrushedSettings>) =>
    change(`brushed ${what}`, { brushed: { ...brushed!, ...next } });
  return (
    <Block>
      <h3>Brushed</h3>
      {!brushed && (
        <div>
          <Button
            onPress={() =>
              change('brushed added', {
                brushed: {
                  acrossGu: figure(Math.round(response.glossGu.value / 2), 'GU', 'assumed'),
                  alongDeg: 0,
                },
              })
            }
          >
            Brushed one way
          </Button>
        </div>
      )}
      {brushed && (
        <>
          <FigureField
            label="Gloss across the scratches"
            figure={brushed.acrossGu}
            unit="GU"
            min={0}
            max={2000}
            digits={1}
            onChange={(acrossGu) => put('gloss', { acrossGu })}
          />
          <Amount
            label="Scratches run at"
            labelPx={104}
            unit="°"
            value={brushed.alongDeg}
            min={-90}
            max={90}
            step={1}
            digits={0}
            neutral={0}
            onChange={(alongDeg) => put('direction', { alongDeg })}
          />
          {report && (
            <Quiet>
              Facets tilt by α {printNumber(report.alphaAlong, 3)} along and{' '}
              {printNumber(report.alphaAcross, 3)} across the scratches; a meter then reads{' '}
              {printNumber(report.readsAlongGu, 0)} and {printNumber(report.readsAcrossGu, 0)} GU. The gloss
              at 60° above is read along them.
            </Quiet>
          )}
          <div>
            <Button onPress={() => change('brushed removed', { brushed: undefined })}>Not brushed</Button>
          </div>
        </>
      )}
    </Block>
  );
}
