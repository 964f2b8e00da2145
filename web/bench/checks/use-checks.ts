import { useMemo } from 'react';
import {
  checkPermission,
  checkPieces,
  leadGeometry,
  leadingPicture,
  repeatGeometry,
  type FinishPieces,
  type Recipe,
} from '@jossel/core/finish';
import { checkStructureKept } from '@jossel/core/repeat';
import { byWeight, isRefusal, type Check } from '@jossel/core/surface';
import type { Sample } from '../../app/api';
import { infoOf, renderWorker, type Drawing } from '../use-drawn';
import { useLatest } from '../use-sample';
import type { StructureSearch } from '../use-structure';

/** What does not hold of the finish in hand. */
export interface OpenChecks {
  /** The weightiest first; null: nothing is drawn yet. */
  checks: readonly Check[] | null;
  /** They speak of the picture before the last change. */
  stale: boolean;
  /** Why the last change could not be drawn; empty: it could. */
  sentence: string;
  /** The setting that is about, as a path in the recipe; none: none alone. */
  where?: string | undefined;
}

/** Width of the repeat at which colourways are looked at for clipping. */
const WAYS_PX = 128;

/** Checks of the stages, with those that only the interface can make: permission, colourways, a structure that is cut. */
export function useChecks(
  recipe: Recipe,
  samples: readonly Sample[],
  drawing: Drawing,
  search: StructureSearch,
  pieces: FinishPieces | null,
  sentence: string,
): OpenChecks {
  const { drawn, working } = drawing;
  const current = drawn?.recipe === recipe;
  const hasWays = recipe.colour.ways.length > 0;
  const ways = useLatest(
    hasWays && current && !sentence ? JSON.stringify([recipe.sources, recipe.repeat, recipe.colour]) : null,
    () => renderWorker().checkColourways(recipe, samples.map(infoOf), WAYS_PX),
  );
  const found = search.found;
  const around = useMemo(() => {
    const rights = samples.map((s) => ({ id: s.id, fileName: s.fileName, permission: s.origin.permission }));
    // What is broken is said once: by the pieces themselves where they are known.
    const broken = pieces ? checkPieces(pieces, recipe) : structureCut(recipe, samples, found);
    return [...checkPermission(recipe, rights), ...broken];
  }, [recipe, samples, found, pieces]);
  const stages = drawn?.report.checks;
  const coloured = hasWays ? ways.value : null;
  const checks = useMemo(
    () => (stages ? byWeight([...stages, ...(coloured ?? []), ...around]) : null),
    [stages, coloured, around],
  );
  const stale = drawn !== null && !current && (working !== null || sentence !== '');
  const where = sentence === drawing.sentence ? drawing.where : undefined;
  return useMemo(() => ({ checks, stale, sentence, where }), [checks, stale, sentence, where]);
}

function structureCut(
  recipe: Recipe,
  samples: readonly Sample[],
  found: StructureSearch['found'],
): readonly Check[] {
  const sample = samples.find((s) => s.id === leadingPicture(recipe)?.sampleId);
  if (!found || !sample) return [];
  try {
    const { size } = leadGeometry(recipe, sample);
    const plan = repeatGeometry(recipe, sample);
    return checkStructureKept(recipe.repeat, plan, found, { width: size.width.mm, height: size.height.mm });
  } catch (error) {
    // What is refused is said by the drawing.
    if (isRefusal(error)) return [];
    throw error;
  }
}
