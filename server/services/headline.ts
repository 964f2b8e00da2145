import {
  leadGeometry,
  lead,
  neededSamples,
  finishSizeMm,
  STAGE_VERSIONS,
  type Measured,
  type Recipe,
} from '@jossel/core/finish';
import { basisOfColour } from '@jossel/core/light';
import { depthOf } from '@jossel/core/relief';
import { glassOf } from '@jossel/core/response';
import { hashOf } from '@jossel/core/surface';
import { weakestBasis, type Basis, type Figure } from '@jossel/core/units';
import type * as store from '../store';
import { leadOf, shapeOf } from './recipes';

/** Headline figures of finishes, as rack and schedule show them. */

/** Names what a recipe measures: it depends on the recipe, its pictures and the versions of the stages. */
export const measuredKey = (
  recipe: Recipe,
  samples: readonly store.SampleRow[],
  versions: Readonly<Record<string, number>> | null = STAGE_VERSIONS,
): string => {
  const hashes = neededSamples(recipe).map((id) => samples.find((s) => s.id === id)?.sha256);
  return hashOf('measured', recipe, hashes, versions);
};

/** Reflectance of a finish: what it measures leads, what was given stands beside it. */
export interface Reflectance {
  /** As measured; where nobody has drawn the finish yet, as given, else as received. */
  lrv: number;
  lrvMeasured: boolean;
  /** What it rests on. */
  lrvBasis: Basis;
  /** As it was typed or published; null: nothing was. */
  lrvGiven: Figure<'LRV'> | null;
  /** Of glass: share of the light that it lets through, percent; null: it is none. */
  passesPercent: number | null;
}

export const reflectanceOf = (
  recipe: Recipe,
  sample: Pick<store.SampleRow, 'lrv'>,
  measured: Measured | undefined,
): Reflectance => ({
  lrv: measured?.lrv ?? recipe.colour.lrv?.value ?? sample.lrv,
  lrvMeasured: measured !== undefined,
  lrvBasis:
    recipe.response.base.kind === 'glass'
      ? recipe.response.base.lightPercent.basis
      : basisOfColour(recipe.colour, lead(recipe).light),
  lrvGiven: recipe.colour.lrv,
  passesPercent:
    recipe.response.base.kind === 'glass' ? 100 * glassOf(recipe.response.base).transmitted : null,
});

/** Headline figures, from recipe and leading sample alone; no pixel is touched. Null: there is no picture yet. */
export function headlineOf(
  recipe: Recipe | undefined,
  samples: readonly store.SampleRow[],
  measured: ReadonlyMap<string, Measured>,
) {
  const sample = leadOf(recipe, samples);
  if (!recipe || !sample || recipe.repeat.from.length === 0) return null;
  const { size } = leadGeometry(recipe, shapeOf(sample));
  return {
    repeatMm: finishSizeMm(recipe, shapeOf(sample)),
    sizeBasis: weakestBasis(size.width.basis, size.height.basis),
    ...reflectanceOf(recipe, sample, measured.get(measuredKey(recipe, samples))),
    glossGu: recipe.response.glossGu.value,
    depthMm: depthOf(recipe.relief),
    supplier: sample.supplier,
    line: sample.line,
    code: sample.code,
  };
}
