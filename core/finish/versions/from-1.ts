/** A recipe of a former version, as it was stored. Steps from one version to the next never change once they are issued. */
export type StoredRecipe = Readonly<Record<string, unknown>>;

type OldAxis = { by: 'overall'; overallMm: unknown } | { by: 'count' } | { by: 'follows' };

/** Version 1 knew one way per axis; in version 2 several can stand side by side, and that one rules. */
export function from1(recipe: StoredRecipe): StoredRecipe {
  const old = (recipe['size'] ?? {}) as { across?: OldAxis; up?: OldAxis };
  const of = (axis: OldAxis | undefined) => {
    const { by, ...count } = axis ?? { by: 'follows' as const };
    return {
      by,
      overall: axis?.by === 'overall' ? axis.overallMm : null,
      count: axis?.by === 'count' ? count : null,
    };
  };
  const [across, up] = [of(old.across), of(old.up)];
  return {
    ...recipe,
    schema: 'jossel.finish/2',
    source: { ...(recipe['source'] as object), maps: [] },
    sample: { bowLines: [], frame: null, areas: [], used: null, keepOuts: [], holdLines: [], parts: [] },
    size: {
      ruling: { across: across.by, up: up.by },
      overall: { across: across.overall, up: up.overall },
      count: { across: across.count, up: up.count },
      structure: { across: null, up: null },
      lines: [],
      resolution: null,
      card: null,
    },
  };
}
