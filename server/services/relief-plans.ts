import {
  planProject,
  planRelief,
  projectCameraSchema,
  type ProjectCamera,
  type ReliefToPlan,
  type ReliefView,
  type SurfaceToPlan,
} from '@jossel/core/schedule';
import { hashOf } from '@jossel/core/surface';
import { Problem } from '../problem';
import * as store from '../store';
import type { Context } from './context';
import { measuredKey } from './headline';
import { computed } from './looks';
import { showProject } from './projects';
import { recipeOf, samplesOf } from './recipes';

/** What the relief of finishes needs on surfaces that a camera sees. */

/** What meshes of every spacing leave out of the relief of a finish; computed once for each state of its recipe. */
export async function reliefDetail(
  context: Context,
  id: string,
  revision: string | undefined,
): Promise<ReliefToPlan> {
  const { recipe, issued } = await recipeOf(context, id, revision);
  const rows = await samplesOf(context, recipe);
  const key = hashOf('relief detail 1', measuredKey(recipe, rows, issued?.versions));
  const kept = await store.keptReliefDetail(context.database, key);
  if (kept) return kept;
  const detail = await computed(context, id, revision, (order) => context.pool.reliefDetail(order));
  await store.keepReliefDetail(context.database, key, detail);
  return detail;
}

/** What the relief of a finish needs on a surface that is seen from a distance. */
export const reliefPlan = async (
  context: Context,
  id: string,
  { revision, ...view }: ReliefView & { revision?: string | undefined },
) => planRelief(await reliefDetail(context, id, revision), view);

type Shown = Awaited<ReturnType<typeof showProject>>['rooms'][number]['surfaces'][number];

/**
 * Plans the relief of all surfaces of a project for one camera.
 * @param camera null: that of the project
 * @returns the plan; null where no surface has a finish; and which surfaces are left out, with the reason
 */
export async function projectPlan(context: Context, projectId: string, camera: ProjectCamera | null) {
  const project = await showProject(context, projectId);
  const planned: SurfaceToPlan[] = [];
  const leftOut: { id: string; name: string; why: string }[] = [];
  for (const surface of project.rooms.flatMap((room) => room.surfaces)) {
    const relief = await reliefOf(context, surface);
    if (typeof relief === 'string') leftOut.push({ id: surface.id, name: surface.name, why: relief });
    else planned.push({ ...surface, relief });
  }
  const plan =
    planned.length > 0
      ? planProject(planned, camera ?? projectCameraSchema.parse(project.camera ?? {}))
      : null;
  return { plan, leftOut };
}

/** The relief of what lies on a surface; or why there is none. */
async function reliefOf(context: Context, { finish }: Shown): Promise<ReliefToPlan | string> {
  if (!finish?.revision) return 'No finish lies on it.';
  try {
    return await reliefDetail(context, finish.id, finish.revision);
  } catch (error) {
    if (error instanceof Problem) return error.detail;
    throw error;
  }
}
