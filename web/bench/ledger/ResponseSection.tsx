import { leadingPicture, type Recipe, type RenderReport } from '@jossel/core/finish';
import { f0OfIndex, highestGloss } from '@jossel/core/response';
import { figure, printNumber, type Figure } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { OneOf, Quiet } from '../../controls/basics';
import { FigureField } from '../../controls/figure-field';
import { MeterButton } from './MeterButton';
import { useChange } from './use-change';

/** Gloss in gloss units, and what it comes to as roughness. */
export function ResponseSection({
  recipe,
  report,
  sample,
  sizeMm,
}: {
  recipe: Recipe;
  report: RenderReport | null;
  sample: Sample | undefined;
  sizeMm: { width: number; height: number } | null;
}) {
  const change = useChange(recipe, 'response');
  const { response } = recipe;
  const { base } = response;
  const index = base.kind === 'dielectric' ? base.index : null;
  return (
    <>
      <OneOf
        label="Kind of surface"
        value={base.kind === 'metal' ? 'metal' : 'other'}
        options={[
          { value: 'other', name: 'not metal' },
          { value: 'metal', name: 'bare metal' },
        ]}
        onChange={(kind) =>
          change('metal', {
            base:
              kind === 'metal'
                ? { kind: 'metal' }
                : { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
          })
        }
      />
      <FigureField
        label="Gloss at 60°"
        figure={response.glossGu}
        unit="GU"
        min={0}
        max={2000}
        digits={1}
        onChange={(glossGu) => change('gloss', { glossGu })}
      />
      <MeterButton
        kind="gloss"
        sample={sample}
        sizeMm={sizeMm}
        framed={Boolean(leadingPicture(recipe)?.preparation.frame)}
        onFigure={(f) => change('gloss', { glossGu: f as Figure<'GU'> })}
      />
      {index && (
        <FigureField
          label="Refractive index"
          figure={index}
          unit="1"
          min={1}
          max={4}
          digits={3}
          onChange={(next) => change('index', { base: { kind: 'dielectric', index: next } })}
        />
      )}
      {report && (
        <Quiet>
          Roughness {printNumber(report.roughness, 3)} (α {printNumber(report.roughness ** 2, 4)}), by a
          simulated 60° meter after ISO 2813.{' '}
          {index
            ? `Reflects ${printNumber(f0OfIndex(index.value) * 100, 1)} % head-on; perfectly smooth, it would read ${printNumber(highestGloss({ kind: 'dielectric', index: index.value }), 0)} GU.`
            : 'The colour is the metal’s reflectance.'}
        </Quiet>
      )}
    </>
  );
}
