import { defaultRecipe, type Category, type Recipe } from '@jossel/core/finish';
import type { Closing } from '@jossel/core/repeat';
import { figure } from '@jossel/core/units';

/** What a finish of the demo studio is, and what many of them have in common. */

export interface DemoFinish {
  name: string;
  category: Category;
  file: string;
  origin: { supplier: string; line: string; code: string; batch: string; permission: string; note: string };
  shape: (recipe: Recipe) => void;
  /** Issued revisions, each with a note and what is changed in the draft after it. */
  revisions: { note: string; after?: (recipe: Recipe) => void }[];
  state?: 'checked' | 'withdrawn';
}

export const origin = (supplier: string, line: string, code: string, batch: string, note = '') => ({
  supplier,
  line,
  code,
  batch,
  permission: 'Sample box for this studio, 3 Nov 2026',
  note,
});
export const count = (modules: number, moduleMm: number, jointMm: number) =>
  ({
    count: { modules, moduleMm: figure(moduleMm, 'mm', 'published', 0.3), jointMm, ends: 'joint' },
  }) as const;
export const overall = (mm: number, tolerance: number) =>
  ({ overall: figure(mm, 'mm', 'measured', tolerance, 'Steel rule on the sample') }) as const;

/** How the two axes close, each with its overlap in mm. */
export const closing = (across: readonly [Closing, number], up: readonly [Closing, number]) => ({
  across: { closing: across[0], overlapMm: across[1] },
  up: { closing: up[0], overlapMm: up[1] },
});

export const recipeOfDemo = (
  finish: DemoFinish,
  sample: { id: string; widthPx: number; heightPx: number },
): Recipe => {
  const recipe = defaultRecipe([sample.id], finish.category, sample);
  finish.shape(recipe);
  return recipe;
};
