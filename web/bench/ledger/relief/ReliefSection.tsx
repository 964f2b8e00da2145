import { useState } from 'react';
import type { FinishPieces, Recipe } from '@jossel/core/finish';
import { directionSentence, type ReliefContribution } from '@jossel/core/relief';
import type { SampleGeometry } from '@jossel/core/sources';
import { printLength, printNumber } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { OneOf, Quiet } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';
import { benchSlice } from '../../bench-slice';
import type { Drawn } from '../../../workers/render.worker';
import { useChange, useChangeRecipe } from '../use-change';
import { AddContribution } from './AddContribution';
import { BuildUp } from './BuildUp';
import { ContributionPanel } from './ContributionPanel';
import { MeasureStraightened } from './MeasureStraightened';
import { PlanPanel } from './PlanPanel';
import { partsOf } from '../parts';

/** Relief as what it is built up of, which level stays in place, and which way it goes. */
export function ReliefSection({
  recipe,
  drawn,
  pieces,
  sample,
  geometry,
}: {
  recipe: Recipe;
  drawn: Drawn | null;
  pieces: FinishPieces | null;
  /** The leading picture, and its frame and size; null: there is none, or it cannot be. */
  sample: Sample | null;
  geometry: SampleGeometry | null;
}) {
  const change = useChange(recipe, 'relief');
  const report = drawn?.report ?? null;
  const putRecipe = useChangeRecipe();
  const dispatch = useAppDispatch();
  const units = useAppSelector((s) => s.settings.units);
  const alone = useAppSelector((s) => s.bench.alone);
  const { relief } = recipe;
  const { contributions } = relief;
  const [open, setOpen] = useState<string | null>(contributions[0]?.id ?? null);
  const parts = partsOf(recipe);
  const names = new Map(parts.map(({ id, name }) => [id, name]));
  const k = contributions.findIndex((c) => c.id === open);
  const put = (what: string, next: ReliefContribution[], dragged = false) =>
    change(what, { contributions: next }, dragged);
  return (
    <>
      <BuildUp
        contributions={contributions}
        layout={recipe.layout}
        open={open}
        alone={alone}
        onOpen={setOpen}
        onOrder={(next) => put('order', next)}
      />
      <AddContribution
        recipe={recipe}
        pieces={pieces}
        usedMm={geometry && geometry.usedMm}
        parts={parts}
        onAdd={(added) => {
          put(`add ${added.kind}`, [...contributions, added]);
          setOpen(added.id);
        }}
      />
      {contributions[k] && (
        <ContributionPanel
          key={contributions[k].id}
          contribution={contributions[k]}
          parts={parts}
          measuredAgain={
            contributions[k].kind === 'measured' && sample && geometry ? (
              <MeasureStraightened
                recipe={recipe}
                contribution={contributions[k]}
                sample={sample}
                geometry={geometry}
              />
            ) : null
          }
          isAlone={alone === open}
          onAlone={(on) => dispatch(benchSlice.actions.changed({ alone: on ? open : null }))}
          onChange={(what, next, dragged) =>
            put(
              `${next.id} ${what}`,
              contributions.map((c, n) => (n === k ? next : c)),
              dragged,
            )
          }
          onRemove={() => {
            put(
              'remove',
              contributions.filter((_, n) => n !== k),
            );
            if (alone === open) dispatch(benchSlice.actions.changed({ alone: null }));
            setOpen(contributions[k - 1]?.id ?? contributions[k + 1]?.id ?? null);
          }}
        />
      )}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr auto', alignItems: 'end', gap: 8 }}>
        <NumberField
          label="Occlusion within"
          unit="mm"
          value={relief.occlusionMm ?? null}
          min={0.1}
          max={10000}
          onChange={(occlusionMm) => change('occlusion', { occlusionMm })}
          onClear={() => {
            const { occlusionMm: _, ...rest } = relief;
            putRecipe('relief occlusion', { ...recipe, relief: rest });
          }}
        />
        <div style={{ display: 'grid', gap: 3 }}>
          <Quiet style={{ fontSize: 12 }}>Stays in place</Quiet>
          <OneOf
            label="Which level stays in place"
            value={relief.zero}
            options={[
              { value: 'top', name: 'top' },
              { value: 'mean', name: 'mean' },
              { value: 'bottom', name: 'foot' },
            ]}
            onChange={(zero) => change('zero', { zero })}
          />
        </div>
      </div>
      {report && (
        <>
          {report.directions.map((direction) => (
            <span key={JSON.stringify(direction.of)}>
              {directionSentence(direction, (id) => names.get(id) ?? id)}
            </span>
          ))}
          <Quiet>
            From {printLength(report.heightMm.min, units, 3)} to {printLength(report.heightMm.max, units, 3)};
            slopes {printNumber(report.slopeDeg.mean, 1)}° on average, {'99\u00a0%'} below{' '}
            {printNumber(report.slopeDeg.p99, 0)}°
          </Quiet>
        </>
      )}
      {drawn && <PlanPanel drawn={drawn} />}
    </>
  );
}
