import { neededSamples, withoutPermission, type Recipe } from '@jossel/core/finish';
import { Problem } from '../problem';
import * as store from '../store';
import type { Context } from './context';

/**
 * Every picture that a finish is computed from, maps of its set included, needs a permission before the finish leaves
 * the studio.
 * @throws Problem that names the first picture without one
 */
export async function refuseWithoutPermission(
  { database }: Context,
  finishName: string,
  recipe: Recipe,
): Promise<void> {
  const samples = await store.getSamples(database, neededSamples(recipe));
  const [bare] = withoutPermission(
    recipe,
    samples.map((s) => ({ id: s.id, fileName: s.file_name, permission: s.permission })),
  );
  if (bare)
    throw new Problem(
      409,
      'Permission missing',
      `${finishName}: the sample "${bare.fileName}" has no permission to use. Enter it under Sample, for instance "sample box, 3 Nov 2026".`,
    );
}
