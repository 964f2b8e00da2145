import { lazy, Suspense } from 'react';
import { leadingPicture, type Recipe, type RenderReport } from '@jossel/core/finish';
import { f0OfIndex } from '@jossel/core/optics';
import {
  clearPane,
  GLOSS_WORDS,
  glossOfRoughness,
  glossOfWord,
  glossWordOf,
  highestGloss,
  type GlossWord,
  type ReflectingSurface,
} from '@jossel/core/response';
import { figure, printNumber, type Figure } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { OneOf, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';
import { Choice } from '../../../controls/choice';
import { MeterButton } from '../MeterButton';
import { partsOf } from '../parts';
import { BrushedBlock } from './BrushedBlock';
import { ClothBlock } from './ClothBlock';
import { CoatBlock } from './CoatBlock';
import { GlassBlock } from './GlassBlock';
import { HazeBlock } from './HazeBlock';
import { BaseMetalBlock, PartMetalBlock } from './MetalBlock';
import { PartGlossBlock } from './PartGlossBlock';
import { VariationBlock } from './VariationBlock';
import { useChange } from '../use-change';

const GlossChart = lazy(async () => ({ default: (await import('../charts')).GlossChart }));

/** Gloss in gloss units, that of parts, what it varies with, and what it comes to as roughness. */
export function ResponseSection({
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
  const change = useChange(recipe, 'response');
  const { response } = recipe;
  const { base } = response;
  const index = base.kind === 'metal' ? null : base.index;
  const parts = partsOf(recipe);
  return (
    <>
      <OneOf
        label="Kind of surface"
        value={base.kind}
        options={[
          { value: 'dielectric', name: 'not metal' },
          { value: 'metal', name: 'bare metal' },
          { value: 'glass', name: 'glass' },
        ]}
        onChange={(kind) => change('metal', { base: BEGINS_AS[kind] })}
      />
      {base.kind === 'metal' && <BaseMetalBlock response={response} report={report} change={change} />}
      {base.kind === 'glass' && <GlassBlock glass={base} report={report?.glass ?? null} change={change} />}
      <FigureField
        label="Gloss at 60°"
        figure={response.glossGu}
        unit="GU"
        min={0}
        max={2000}
        digits={1}
        onChange={(glossGu) => change('gloss', { glossGu })}
      />
      <WordChoice gu={response.glossGu.value} onChange={(glossGu) => change('gloss', { glossGu })} />
      <MeterButton
        kind="gloss"
        sample={sample}
        sizeMm={sizeMm}
        framed={Boolean(leadingPicture(recipe)?.preparation.frame)}
        onFigure={(f, _, others) =>
          change('gloss', {
            glossGu: f as Figure<'GU'>,
            ...(others ? { gloss20Gu: others[20], gloss85Gu: others[85] } : {}),
          })
        }
      />
      {index && (
        <FigureField
          label="Refractive index"
          figure={index}
          unit="1"
          min={1}
          max={4}
          digits={3}
          onChange={(next) => base.kind !== 'metal' && change('index', { base: { ...base, index: next } })}
        />
      )}
      <HazeBlock
        response={response}
        haze={report?.haze ?? null}
        expectedGu={(angle) =>
          report && glossOfRoughness(report.roughness, surfaceOf(base, report.lrv), angle)
        }
        change={change}
      />
      <PartGlossBlock
        response={response}
        // Joints of a layout have their gloss there.
        parts={parts.filter(({ id }) => !(recipe.layout && id === 'joint'))}
        change={change}
      />
      {base.kind !== 'glass' && (
        <>
          <PartMetalBlock response={response} parts={parts} change={change} />
          <BrushedBlock response={response} report={report?.brushed ?? null} change={change} />
          <CoatBlock response={response} report={report?.coat ?? null} change={change} />
        </>
      )}
      {base.kind === 'dielectric' && <ClothBlock response={response} change={change} />}
      <VariationBlock finishId={finishId} response={response} change={change} />
      {report?.glossSpread && <Spread of={report.glossSpread} asked={response.glossGu.value} />}
      {report && (
        <Quiet>
          Roughness {printNumber(report.roughness, 3)} (α {printNumber(report.roughness ** 2, 4)}), by a
          simulated 60° meter after ISO 2813.{' '}
          {index
            ? `Reflects ${printNumber(f0OfIndex(index.value) * 100, 1)} % at normal incidence; perfectly smooth, it would read ${printNumber(highestGloss({ kind: 'dielectric', index: index.value }), 0)} GU.`
            : 'The colour is the metal’s reflectance.'}
        </Quiet>
      )}
    </>
  );
}

/** What a surface of another kind begins as. */
const BEGINS_AS: Record<Recipe['response']['base']['kind'], Recipe['response']['base']> = {
  dielectric: { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
  metal: { kind: 'metal' },
  glass: clearPane(),
};

/** The surface that a meter reads. */
const surfaceOf = (base: Recipe['response']['base'], lrv: number): ReflectingSurface =>
  base.kind === 'metal' ? { kind: 'metal', f0: lrv / 100 } : { kind: 'dielectric', index: base.index.value };

const NO_WORD = 'none';

/** The gloss as a word of the trade; choosing one sets the middle of its usual range. */
function WordChoice({ gu, onChange }: { gu: number; onChange: (glossGu: Figure<'GU'>) => void }) {
  const word = glossWordOf(gu);
  return (
    <Choice<GlossWord | typeof NO_WORD>
      label="In words"
      value={word ?? NO_WORD}
      options={[
        ...(word ? [] : [{ value: NO_WORD, name: 'above 100 GU' } as const]),
        ...GLOSS_WORDS.map((w) => ({
          value: w.word,
          name: `${w.word}, ${w.fromGu}–${w.toGu} GU`,
        })),
      ]}
      onChange={(next) => {
        if (next === NO_WORD || next === word) return;
        const { gu: value, toleranceGu } = glossOfWord(next);
        onChange({ ...figure(value, 'GU', 'assumed'), tolerance: toleranceGu });
      }}
    />
  );
}

/** How the gloss is spread over the repeat. */
function Spread({ of, asked }: { of: NonNullable<RenderReport['glossSpread']>; asked: number }) {
  const { meanGu, lowGu, highGu } = of;
  return (
    <>
      <Suspense fallback={null}>
        <GlossChart spread={of} asked={asked} />
      </Suspense>
      <Quiet>
        {printNumber(meanGu, 1)} GU on average over the repeat, joints and parts included; nine tenths of it
        between {printNumber(lowGu, 1)} and {printNumber(highGu, 1)} GU.
      </Quiet>
    </>
  );
}
