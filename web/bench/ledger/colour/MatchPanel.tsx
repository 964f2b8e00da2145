import { useState } from 'react';
import { leadingPicture, type Recipe, type RenderReport } from '@jossel/core/finish';
import { linearToLab } from '@jossel/core/colour';
import { COLOUR_RULES, type ColourSettings, type ColourRule } from '@jossel/core/light';
import { figure, printNumber, type Figure } from '@jossel/core/units';
import { api, sentenceOf, type ColourReadingAnswer, type Sample } from '../../../app/api';
import { Button, OneOf, Quiet, Row, Sentence } from '../../../controls/basics';
import { Amount } from '../../../controls/amounts';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { MeterButton } from '../MeterButton';
import { useChange } from '../use-change';
import { Chip, ColourField, FigureTable, printLab } from './parts';
import { SpectralReadings } from './SpectralReadings';

const NAMES: Record<ColourRule, string> = {
  picture: 'picture',
  lrv: 'reflectance',
  colour: 'colour',
  reference: 'another finish',
};

/** What rules the colour, and how all else that is known agrees with the result. */
export function MatchPanel({
  finishId,
  recipe,
  report,
  sample,
  sizeMm,
}: {
  finishId: string;
  recipe: Recipe;
  report: RenderReport | null;
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
}) {
  const change = useChange(recipe, 'colour');
  const balanced = recipe.generated !== null || (leadingPicture(recipe)?.light.balance ?? 'none') !== 'none';
  const { ruling, lrv, colour, reference } = recipe.colour;

  function rule(way: ColourRule) {
    // What has no figure yet begins with what the repeat measures, so that nothing jumps.
    const next: Partial<ColourSettings> = { ruling: way };
    if (way === 'lrv' && !lrv) next.lrv = figure(Number((report?.lrv ?? 40).toFixed(1)), 'LRV', 'assumed');
    if (way === 'colour' && !colour)
      next.colour = {
        lab: (report?.meanLab ?? [60, 0, 0]).map((v) => Number(v.toFixed(1))) as [number, number, number],
        basis: 'assumed',
      };
    change('ruling', next);
  }
  const without = (way: 'lrv' | 'colour' | 'reference') =>
    change(`without ${way}`, { [way]: null, ...(ruling === way ? { ruling: 'picture' } : {}) });

  const nameOf = (way: ColourRule) => (way === 'picture' && recipe.generated ? 'as generated' : NAMES[way]);
  const options = COLOUR_RULES.filter((way) => way !== 'reference' || reference).map((value) => ({
    value,
    name: nameOf(value),
  }));
  return (
    <>
      <OneOf label="What governs the colour" value={ruling} options={options} onChange={rule} />
      <FigureField
        label="Light reflectance value"
        figure={lrv}
        unit="LRV"
        min={0.1}
        max={100}
        digits={1}
        onChange={(next) =>
          change('lrv', { lrv: next, ...(ruling === 'picture' && !lrv ? { ruling: 'lrv' } : {}) })
        }
        onClear={() => without('lrv')}
      />
      <ColourField
        label="Colour"
        value={colour}
        onChange={(next) =>
          change('colour', { colour: next, ...(ruling === 'picture' && !colour ? { ruling: 'colour' } : {}) })
        }
        onClear={() => without('colour')}
      />
      <MeterButton
        kind="reflectance"
        sample={sample}
        sizeMm={sizeMm}
        framed={Boolean(leadingPicture(recipe)?.preparation.frame)}
        onFigure={(f, read) =>
          change('meter', {
            lrv: f as Figure<'LRV'>,
            colour: read,
            ...(ruling === 'picture' && !balanced ? { ruling: 'lrv' } : {}),
          })
        }
      />
      <SpectralReadings
        onColour={(read) =>
          change('spectral reading', {
            colour: read,
            ...(ruling === 'picture' && !balanced ? { ruling: 'colour' } : {}),
          })
        }
      />
      <Other finishId={finishId} recipe={recipe} onTakeOut={() => without('reference')} />
      {report && report.claims.length > 0 && (
        <FigureTable aria-label="What is known of the colour">
          <thead>
            <tr>
              <th>Source</th>
              <th>LRV</th>
              <th>Difference</th>
            </tr>
          </thead>
          <tbody>
            {report.claims.map((claim) => (
              <tr key={claim.way} data-rules={claim.way === ruling ? '' : undefined}>
                <th scope="row">
                  {claim.way === 'reference' ? reference?.name : nameOf(claim.way)}
                  {claim.way === ruling ? ', governs' : ''}
                </th>
                <td>{printNumber(claim.lrv, 1)}</td>
                <td>
                  {claim.deltaE !== null
                    ? `ΔE00 ${printNumber(claim.deltaE, 1)}`
                    : `${printNumber(Math.abs(claim.lrvOff), 1) === '0' ? '' : claim.lrvOff > 0 ? '+' : '−'}${printNumber(Math.abs(claim.lrvOff), 1)} LRV`}
                </td>
              </tr>
            ))}
          </tbody>
        </FigureTable>
      )}
      {report && (
        <Quiet>
          Factors in linear light: {report.factors.map((f) => printNumber(f, 3)).join(', ')}.{' '}
          {report.clipped.high > 0.0005
            ? `${printNumber(report.clipped.high * 100, 1)} % is clipped at white.`
            : 'Nothing is clipped at white.'}
        </Quiet>
      )}
    </>
  );
}

