import type { CoatReport, CoatSettings, CoatTint, ResponseSettings } from '@jossel/core/response';
import { figure, printNumber } from '@jossel/core/units';
import { Tick } from '../../../controls/amounts';
import { Button, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Block } from '../size/Block';
import { HueAmounts } from './HueAmounts';

/** What the coat absorbs: a varnish that yellows, a stain in the lacquer. */
function CoatTintFields({
  tint,
  onChange,
}: {
  tint: CoatTint | undefined;
  onChange: (what: string, tint: CoatTint | undefined) => void;
}) {
  if (!tint)
    return (
      <div>
        <Button
          onPress={() =>
            onChange('tinted', {
              lightPercent: figure(90, '%', 'assumed'),
              ofThicknessMm: figure(0.1, 'mm', 'assumed'),
              thicknessMm: figure(0.1, 'mm', 'assumed'),
              hue: [0, 10],
            })
          }
        >
          The coat is tinted
        </Button>
      </div>
    );
  const put = (what: string, next: Partial<CoatTint>) => onChange(what, { ...tint, ...next });
  return (
    <>
      <FigureField
        label="Thickness of the coat"
        figure={tint.thicknessMm}
        unit="mm"
        min={0.001}
        max={50}
        digits={3}
        onChange={(thicknessMm) => put('thickness', { thicknessMm })}
      />
      <FigureField
        label="Light that passes it once"
        figure={tint.lightPercent}
        unit="%"
        min={0.1}
        max={100}
        digits={1}
        onChange={(lightPercent) => put('light', { lightPercent })}
      />
      <FigureField
        label="at a thickness of"
        figure={tint.ofThicknessMm}
        unit="mm"
        min={0.001}
        max={50}
        digits={3}
        onChange={(ofThicknessMm) => put('given thickness', { ofThicknessMm })}
      />
      <HueAmounts hue={tint.hue} onChange={(hue) => put('hue', { hue })} />
      <div>
        <Button onPress={() => onChange('clear', undefined)}>The coat is clear</Button>
      </div>
    </>
  );
}

/** A clear coat over the finish. */
export function CoatBlock({
  response,
  report,
  change,
}: {
  response: ResponseSettings;
  report: CoatReport | null;
  change: (what: string, next: Partial<ResponseSettings>) => void;
}) {
  const { coat } = response;
  const put = (what: string, next: Partial<CoatSettings>) =>
    change(`coat ${what}`, { coat: { ...coat!, ...next } });
  return (
    <Block>
      <h3>Clear coat</h3>
      {!coat && (
        <div>
          <Button
            onPress={() =>
              change('coat added', {
                coat: {
                  glossGu: figure(70, 'GU', 'assumed'),
                  index: figure(1.5, '1', 'assumed'),
                  levels: true,
                },
              })
            }
          >
            Add a clear coat
          </Button>
        </div>
      )}
      {coat && (
        <>
          <FigureField
            label="Gloss of the coat at 60°"
            figure={coat.glossGu}
            unit="GU"
            min={0}
            max={200}
            digits={1}
            onChange={(glossGu) => put('gloss', { glossGu })}
          />
          <FigureField
            label="Index of the coat"
            figure={coat.index}
            unit="1"
            min={1.01}
            max={2.5}
            digits={3}
            onChange={(index) => put('index', { index })}
          />
          <Tick
            name="levels the relief"
            value={coat.levels}
            onChange={(levels) => put('levels', { levels })}
          />
          <CoatTintFields tint={coat.tint} onChange={(what, tint) => put(what, { tint })} />
          {report && (
            <Quiet>
              A meter reads {printNumber(report.readsGu, 0)} GU of coat and surface together; the gloss at 60°
              above is that of the surface below it.
            </Quiet>
          )}
          <div>
            <Button onPress={() => change('coat removed', { coat: undefined })}>Remove the coat</Button>
          </div>
        </>
      )}
    </Block>
  );
}
