import {
  CATEGORIES,
  basisOfFinish,
  hasSource,
  leadGeometry,
  namedSamples,
  neededSamples,
  finishSizeMm,
  STAGE_VERSIONS,
  type Category,
  type Measured,
  type Recipe,
} from '@jossel/core/finish';
import { labToXyz } from '@jossel/core/colour';
import { basesIn, coloursIn, familyOf } from '@jossel/core/generate';
import { depthOf } from '@jossel/core/relief';
import { glassOf } from '@jossel/core/response';
import { hashOf } from '@jossel/core/surface';
import { weakestBasis, type Basis, type Figure } from '@jossel/core/units';
import * as store from '../store';
import type { Context } from './context';
import { leadOf, recipeOrFault, shapeOf } from './recipes';

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
  sample: Pick<store.SampleRow, 'lrv'> | undefined,
  measured: Measured | undefined,
): Reflectance => ({
  lrv: measured?.lrv ?? recipe.colour.lrv?.value ?? sample?.lrv ?? roughLrv(recipe),
  lrvMeasured: measured !== undefined,
  lrvBasis:
    recipe.response.base.kind === 'glass' ? recipe.response.base.lightPercent.basis : basisOfFinish(recipe),
  lrvGiven: recipe.colour.lrv,
  passesPercent:
    recipe.response.base.kind === 'glass' ? 100 * glassOf(recipe.response.base).transmitted : null,
});

function basisOfSize(recipe: Recipe, sample: store.SampleRow | undefined): Basis {
  const { generated } = recipe;
  if (generated) return weakestBasis(...basesIn(familyOf(generated.kind).settings, generated));
  if (!sample) return 'assumed';
  const { size } = leadGeometry(recipe, shapeOf(sample));
  return weakestBasis(size.width.basis, size.height.basis);
}

/** Of a generated finish that nobody has drawn yet: the mean of its colours. */
function roughLrv({ generated }: Recipe): number {
  const colours = generated ? coloursIn(familyOf(generated.kind).settings, generated) : [];
  return colours.reduce((sum, lab) => sum + (100 * labToXyz(lab)[1]) / colours.length, 0);
}

/**
 * Columns that lists show of a finish, from its recipe and its pictures; no pixel is touched. Without a picture the figures
 * are null.
 * @param measured of the studio, by their keys
 */
export function headlineColumns(
  { recipe, fault }: { recipe?: Recipe; fault: string | null },
  category: Category,
  samples: readonly store.SampleRow[],
  measured: ReadonlyMap<string, Measured>,
): store.HeadlineColumns {
  const category_words = CATEGORIES[category]?.name ?? '';
  const sample = leadOf(recipe, samples);
  if (!recipe || !hasSource(recipe) || (!sample && !recipe.generated))
    return { ...NO_FIGURES, fault, category_words };
  const repeatMm = finishSizeMm(recipe, sample && shapeOf(sample));
  const measured_key = measuredKey(recipe, samples);
  const reflectance = reflectanceOf(recipe, sample, measured.get(measured_key));
  return {
    headline_edition: EDITION,
    fault,
    category_words,
    lead_sample_id: sample?.id ?? null,
    measured_key,
    repeat_width_mm: repeatMm.width,
    repeat_height_mm: repeatMm.height,
    size_basis: basisOfSize(recipe, sample),
    lrv: reflectance.lrv,
    lrv_measured: reflectance.lrvMeasured,
    lrv_basis: reflectance.lrvBasis,
    lrv_given: reflectance.lrvGiven,
    passes_percent: reflectance.passesPercent,
    gloss_gu: recipe.response.glossGu.value,
    depth_mm: depthOf(recipe.relief),
  };
}

/** Changes whenever the columns of an unchanged finish would come out otherwise: they are then filled again at the next start. */
const EDITION = hashOf('headline 2', STAGE_VERSIONS);

const NO_FIGURES = {
  headline_edition: EDITION,
  lead_sample_id: null,
  measured_key: null,
  repeat_width_mm: null,
  repeat_height_mm: null,
  size_basis: null,
  lrv: null,
  lrv_measured: false,
  lrv_basis: null,
  lrv_given: null,
  passes_percent: null,
  gloss_gu: null,
  depth_mm: null,
};

/** Columns of a recipe that is about to be saved, with the pictures that it names. */
export async function headlineOf(
  { database }: Context,
  recipe: Recipe,
  category: Category,
  samples: readonly store.SampleRow[],
): Promise<store.HeadlineColumns> {
  const measured = await store.measuredOf(database, [measuredKey(recipe, samples)]);
  return headlineColumns({ recipe, fault: null }, category, samples, measured);
}

/** Headline figures as they are listed; null: it has no source yet. */
export const listedHeadline = (row: store.ListedFinish) =>
  row.repeat_width_mm === null
    ? null
    : {
        repeatMm: { width: row.repeat_width_mm!, height: row.repeat_height_mm! },
        sizeBasis: row.size_basis!,
        lrv: row.lrv!,
        lrvMeasured: row.lrv_measured,
        lrvBasis: row.lrv_basis!,
        lrvGiven: row.lrv_given,
        passesPercent: row.passes_percent,
        glossGu: row.gloss_gu!,
        depthMm: row.depth_mm!,
        supplier: row.supplier ?? '',
        line: row.line ?? '',
        code: row.code ?? '',
      };

const AT_ONCE = 200;

/** Fills the columns of finishes that have none yet, or those of an older edition of the code. @returns how many */
export async function fillHeadlines({ database }: Pick<Context, 'database'>): Promise<number> {
  for (let filled = 0; ;) {
    const rows = await store.staleHeadlines(database, EDITION, AT_ONCE);
    if (rows.length === 0) return filled;
    const read = rows.map((row) => recipeOrFault(row.draft, `The draft of ${row.name}`));
    const recipes = read.flatMap(({ recipe }) => recipe ?? []);
    const samples = await store.getSamples(database, recipes.flatMap(namedSamples));
    const measured = await store.measuredOf(
      database,
      recipes.map((recipe) => measuredKey(recipe, samples)),
    );
    for (const [i, row] of rows.entries())
      await store.writeHeadline(
        database,
        row.id,
        row.version,
        headlineColumns(read[i]!, row.category as Category, samples, measured),
      );
    await store.refreshOriginWords(
      database,
      rows.map(({ id }) => id),
    );
    filled += rows.length;
  }
}