/** Mean and spread of another finish or picture. */
function Other({ finishId, recipe, onTakeOut }: { finishId: string; recipe: Recipe; onTakeOut: () => void }) {
  const change = useChange(recipe, 'colour');
  const { reference } = recipe.colour;
  const { data: finishes } = api.useFinishesQuery({});
  const { data: samples } = api.useSamplesQuery();
  const [ofFinish] = api.useReadFinishColourMutation();
  const [ofSample] = api.useReadSampleColourMutation();
  const [said, setSaid] = useState('');
  const options = [
    ...(finishes?.items ?? [])
      .filter((f) => f.id !== finishId)
      .map((f) => ({ value: `finish ${f.id}`, name: f.name })),
    ...(samples?.items ?? []).map((s) => ({ value: `sample ${s.id}`, name: `Picture: ${s.fileName}` })),
  ];
  async function take(chosen: string) {
    const [kind, id] = chosen.split(' ') as ['finish' | 'sample', string];
    setSaid('Reading its colours …');
    try {
      const read: ColourReadingAnswer =
        kind === 'finish' ? (await ofFinish({ id, spots: [] }).unwrap()).repeat : await ofSample(id).unwrap();
      setSaid('');
      change('reference', {
        ruling: 'reference',
        reference: {
          name: options.find((o) => o.value === chosen)!.name,
          from: { kind, id },
          meanLinear: [...read.meanLinear],
          spread: [...read.spread],
          takeSpread: reference?.takeSpread ?? 0.5,
          limit: reference?.limit ?? 2,
        },
      });
    } catch (error) {
      setSaid(sentenceOf(error));
    }
  }
  const set = (next: Partial<NonNullable<typeof reference>>, dragged = false) =>
    change('reference amounts', { reference: { ...reference!, ...next } }, dragged);
  return (
    <section aria-label="Another finish or picture" style={{ display: 'grid', gap: 8 }}>
      <Choice
        label="Another finish or picture to match"
        value={reference ? `${reference.from.kind} ${reference.from.id}` : null}
        options={options}
        placeholder="none"
        onChange={(value) => void take(value)}
      />
      {said && <Sentence>{said}</Sentence>}
      {reference && (
        <>
          <Row>
            <Chip $lab={linearToLab(reference.meanLinear)} aria-hidden />
            <Quiet>Lab {printLab(linearToLab(reference.meanLinear))}</Quiet>
            <Button weight="quiet" onPress={onTakeOut}>
              Remove
            </Button>
          </Row>
          <Amount
            label="Match spread"
            labelPx={120}
            neutral={0}
            value={reference.takeSpread}
            min={0}
            max={1}
            step={0.05}
            onChange={(takeSpread) => set({ takeSpread }, true)}
          />
          <NumberField
            label="Maximum contrast gain"
            unit="×"
            value={reference.limit}
            min={1}
            max={8}
            onChange={(limit) => set({ limit })}
          />
        </>
      )}
    </section>
  );
}
