import type { ProjectPlan } from '@jossel/core/schedule';
import type { Project } from '../project-api';

/** A finish as it goes into a package for one mesh. */
export interface MeshItem {
  finishId: string;
  revision: string;
  way?: string;
  /** Relief of longer waves is the mesh's; none: all is the normals'. */
  splitMm?: number;
}

const SPLIT_DIGITS = 3;

/** What goes into a package for the meshes of a plan: every finish once for each way in which its relief is shared. */
export function itemsOf(project: Project, plan: ProjectPlan): MeshItem[] {
  const items = new Map<string, MeshItem>();
  const surfaces = project.rooms.flatMap((room) => room.surfaces);
  for (const { id, zones } of plan.surfaces) {
    const finish = surfaces.find((s) => s.id === id)?.finish;
    if (!finish) continue;
    for (const { splitMm } of zones) {
      const item: MeshItem = {
        finishId: finish.id,
        revision: finish.revision,
        ...(finish.way ? { way: finish.way.id } : {}),
        ...(splitMm === null ? {} : { splitMm: Number(splitMm.toPrecision(SPLIT_DIGITS)) }),
      };
      items.set(JSON.stringify(item), item);
    }
  }
  return [...items.values()];
}
